/**
 * Horizon, lens and light of plates. The plates are rendered by Debian's POV-Ray (scripts/scenes/plates.py) with a camera and a sun that are known; photographs of
 * nature come from Debian's lomiri-wallpapers-16.04 and opencv-doc. Heights are held to OpenCV's projectPoints (python3-opencv 4.6).
 */
import { execFileSync } from "node:child_process";
import { copyFileSync, existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { GroundCamera } from "../../../src/core/seat/groundCamera";
import { lightsApartDeg } from "../../../src/core/seat/lightFromShadows";
import { horizonsApartDeg, upOf, worldAxes } from "../../../src/core/seat/upright";
import { randomOf } from "../../support/kernels";
import { byDay, NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface Truth {
  kind: string;
  focalPx: number;
  cameraHeightM: number;
  horizon: number[][];
  sun: { azimuthDeg: number; elevationDeg: number; widthDeg: number; ratioEv: number } | null;
  stakes: { foot: number[]; top: number[]; tip: number[]; heightM: number }[];
}

interface Plate {
  horizon: number[][] | null;
  vanishing: { x: number; y: number; of: string }[];
  focalPx: number | null;
  focalFrom: string | null;
  cameraHeightM: number | null;
  light: { kind: string; azimuthDeg: number; elevationDeg: number; sourceDeg: number | null; ratioEv: number | null; shadowMired: number | null };
  uncertainty: { horizonDeg: number; focalPercent: number; lightDeg: number | null };
}

const FOLDER = join(process.cwd(), "tests/fixtures/plates");
const SIZE = { width: 1200, height: 800 };
const truth = JSON.parse(readFileSync(join(FOLDER, "truth.json"), "utf8")) as Record<string, Truth>;
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

/** What is measured of a picture; its camera may note the lens, in whole mm as on 24×36 mm. */
function measured(path: string, focalPx: number | null, more: string[] = []): Plate {
  let file = path;
  if (focalPx !== null) {
    file = join(temporaryFolder(), "noted.jpg");
    copyFileSync(path, file);
    const mm = Math.round((focalPx / Math.hypot(SIZE.width, SIZE.height)) * Math.hypot(24, 36));
    execFileSync("exiftool", ["-q", "-overwrite_original", `-FocalLengthIn35mmFormat=${mm}`, file]);
  }
  const { code, out, err } = runMarsh(["plate", file, "--json", "--quiet", ...more]);
  if (code !== 0) throw new Error(err);
  return JSON.parse(out) as Plate;
}

/** Each time others of the plates by day. */
const some = byDay(
  Object.keys(truth).filter((name) => !name.startsWith("overcast")),
  9,
);

it("the horizon is found where there are lines, and the lens where some are square to each other", () => {
  const lines: string[] = [];
  const of = (noted: boolean) =>
    some.map((name) => {
      const { focalPx, horizon } = truth[name];
      const plate = measured(join(FOLDER, name), noted ? focalPx : null);
      const off = plate.horizon && horizonsApartDeg(plate.horizon, horizon, focalPx);
      const focal = plate.focalFrom === "directions" ? Math.abs(plate.focalPx! / focalPx - 1) : null;
      lines.push(
        `${name}${noted ? ", lens noted" : ""}: ${off === null ? "none" : `${off.toFixed(2)}° ± ${plate.uncertainty.horizonDeg.toFixed(2)}`}, ${plate.focalFrom} ${(plate.focalPx ?? 0).toFixed(0)} of ${focalPx.toFixed(0)}`,
      );
      return { off, focal };
    });
  const sets = NIGHT ? [of(true), of(false)] : [of(true)];
  const [noted, unnoted] = sets.map((set) => set.flatMap((p) => p.off ?? []));
  const focals = sets.flatMap((set) => set.flatMap((p) => p.focal ?? []));
  process.stdout.write(`${lines.join("\n")}\n`);
  expect(noted.length).toBeGreaterThanOrEqual(0.9 * some.length);
  expect(median(noted)).toBeLessThan(0.3);
  expect(Math.max(...noted)).toBeLessThan(1);
  expect(median(focals)).toBeLessThan(0.03);
  if (!unnoted) return;
  // without a word of the lens fewer are claimed, and one of them may be a little further off
  expect(unnoted.length).toBeGreaterThanOrEqual(0.7 * some.length);
  expect(median(unnoted)).toBeLessThan(0.3);
  expect(Math.max(...unnoted)).toBeLessThan(1.2);
});

const PHOTOS = "/usr/share/backgrounds";
const SAMPLES = "/usr/share/doc/opencv-doc/examples/data";
/** Photographs without straight lines of people's making; of the large ones four parts as well. */
const NATURE = [
  "Dragonfly_by_Bolly",
  "aitzgorri_by_Aitzol_Berasategi",
  "life_by_Aitzol_Berasategi",
  "picosdeeuropa_by_Aitzol_Berasategi",
  "seeding_by_Clements_Engelhardt",
  "sunset_by_Aitzol_Berasategi",
]
  .map((name) => join(PHOTOS, `${name}.jpg`))
  .concat(["aloeL", "baboon", "butterfly", "fruits", "orange", "apple", "squirrel_cls", "HappyFish"].map((name) => join(SAMPLES, `${name}.jpg`)));

it("no horizon is claimed in photographs of nature", () => {
  expect(NATURE.filter((path) => !existsSync(path))).toEqual([]);
  const parts = temporaryFolder();
  const cut = runPython<string[]>(
    `import cv2, json, sys
out = []
for k, path in enumerate(sys.argv[2:]):
    im = cv2.imread(path); h, w = im.shape[:2]
    for i, (x, y) in enumerate([(0, 0), (w // 2, 0), (0, h // 2), (w // 2, h // 2)]):
        name = f"{sys.argv[1]}/{k}-{i}.jpg"; cv2.imwrite(name, im[y : y + h // 2, x : x + w // 2], [cv2.IMWRITE_JPEG_QUALITY, 92]); out.append(name)
print(json.dumps(out))`,
    [parts, ...NATURE.slice(0, 4)],
  );
  const claimed = byDay([...NATURE, ...cut], 6).filter((path) => measured(path, null).horizon !== null);
  expect(claimed).toEqual([]);
});

it("marked shadows tell the sun, how strong it is and how wide", () => {
  const marked = byDay(
    Object.keys(truth).filter((name) => truth[name].sun && truth[name].stakes.length > 0),
    5,
  );
  const ratios: number[] = [];
  const widths: number[] = [];
  const lines: string[] = [];
  for (const name of marked) {
    const { stakes, sun, focalPx } = truth[name];
    const marks = stakes.flatMap((s) => ["--shadow", [...s.foot, ...s.top, ...s.tip].map((v) => v.toFixed(1)).join(",")]);
    const { light, uncertainty, horizon } = measured(join(FOLDER, name), focalPx, marks);
    if (!horizon) continue;
    const off = lightsApartDeg(light, sun!);
    lines.push(
      `${name}: ${off.toFixed(2)}° ± ${uncertainty.lightDeg!.toFixed(2)}, ${light.ratioEv?.toFixed(2)} of ${sun!.ratioEv.toFixed(2)} EV, ${light.sourceDeg?.toFixed(2)} of ${sun!.widthDeg}°`,
    );
    expect({ name, isTrue: off < Math.max(2, 2 * uncertainty.lightDeg!) }).toEqual({ name, isTrue: true });
    if (light.ratioEv !== null) ratios.push(Math.abs(light.ratioEv - sun!.ratioEv));
    if (light.sourceDeg !== null) widths.push(Math.abs(Math.log(light.sourceDeg / sun!.widthDeg)));
  }
  process.stdout.write(`${lines.join("\n")}\n`);
  expect(ratios.length).toBeGreaterThan(0);
  expect(median(ratios)).toBeLessThan(0.2);
  expect(median(widths)).toBeLessThan(Math.log(1.5));
});

it("under an even sky a mark tells no strength of a light, wherever it says that it comes from", () => {
  const marked = byDay(
    Object.keys(truth).filter((name) => name.startsWith("overcast") && truth[name].stakes.length > 0),
    2,
  );
  const told = marked.flatMap((name) => {
    const { stakes, focalPx } = truth[name];
    const marks = stakes.flatMap((s) => ["--shadow", [...s.foot, ...s.top, ...s.tip].map((v) => v.toFixed(1)).join(",")]);
    const { horizon, light } = measured(join(FOLDER, name), focalPx, marks);
    return horizon ? [light] : [];
  });
  expect(told.length).toBeGreaterThan(0);
  expect(told.filter((l) => l.ratioEv !== null)).toEqual([]);
});

it("heights in px are those of OpenCV's projectPoints", () => {
  const random = randomOf(11);
  const cases = Array.from({ length: 200 }, () => {
    const stance = { pitchDeg: 40 * random() - 20, rollDeg: 10 * random() - 5, focalPx: 700 + 1500 * random() };
    const camera = new GroundCamera(SIZE, stance, 0.5 + 3 * random());
    const foot = [6 * random() - 3, 0, 4 + 20 * random()] as [number, number, number];
    const metres = 0.2 + 2 * random();
    return {
      stance,
      heightM: camera.heightM,
      axes: worldAxes(stance),
      foot,
      metres,
      ours: [camera.pixelOf(foot)!, camera.pixelOf([foot[0], metres, foot[2]])!],
    };
  });
  const theirs = runPython<number[][][]>(
    `import cv2, json, sys, numpy as np
out = []
for c in json.loads(sys.argv[1]):
    R = np.array([c["axes"]["right"], c["axes"]["up"], c["axes"]["ahead"]]).T
    x, y, z = c["foot"]
    points = np.float64([[x, 0, z], [x, c["metres"], z]])
    K = np.float64([[c["stance"]["focalPx"], 0, 599.5], [0, c["stance"]["focalPx"], 399.5], [0, 0, 1]])
    t = -R @ np.float64([0, c["heightM"], 0])
    # a left-handed world: its matrix is no rotation, so that the points are turned first
    px, _ = cv2.projectPoints((points @ R.T + t).astype(np.float64), np.zeros(3), np.zeros(3), K, None)
    out.append(px[:, 0].tolist())
print(json.dumps(out))`,
    [JSON.stringify(cases)],
  );
  const height = (p: readonly (readonly number[])[]) => Math.hypot(p[1][0] - p[0][0], p[1][1] - p[0][1]);
  cases.forEach(({ ours, stance }, i) => {
    expect(Math.abs(height(ours) / height(theirs[i]) - 1)).toBeLessThan(1e-6);
    expect(Math.hypot(...upOf(stance))).toBeCloseTo(1, 9);
  });
});

describe("the command", () => {
  const name = "room-35.jpg";

  it("gives the horizon, what meets where, and the height of the camera by a known length", () => {
    const { horizon, focalPx, cameraHeightM } = truth[name];
    // a metre on the floor, by the true camera
    const [[, left], [, right]] = horizon;
    const roll = (Math.atan2(right - left, 1199) * 180) / Math.PI;
    const pitch = (Math.atan((((left + right) / 2 - 399.5) * Math.cos((roll * Math.PI) / 180)) / focalPx) * 180) / Math.PI;
    const camera = new GroundCamera(SIZE, { pitchDeg: pitch, rollDeg: roll, focalPx }, cameraHeightM);
    const [a, b] = [camera.pixelOf([-0.5, 0, 4])!, camera.pixelOf([0.5, 0, 4])!];
    const plate = measured(join(FOLDER, name), focalPx, ["--length", [...a, ...b, 1].join(",")]);
    expect(plate.vanishing.map((v) => v.of).sort()).toEqual(["level", "level", "upright"]);
    expect(plate.cameraHeightM! / cameraHeightM).toBeCloseTo(1, 1);
    expect(plate.light).toMatchObject({ kind: "unknown", azimuthDeg: null });
  });

  it.each([
    [["--length", "1,2,3"], /--length is x0,y0,x1,y1,METRES/],
    [["--length", "1,2,3,4,0"], /metres above 0/],
    [["--camera-height", "-1"], /above 0/],
    [["--camera-height", "1", "--length", "1,2,3,4,5"], /one of --length and --camera-height/],
    [["--shadow", "10,790,20,700,5000,790"], /lies outside of the picture, which is 1200×800 px/],
    [["--shadow", "100,700,100,750,300,710"], /A top lies under its foot/],
    [["--shadow", "100,700,100,600,300,10"], /stands on no ground/],
    [["--shadow", "100,600,300,710"], /tells no direction/],
  ] as const)("%j is answered by a sentence", (args, sentence) => {
    const { code, err } = runMarsh(["plate", join(FOLDER, name), "--quiet", ...args]);
    expect(err).toMatch(sentence);
    expect(code).toBe(2);
  });
});
