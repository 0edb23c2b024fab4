/**
 * Brackets from a camera and a scene that stood still, under four responses (sRGB, a clear S, a logarithm, linear light), 8 bit, without a note of their exposures: nothing
 * has moved, no frame is resampled, and a fusion keeps at least as much of the frames' structure as OpenCV's. Simulated by tests/support/brackets.py from Debian's
 * photographs; MEF-SSIM as in tests/support/mefssim.py.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { byDay, NIGHT } from "../../support/night";
import { runMarsh, runPython, runSupport, temporaryFolder } from "../../support/python";

const RESPONSES = ["s_shaped", "srgb", "linear", "logarithmic"];
const SCENES = [0, 1, 2, 3, 6, 8, 10];
const brackets = RESPONSES.flatMap((response, k) => SCENES.map((_, i): [string, number] => [response, SCENES[(i + k) % SCENES.length]]));
/** Where codes are linear light most of a picture is dark, and fusion's own weights, which prefer structure to middle tones, give less of it away than they lose: known. */
const KNOWN_LOSS = { linear: 0.005 } as Record<string, number>;

/** A frame of half the size, by OpenCV's means of areas. */
const HALVE = `
import cv2, sys
p = cv2.imread(sys.argv[1]); cv2.imwrite(sys.argv[2], cv2.resize(p, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)); print("{}")
`;

interface Merged {
  width: number;
  height: number;
  crop: object;
  ghosts: { areaPx: number }[];
  frames: { registered: boolean }[];
}

it.each(byDay(brackets, 4 * SCENES.length))("%s, scene %i", (response, scene) => {
  const folder = temporaryFolder();
  const { files } = runSupport<{ files: string[] }>("brackets.py", ["make", folder, String(scene), response]);
  const merge = (method: string) => JSON.parse(runMarsh(["merge", method, ...files, "-o", join(folder, `${method}.tif`), "--json", "--quiet"]).out) as Merged;
  for (const method of NIGHT ? ["fusion", "radiance"] : ["fusion"]) {
    const merged = merge(method);
    const { width, height, ghosts } = merged;
    expect(ghosts.reduce((sum, g) => sum + g.areaPx, 0) / (width * height)).toBeLessThanOrEqual(0.001);
    // a frame that had been moved would leave a border
    expect(merged.crop).toEqual({ x: 0, y: 0, width, height });
  }
  const score = runSupport<{ ours: number; theirs: number }>("mefssim.py", [join(folder, "fusion.tif"), ...files]);
  process.stdout.write(`still, ${response}, scene ${scene}: MEF-SSIM ${score.ours.toFixed(4)}, OpenCV ${score.theirs.toFixed(4)}\n`);
  expect(score.ours).toBeGreaterThanOrEqual(score.theirs - (KNOWN_LOSS[response] ?? 0));
});

it("a frame of half the size makes a radiance merge no worse than leaving it out, and is named", () => {
  const folder = temporaryFolder();
  const made = runSupport<{ ev: number[]; files: string[] }>("brackets.py", ["make", folder, "2", "srgb"]);
  writeFileSync(join(folder, "facts.json"), JSON.stringify({ ...made, ev: made.ev.slice(0, 3), files: made.files.slice(0, 3) }));
  const [dark, middle, bright] = made.files;
  const half = join(folder, "half.png");
  runPython(HALVE, [bright, half]);
  const errorOf = (name: string, files: string[], ...more: string[]) => {
    const out = join(folder, name);
    const merged = runMarsh(["merge", "radiance", ...files, "--reference", middle, "-o", out, "--ghosts", "off", "--no-crop", "--json", "--quiet", ...more]);
    const { remarks, frames } = JSON.parse(merged.out) as { remarks: string[]; frames: { share: number }[] };
    return { error: runSupport<{ ours: number }>("brackets.py", ["score", folder, out]).ours, remarks, frames };
  };
  const without = errorOf("without.tif", [dark, middle]);
  const withHalf = errorOf("half.tif", [dark, middle, half]);
  // for the report only
  const withAll = NIGHT ? errorOf("all.tif", [dark, middle, bright]).error.toFixed(4) : "not looked at";
  process.stdout.write(
    `half size: log2 error ${withHalf.error.toFixed(4)}, left out ${without.error.toFixed(4)}, full size ${withAll}; its share ${withHalf.frames[2].share.toFixed(3)}\n`,
  );
  expect(withHalf.remarks.join()).toMatch(/Frame 3 is shown 2\.0 times as large as it was shot/);
  expect(withHalf.error).toBeLessThanOrEqual(without.error);
  expect(withHalf.frames[2].share).toBeLessThan(0.15);
});
