/** Cut-outs seated by the command line in rendered plates (scripts/scenes/plates.py), whose camera and sun are known. OpenCV (python3-opencv 4.6) reads what is written. */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { GroundCamera } from "../../../src/core/seat/groundCamera";
import { directionOf } from "../../../src/core/seat/lightFromShadows";
import { stanceThrough } from "../../../src/core/seat/upright";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface Truth {
  focalPx: number;
  cameraHeightM: number;
  horizon: [[number, number], [number, number]];
  sun: { azimuthDeg: number; elevationDeg: number; widthDeg: number; ratioEv: number };
}

const FOLDER = join(process.cwd(), "tests/fixtures/plates");
const SIZE = { width: 1200, height: 800 };
const truth = JSON.parse(readFileSync(join(FOLDER, "truth.json"), "utf8")) as Record<string, Truth>;
const folder = temporaryFolder();
const NAME = "jetty-24.jpg";
const { horizon, focalPx, cameraHeightM, sun } = truth[NAME];
const camera = new GroundCamera(SIZE, stanceThrough(...horizon, focalPx, SIZE), cameraHeightM);
const plate = join(folder, "plate.json");
const post = join(folder, "post.tif");

beforeAll(() => {
  const light = {
    kind: "sun",
    azimuthDeg: sun.azimuthDeg,
    elevationDeg: sun.elevationDeg,
    sourceDeg: sun.widthDeg,
    ratioEv: sun.ratioEv,
    shadowMired: 0,
    confidence: 1,
  };
  writeFileSync(plate, JSON.stringify({ version: 1, horizon, vanishing: [], focalPx, focalFrom: "metadata", cameraHeightM, light }));
  // a post a tenth as wide as tall, with a rim of nothing
  runPython(
    `import numpy as np, sys, tifffile, json
a = np.zeros((640, 120, 4), np.uint16); a[20:620, 30:90, :3] = 30000; a[20:620, 30:90, 3] = 65535
tifffile.imwrite(sys.argv[1], a, photometric="rgb", extrasamples=["unassalpha"]); print(json.dumps(0))`,
    [post],
  );
});

function seat(...args: string[]) {
  return runMarsh(["seat", join(FOLDER, NAME), post, "--quiet", "--json", ...args]);
}

it("it is as tall as the true camera sees it, and its shadow falls where the true sun throws it", () => {
  const foot: [number, number, number] = [0.15, 0, 4.6];
  const metres = 0.7;
  const [x, y] = camera.pixelOf(foot)!;
  const out = join(folder, "seated.tif");
  const { code, out: printed, err } = seat("--foot", `${x},${y}`, "--height", String(metres), "--plate", plate, "--shadow", "-o", out);
  expect({ code, err }).toEqual({ code: 0, err: "" });
  const told = JSON.parse(printed) as { distanceM: number; heightPx: number; shadow: { ratioEv: number; sourceDeg: number } };
  const top = camera.pixelOf([foot[0], metres, foot[2]])!;
  expect(told.heightPx / Math.hypot(top[0] - x, top[1] - y)).toBeCloseTo(1, 4);
  expect(told.distanceM).toBeCloseTo(Math.hypot(foot[0], foot[2]), 4);
  expect(told.shadow).toEqual({ ratioEv: sun.ratioEv, sourceDeg: sun.widthDeg });

  // halfway along its shadow the plate is darker by what light and shade differ; as far to either side it is as it was
  const d = directionOf(sun.azimuthDeg, sun.elevationDeg);
  const length = (metres * Math.hypot(d[0], d[2])) / d[1];
  const along = [-d[0] / Math.hypot(d[0], d[2]), -d[2] / Math.hypot(d[0], d[2])];
  // its front stands on the foot, its middle 0.8 of half its width behind that: 30 of 600 px
  const behind = 1 + (0.8 * metres * (30 / 600)) / Math.hypot(foot[0], foot[2]);
  const [x0, z0] = [behind * foot[0], behind * foot[2]];
  const on = (share: number, side: number) =>
    camera.pixelOf([x0 + share * length * along[0] - side * along[1], 0, z0 + share * length * along[1] + side * along[0]])!.map(Math.round);
  const places = [on(0.25, 0), on(0.25, 0.25), on(0.25, -0.25)];
  const [inside, left, right] = runPython<number[]>(
    `import cv2, json, sys, numpy as np
lin = lambda im: np.where(im <= 0.04045, im / 12.92, ((im + 0.055) / 1.055) ** 2.4)
after = lin(cv2.imread(sys.argv[1], cv2.IMREAD_UNCHANGED).astype(np.float64) / 65535); before = lin(cv2.imread(sys.argv[2]).astype(np.float64) / 255)
print(json.dumps([float(np.log2(after[y, x].mean() / before[y, x].mean())) for x, y in json.loads(sys.argv[3])]))`,
    [out, join(FOLDER, NAME), JSON.stringify(places)],
  );
  expect(Math.abs(inside + sun.ratioEv)).toBeLessThan(0.2);
  expect(Math.abs(left)).toBeLessThan(0.05);
  expect(Math.abs(right)).toBeLessThan(0.05);
});

it.each([
  [["--foot", "10,10", "--plate", plate], 2, /no ground/],
  [["--foot", "5000,10", "--plate", plate], 2, /outside of the plate, which is 1200×800 px/],
  [["--foot", "500"], 2, /--foot is x,y/],
  [["--foot", "500,700", "--height", "0"], 2, /--height is above 0/],
  [["--foot", "500,700", "--light", "10,-5,1"], 2, /stands over the ground/],
  [["--foot", "500,700", "--plate", join(FOLDER, "truth.json")], 1, /not what marsh plate prints/],
  [["--foot", "500,700", "--plate", post], 1, /no JSON/],
] as const)("%j is answered by a sentence", (args, expected, sentence) => {
  const { code, err } = seat(...args, "-o", join(folder, "never.tif"));
  expect(err).toMatch(sentence);
  expect(code).toBe(expected);
});

it("a picture without alpha is no cut-out", () => {
  const { code, err } = runMarsh([
    "seat",
    join(FOLDER, NAME),
    join(FOLDER, NAME),
    "--foot",
    "500,700",
    "--plate",
    plate,
    "-o",
    join(folder, "never.tif"),
    "--quiet",
  ]);
  expect([code, err]).toEqual([1, expect.stringMatching(/no alpha/)]);
});
