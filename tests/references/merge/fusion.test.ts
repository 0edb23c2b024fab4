/**
 * Exposure fusion against OpenCV's MergeMertens (python3-opencv 4.6; Mertens, Kautz, Van Reeth 2007) with the same weights, on
 * encoded values. Tolerance 1e-3 RMS, as set for the product; 16-bit output alone costs 4e-6.
 */
import { join } from "node:path";
import { byDay } from "../../support/night";
import { runMarsh, runPython, runSupport, temporaryFolder } from "../../support/python";

const COMPARE = `
import cv2, tifffile, json, sys, numpy as np
files, ours = sys.argv[1:-1], tifffile.imread(sys.argv[-1]).astype(np.float64) / 65535
frames = [cv2.imread(f)[..., ::-1].copy() for f in files]
theirs = np.clip(cv2.createMergeMertens(1, 1, 1).process(frames), 0, 1)
d = ours - theirs
print(json.dumps({'rms': float(np.sqrt((d * d).mean())), 'worst': float(abs(d).max()), 'shape': list(ours.shape)}))
`;

it.each(
  byDay(
    [
      ["three frames", ["doorway-2.jpg", "doorway-3.jpg", "doorway-4.jpg"]],
      ["five frames of the demo", ["doorway-1.jpg", "doorway-2.jpg", "doorway-3.jpg", "doorway-4.jpg", "doorway-5.jpg"]],
    ] as [string, string[]][],
    2,
  ),
)("%s agree to 1e-3 RMS", (_, names) => {
  const folder = temporaryFolder();
  const files = names.map((n) => join("demo/doorway", n));
  const result = runMarsh([
    "merge",
    "fusion",
    ...files,
    "-o",
    join(folder, "fusion.tif"),
    "--no-register",
    "--no-crop",
    "--weights",
    "1,1,1",
    "--ghosts",
    "off",
    "--quiet",
    "--json",
  ]);
  expect(JSON.parse(result.out)).toMatchObject({ version: 2, method: "fusion", width: 2496, height: 1664, crop: { x: 0, y: 0, width: 2496, height: 1664 } });
  const compared = runPython<{ rms: number; worst: number; shape: number[] }>(COMPARE, [...files, join(folder, "fusion.tif")]);
  process.stdout.write(`fusion against MergeMertens: rms ${compared.rms.toExponential(2)}, worst ${compared.worst.toExponential(2)}\n`);
  expect(compared.shape).toEqual([1664, 2496, 3]);
  expect(compared.rms).toBeLessThanOrEqual(1e-3);
});

const DEMO = [1, 2, 3, 4, 5].map((k) => `demo/doorway/doorway-${k}.jpg`);
const bracket = (seed: number) => runSupport<{ files: string[] }>("brackets.py", ["make", temporaryFolder(), String(seed)]).files;

it.each(
  byDay(
    [
      ["a simulated bracket of five", () => bracket(1)],
      ["the demo", () => DEMO],
      ["a simulated bracket of four", () => bracket(3)],
    ] as [string, () => string[]][],
    3,
  ),
)("with its own weights it keeps more of the frames' structure than OpenCV's with theirs, on %s", (_, frames) => {
  const files = frames();
  const out = join(temporaryFolder(), "own.tif");
  const result = runMarsh(["merge", "fusion", ...files, "-o", out, "--no-register", "--no-crop", "--ghosts", "off", "--quiet"]);
  expect(result.err).toBe("");
  const score = runSupport<{ ours: number; theirs: number }>("mefssim.py", [out, ...files]);
  process.stdout.write(`fusion, MEF-SSIM: ${score.ours.toFixed(4)}, OpenCV ${score.theirs.toFixed(4)}\n`);
  expect(score.ours).toBeGreaterThan(score.theirs);
});
