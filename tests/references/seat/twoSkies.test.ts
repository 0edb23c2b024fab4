/**
 * Skies exchanged by the command line, against the same land truly under the other sky, rendered by Debian's POV-Ray (scripts/scenes/twoSkies.py). Colour differences are
 * scikit-image's deltaE_ciede2000 (python3-skimage); pictures are read by OpenCV (python3-opencv 4.6).
 */
import { execFileSync } from "node:child_process";
import { copyFileSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface Truth {
  pair: [string, string];
  focalPx: number;
  skyFocalPx: number;
  cameraHeightM: number;
  horizon: [[number, number], [number, number]];
}

const FOLDER = join(process.cwd(), "tests/fixtures/twoSkies");
const truth = JSON.parse(readFileSync(join(FOLDER, "truth.json"), "utf8")) as Record<string, Truth>;
const folder = temporaryFolder();

interface Judged {
  /** ΔE2000 against the truth: on land, as the land was before, along its edges, and in the sky */
  land: number;
  before: number;
  edge: number;
  sky: number;
  /** share of what lies along edges that is off by 4 more than land and sky, in patches of 2×2 px at least */
  fringe: number;
}

function judged(name: string): Judged {
  const { focalPx, skyFocalPx, cameraHeightM, horizon } = truth[name];
  const [land, sky, plate, out] = ["land.jpg", "sky.jpg", "plate.json", "out.tif"].map((ending) => join(folder, `${name}-${ending}`));
  for (const [path, of, focal] of [
    [land, "land", focalPx],
    [sky, "sky", skyFocalPx],
  ] as const) {
    copyFileSync(join(FOLDER, `${name}-${of}.jpg`), path);
    const mm = Math.round((focal / Math.hypot(600, 400)) * Math.hypot(24, 36));
    execFileSync("exiftool", ["-q", "-overwrite_original", `-FocalLengthIn35mmFormat=${mm}`, path]);
  }
  const light = { kind: "unknown", azimuthDeg: null, elevationDeg: null, sourceDeg: null, ratioEv: null, shadowMired: null };
  writeFileSync(plate, JSON.stringify({ version: 1, horizon, focalPx, cameraHeightM, light }));
  const { code, err } = runMarsh(["sky-swap", land, sky, "--plate", plate, "-o", out, "--quiet"]);
  if (code !== 0) throw new Error(err);
  return runPython<Judged>(
    `import cv2, json, sys, numpy as np
from skimage.color import deltaE_ciede2000, rgb2lab
lab = lambda im, by: rgb2lab(im[..., ::-1] / by)
out, both, was = lab(cv2.imread(sys.argv[1], -1), 65535.0), lab(cv2.imread(sys.argv[2]), 255.0), lab(cv2.imread(sys.argv[3]), 255.0)
cover = cv2.imread(sys.argv[4], 0) / 255.0
off, before = deltaE_ciede2000(out, both), deltaE_ciede2000(was, both)
land, sky = cover > 0.98, cover < 0.02
near = lambda on: cv2.dilate(on.astype(np.uint8), np.ones((7, 7))) > 0
edge = near(~land) & near(~sky)
limit = max(off[land].mean(), off[sky].mean()) + 4
wide = cv2.morphologyEx(((off > limit) & edge).astype(np.uint8), cv2.MORPH_OPEN, np.ones((2, 2))) > 0
print(json.dumps(dict(land=float(off[land].mean()), before=float(before[land].mean()), edge=float(off[edge].mean()), sky=float(off[sky].mean()), fringe=float(wide[edge].mean()))))`,
    [out, join(FOLDER, `${name}-both.jpg`), join(FOLDER, `${name}-land.jpg`), join(FOLDER, `${name}-truth.png`)],
  );
}

it(
  "land, edges and sky are as they truly are under the other sky",
  () => {
    const names = NIGHT ? Object.keys(truth) : ["01", "08"];
    const all = names.map((name) => ({ name, ...judged(name) }));
    const mean = (of: (j: Judged) => number) => all.reduce((sum, j) => sum + of(j), 0) / all.length;
    expect(mean((j) => j.land)).toBeLessThan(6);
    expect(mean((j) => j.edge)).toBeLessThan(6);
    expect(mean((j) => j.land)).toBeLessThan(0.75 * mean((j) => j.before));
    for (const j of all) {
      expect(j.land).toBeLessThan(7);
      expect(j.sky).toBeLessThan(1);
      // beside a jetty what is not land is water as well, which changes with the sky
      if (Number(j.name) % 3 !== 2) expect(j.fringe).toBeLessThan(0.06);
    }
  },
  NIGHT ? 600_000 : 120_000,
);

it.each([
  [["--pan", "200"], 2, /--pan is from -180 to 180/],
  [["--land-light", "3"], 2, /--land-light is from 0 to 1/],
  [["--water", "1,2,3"], 2, /--water is the corners/],
] as const)("%j is answered by a sentence", (args, expected, sentence) => {
  const files = [join(FOLDER, "01-land.jpg"), join(FOLDER, "01-sky.jpg")];
  const { code, err } = runMarsh(["sky-swap", ...files, ...args, "-o", join(folder, "never.tif"), "--quiet"]);
  expect(err).toMatch(sentence);
  expect(code).toBe(expected);
});

it("a picture without a sky, and one of nothing else, are no land", () => {
  const indoors = join(folder, "indoors.png");
  runPython(
    `import cv2, json, sys, numpy as np
cv2.imwrite(sys.argv[1], np.random.default_rng(3).integers(0, 255, (300, 400, 3), np.uint8)); print(json.dumps(0))`,
    [indoors],
  );
  const of = (land: string) => runMarsh(["sky-swap", land, join(FOLDER, "01-sky.jpg"), "-o", join(folder, "never.tif"), "--quiet"]);
  expect(of(indoors)).toMatchObject({ code: 1, err: expect.stringMatching(/no sky shows in it/) });
  expect(of(join(FOLDER, "01-sky.jpg"))).toMatchObject({ code: 1, err: expect.stringMatching(/nothing but sky/) });
});
