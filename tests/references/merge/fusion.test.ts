/**
 * Exposure fusion against OpenCV's MergeMertens (python3-opencv 4.6; Mertens, Kautz, Van Reeth 2007) with the same weights, on
 * encoded values. Tolerance 1e-3 RMS, as set for the product; 16-bit output alone costs 4e-6.
 */
import { join } from "node:path";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const COMPARE = `
import cv2, tifffile, json, sys, numpy as np
files, ours = sys.argv[1:-1], tifffile.imread(sys.argv[-1]).astype(np.float64) / 65535
frames = [cv2.imread(f)[..., ::-1].copy() for f in files]
theirs = np.clip(cv2.createMergeMertens(1, 1, 1).process(frames), 0, 1)
d = ours - theirs
print(json.dumps({'rms': float(np.sqrt((d * d).mean())), 'worst': float(abs(d).max()), 'shape': list(ours.shape)}))
`;

it.each([
  ["five frames of the demo", ["doorway-1.jpg", "doorway-2.jpg", "doorway-3.jpg", "doorway-4.jpg", "doorway-5.jpg"]],
  ["three frames", ["doorway-2.jpg", "doorway-3.jpg", "doorway-4.jpg"]],
])("%s agree to 1e-3 RMS", (_, names) => {
  const folder = temporaryFolder();
  const files = names.map((n) => join("public/demo/doorway", n));
  const result = runMarsh(["merge", "fusion", ...files, "-o", join(folder, "fusion.tif"), "--no-register", "--no-crop", "--quiet", "--json"]);
  expect(JSON.parse(result.out)).toMatchObject({ version: 1, method: "fusion", width: 2496, height: 1664, crop: { x: 0, y: 0, width: 2496, height: 1664 } });
  const compared = runPython<{ rms: number; worst: number; shape: number[] }>(COMPARE, [...files, join(folder, "fusion.tif")]);
  process.stdout.write(`fusion against MergeMertens: rms ${compared.rms.toExponential(2)}, worst ${compared.worst.toExponential(2)}\n`);
  expect(compared.shape).toEqual([1664, 2496, 3]);
  expect(compared.rms).toBeLessThanOrEqual(1e-3);
});
