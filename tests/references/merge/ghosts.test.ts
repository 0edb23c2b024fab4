/**
 * What moves between the frames of a bracket, on photographs with a textured ellipse over 5 % of the picture that is elsewhere in every
 * frame, with shot and read noise, 8 bit; made with numpy and OpenCV. The truth is what was there in the moment of the frame taken.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { byDay, nightly } from "../../support/night";
import { runMarsh, runPython, runSupport, temporaryFolder } from "../../support/python";

interface Made {
  ev: number[];
  files: string[];
  box: [number, number, number, number];
}
interface Merged {
  ghosts: { x: number; y: number; width: number; height: number; donor: string; areaPx: number }[];
  ghostShare: number;
}

function mergeBracket(folder: string, made: Made, out: string, more: string[]): Merged {
  const given = ["--ev", made.ev.join(","), "--reference", made.files[1], "--no-register", "--no-crop", "--quiet", "--json"];
  const result = runMarsh(["merge", "radiance", ...made.files, "-o", join(folder, out), ...given, ...more]);
  expect(result.err).toBe("");
  return JSON.parse(result.out) as Merged;
}

it.each(byDay([1, 4, 7], 3))("a place that moved is taken whole from one frame, scene %i", (seed) => {
  const folder = temporaryFolder();
  const made = runSupport<Made>("ghosts.py", ["make", folder, String(seed), "1"]);
  writeFileSync(join(folder, "facts.json"), JSON.stringify(made));
  const { ghosts } = mergeBracket(folder, made, "out.tif", ["--ghost-map", join(folder, "map.png")]);
  mergeBracket(folder, made, "plain.tif", ["--ghosts", "off"]);
  const [largest] = [...ghosts].sort((a, b) => b.areaPx - a.areaPx);
  const donor = made.files.indexOf(largest.donor);
  const score = runSupport<{ psnr: number; psnrBefore: number; covered: number; restChanged: number; falseArea: number }>("ghosts.py", [
    "score",
    folder,
    join(folder, "out.tif"),
    join(folder, "plain.tif"),
    join(folder, "map.png"),
    String(donor),
  ]);
  process.stdout.write(`ghost ${seed}: ${JSON.stringify(score)}\n`);
  // the place is where the thing was, to within the cells by which it is widened
  const [x0, y0, x1, y1] = made.box;
  expect(Math.abs(largest.x - x0)).toBeLessThan(28);
  expect(Math.abs(largest.y - y0)).toBeLessThan(28);
  expect(Math.abs(largest.x + largest.width - x1)).toBeLessThan(28);
  expect(Math.abs(largest.y + largest.height - y1)).toBeLessThan(28);
  expect(score.psnr).toBeGreaterThanOrEqual(35);
  expect(score.psnr).toBeGreaterThan(score.psnrBefore + 8);
  expect(score.restChanged).toBeLessThanOrEqual(0.005);
  expect(score.falseArea).toBeLessThan(0.001);
});

nightly.each(byDay([1, 4, 7], 3))("still, noisy frames show nothing that moved, scene %i", (seed) => {
  const folder = temporaryFolder();
  const made = runSupport<Made>("ghosts.py", ["make", folder, String(seed), "0"]);
  expect(mergeBracket(folder, made, "out.tif", []).ghostShare).toBeLessThan(0.001);
});

it("an object present in one frame only is left out where the others agree, and a base frame brings it back", () => {
  const folder = temporaryFolder();
  runPython(
    `
import cv2, sys, numpy as np, json
out = sys.argv[1]; rng = np.random.default_rng(3)
y, x = np.mgrid[0:300, 0:400]
light = (0.12 + 0.1 * np.sin(x / 40.0) * np.cos(y / 50.0))[..., None] * np.array([1, .9, .7])
for k, ev in enumerate((-1, 0, 1)):
    m = light.copy()
    if k == 1: m[120:170, 180:230] = 0.02
    e = np.minimum(m * 2.0 ** ev, 1) * 20000
    s = np.clip(rng.poisson(e) / 20000, 0, 1)
    code = np.where(s <= 0.0031308, 12.92 * s, 1.055 * np.maximum(s, 1e-9) ** (1 / 2.4) - 0.055)
    cv2.imwrite(out + '/f%d.png' % k, np.clip(code * 255 + 0.5, 0, 255).astype(np.uint8)[..., ::-1])
print('{}')
`,
    [folder],
  );
  const made: Made = { ev: [-1, 0, 1], files: [0, 1, 2].map((k) => join(folder, `f${k}.png`)), box: [180, 120, 230, 170] };
  const read = (file: string) =>
    runPython<number>(`import tifffile, sys, json; print(json.dumps(float(tifffile.imread(sys.argv[1])[130:160, 190:220, 1].mean())))`, [join(folder, file)]);
  const free = mergeBracket(folder, made, "free.tif", []);
  expect(free.ghosts).toHaveLength(1);
  expect(free.ghosts[0].donor).not.toBe(made.files[1]);
  expect(read("free.tif")).toBeGreaterThan(0.06);
  const based = mergeBracket(folder, made, "based.tif", ["--base", made.files[1]]);
  expect(based.ghosts[0].donor).toBe(made.files[1]);
  expect(read("based.tif")).toBeCloseTo(0.018, 2);
});
