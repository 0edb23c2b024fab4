/**
 * Things lit by the lamps of plates at dusk, against the same scene with the thing truly there, rendered by Debian's POV-Ray (scripts/scenes/lampLit.py). Pictures are read by OpenCV (python3-opencv 4.6).
 */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface Truth {
  focalPx: number;
  cameraHeightM: number;
  horizon: [[number, number], [number, number]];
  heightM: number;
  lamp: { at: number[]; distanceM: number; widthM: number; ev: number; color: number[] };
  ambientEv: number;
}

const FOLDER = join(process.cwd(), "tests/fixtures/lampLit");
const truth = JSON.parse(readFileSync(join(FOLDER, "truth.json"), "utf8")) as Record<string, Truth>;
const folder = temporaryFolder();
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

interface Judged {
  /** |EV| against the truth over the thing, median and mean, lit by the lamp and not */
  lit: number;
  litMean: number;
  unlitMean: number;
  /** how far the brightest third of the rim faces elsewhere than it truly does, degrees, and how much it truly faces one way, 0..1 */
  rimDeg: number;
  oneSided: number;
}

function judged(name: string): Judged {
  const { focalPx, cameraHeightM, horizon, heightM, lamp, ambientEv } = truth[name];
  const [plate, lamps, thing, out, bare] = ["plate.json", "lamps.json", "thing.tif", "out.tif", "bare.tif"].map((ending) => join(folder, `${name}-${ending}`));
  const light = { kind: "unknown", azimuthDeg: null, elevationDeg: null, sourceDeg: null, ratioEv: null, shadowMired: null };
  writeFileSync(plate, JSON.stringify({ version: 1, horizon, focalPx, cameraHeightM, light }));
  writeFileSync(lamps, JSON.stringify({ ambientEv, lamps: [{ ...lamp, kind: "lamp", shown: true }] }));
  const foot = runPython<number[]>(
    `import cv2, json, sys, numpy as np, tifffile
t = cv2.imread(sys.argv[1], -1)
tifffile.imwrite(sys.argv[2], np.dstack([t[..., 2::-1], t[..., 3]]), photometric="rgb", extrasamples=["unassalpha"])
y, x = np.nonzero(t[..., 3] > 32767); low = y > y.max() - 0.06 * (y.max() - y.min())
print(json.dumps([float((x[low].min() + x[low].max()) / 2), float(y.max() + 0.5)]))`,
    [join(FOLDER, `${name}-thing.png`), thing],
  );
  const seat = (to: string, ...more: string[]) => {
    const args = ["--foot", foot.map((v) => v.toFixed(1)).join(","), "--height", String(heightM), "--plate", plate, ...more, "-o", to, "--quiet"];
    const { code, err } = runMarsh(["seat", join(FOLDER, `${name}-plate.jpg`), thing, ...args]);
    if (code !== 0) throw new Error(err);
  };
  seat(out, "--lamps", lamps);
  seat(bare);
  return runPython<Judged>(
    `import cv2, json, sys, numpy as np
lin = lambda im: np.where(im <= 0.04045, im / 12.92, ((im + 0.055) / 1.055) ** 2.4) @ np.array([0.0722, 0.7152, 0.2126])
cover = cv2.imread(sys.argv[1], -1)[..., 3] / 65535
out, bare = (lin(cv2.imread(p, -1) / 65535.0) for p in sys.argv[2:4]); truth = lin(cv2.imread(sys.argv[4]) / 255.0)
inside = cover > 0.95
off = lambda a: np.abs(np.log2((a[inside] + 0.002) / (truth[inside] + 0.002)))
solid = inside.astype(np.uint8); rim = (cv2.erode(solid, np.ones((3, 3))) > 0) & (cv2.erode(solid, np.ones((5, 5))) == 0)
smooth = cv2.GaussianBlur(cover.astype(np.float32), (0, 0), 2.2); gx, gy = cv2.Sobel(smooth, cv2.CV_32F, 1, 0), cv2.Sobel(smooth, cv2.CV_32F, 0, 1)
g = np.maximum(np.hypot(gx, gy), 1e-6)
def faces(a):
    v = a[rim]; s = v >= np.quantile(v, 2 / 3); return np.array([(-gx / g)[rim][s].mean(), (gy / g)[rim][s].mean()])
a, b = faces(out), faces(truth)
turn = np.degrees(np.arctan2(a[1], a[0]) - np.arctan2(b[1], b[0]))
print(json.dumps(dict(lit=float(np.median(off(out))), litMean=float(off(out).mean()), unlitMean=float(off(bare).mean()), rimDeg=float(abs((turn + 180) % 360 - 180)), oneSided=float(np.hypot(*b)))))`,
    [join(FOLDER, `${name}-thing.png`), out, bare, join(FOLDER, `${name}-with.jpg`)],
  );
}

it(
  "a thing is as bright as it truly is beside the lamp, and on the side where it truly is",
  () => {
    const names = NIGHT ? Object.keys(truth) : ["02", "06", "08"];
    const all = names.map(judged);
    expect(median(all.map((j) => j.lit))).toBeLessThan(0.5);
    // where the lamp stands behind it the thing gets next to nothing, and is as it was
    const gets = all.filter((j) => j.unlitMean > 0.4);
    expect(gets.length).toBeGreaterThanOrEqual(NIGHT ? 8 : 3);
    for (const j of gets) expect(j.litMean).toBeLessThan(j.unlitMean);
    for (const j of all) expect(j.litMean).toBeLessThan(j.unlitMean + 0.03);
    // where it truly is lit from one side
    const sided = all.filter((j) => j.oneSided > 0.7);
    expect(sided.length).toBeGreaterThanOrEqual(NIGHT ? 4 : 2);
    for (const j of sided) expect(j.rimDeg).toBeLessThan(22);
  },
  NIGHT ? 900_000 : 240_000,
);

const NAME = "02";
it.each([
  ['{"lamps": []}', /does not list lamps/],
  ['{"lamps": [{"at": [10, 20]}]}', /a lamp needs its distanceM/],
  ['{"lamps": [{"at": [10]}]}', /does not list lamps/],
  ['{"lamps": [{"at": [10, 20], "distanceM": -3}]}', /does not list lamps/],
  ["{", /no JSON that can be read/],
] as const)("lamps told as %s are answered by a sentence", (told, sentence) => {
  const lamps = join(folder, "bad.json");
  writeFileSync(lamps, told);
  const files = [join(FOLDER, `${NAME}-plate.jpg`), join(FOLDER, `${NAME}-plate.jpg`)];
  const { code, err } = runMarsh(["seat", ...files, "--foot", "300,300", "--lamps", lamps, "-o", join(folder, "never.tif"), "--quiet"]);
  expect(err).toMatch(sentence);
  expect(code).toBe(1);
});
