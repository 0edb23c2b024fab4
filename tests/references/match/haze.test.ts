/** Air of a plate against rendered depth: light laid before a frame of the marsh by Koschmieder's law, and the demo "Far bank in haze" with its truth (scripts/scenes/twoSeptembers.py). */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { mapAir } from "../../../src/core/air/clearAir";
import { fitHaze, type Air } from "../../../src/core/air/fitHaze";
import { darkAround, horizonLight, placesByDistance, type HazePlace, type SeenLight } from "../../../src/core/air/hazePlaces";
import { differenceCiede2000, workingToLab, type Lab } from "../../../src/core/color/colorDifference";
import { FROM_REC709, LUMINANCE } from "../../../src/core/color/primaries";
import { decodeSrgb, encodeSrgb } from "../../../src/core/color/srgbCurve";
import { transform } from "../../../src/core/geometry/matrix3";
import { median } from "../../../src/core/numeric/statistics";
import { stanceThrough } from "../../../src/core/seat/upright";
import { PLAIN_FILTERS } from "../../../src/core/raster/filters";
import { setRegistration, unmovedRegistration } from "../../../src/document/edits";
import { tellPlate } from "../../../src/document/seatEdits";
import { freshMerge, setMerge } from "../../../src/document/mergeEdits";
import { SILENT } from "../../../src/engine/task";
import { runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const [W, H] = [900, 600];
const TRUTH = JSON.parse(readFileSync("demo/haze/truth.json", "utf8")) as { attenuationPerM: number[]; airlight: number[] };

/** Linear Rec. 709 light of a picture at half its size, metres of each sample (nought in the sky), the row of the horizon and how many px a metre of height makes in a row below it, by the depth of level ground. */
function scene(file: string): { seen: SeenLight; metres: Float32Array; horizon: number; heightPx: number } {
  const told = runPython<{ horizon: number; heightPx: number }>(
    `
import cv2, json, sys, numpy as np
file, depth, out = sys.argv[1:4]
a = cv2.imread(file)[..., ::-1] / 255.0
l = np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4)
l = l.reshape(600, 2, 900, 2, 3).mean((1, 3))
code = cv2.imread(depth, -1)
d = np.where(code < 255, 10 ** (code / 63.5), 0)
np.concatenate([l.transpose(2, 0, 1), d[None]]).astype(np.float32).tofile(out)
rows = np.arange(380, 600, 4)
near = np.array([np.median(d[y, 330:520]) for y in rows])
slope, at = np.polyfit(rows, 1 / near, 1)
print(json.dumps({'horizon': float(-at / slope), 'heightPx': float(1 / slope)}))`,
    [file, "demo/haze/depth.png", join(folder, "scene.f32")],
  );
  const bytes = readFileSync(join(folder, "scene.f32"));
  const all = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const n = W * H;
  return { seen: { width: W, height: H, planes: [0, 1, 2].map((c) => all.subarray(c * n, (c + 1) * n)) }, metres: all.subarray(3 * n), ...told };
}

const known = (metres: Float32Array) => (x: number, y: number) => metres[Math.round(y) * W + Math.round(x)] || null;

/** Places that are evenly far away, and trees of the far bank, which are not. */
const placesOf = (seen: SeenLight, metres: Float32Array): HazePlace[] => [
  ...placesByDistance(seen, known(metres)),
  ...[400, 600, 650].map((x) => ({ distanceM: known(metres)(x, 266)!, light: darkAround(seen, x, 266)!, times: 8 })),
];

const labOf = (rgb: readonly number[]): Lab => workingToLab(transform(FROM_REC709, rgb));

/** ΔE2000 of the air's light, and the most that an attenuation is off by, as a share. */
function missed(found: Air | null, air: Air, lab = labOf): { deltaE: number; share: number } {
  expect(found).not.toBeNull();
  return {
    deltaE: differenceCiede2000(lab(found!.color), labOf(air.color)),
    share: Math.max(...air.perM.map((v, c) => Math.abs(found!.perM[c] / v - 1))),
  };
}

/** The one whose far bank still shows a fifth of its own light: what is dark there and the air tell each other apart least. */
const THIN = 4;
/** Densities from a thick morning to one that hides half of what is 140 m away. Ångström's law with exponents between 0.3 and 2. */
const AIRS: Air[] = [
  [40, 0.5, [0.5, 0.5, 0.55]],
  [60, 2, [0.6, 0.45, 0.4]],
  [80, 1.2, [0.72, 0.4, 0.14]],
  [120, 0.3, [0.3, 0.32, 0.36]],
  [200, 1.3, [0.35, 0.4, 0.55]],
].map(([metres, exponent, color]) => ({
  color: color as number[],
  perM: [610, 545, 465].map((nm) => (nm / 545) ** -(exponent as number) / (metres as number)),
}));

it("air that was laid before a frame is found by distances: its light within 3 ΔE and what it hides within 10 % where it hides most of the far bank, less surely where it is thin", () => {
  const { seen, metres, horizon } = scene("demo/septembers/septembers-2.jpg");
  const all = AIRS.map((air) => {
    const planes = seen.planes.map((plane, c) =>
      Float32Array.from(plane, (v, i) => {
        // the sky is behind all of it
        const t = Math.exp(-air.perM[c] * (metres[i] || 2000));
        return decodeSrgb(Math.round(255 * encodeSrgb(v * t + air.color[c] * (1 - t))) / 255);
      }),
    );
    const hazy = { ...seen, planes };
    const light = horizonLight(hazy, () => horizon)!;
    return missed(fitHaze(placesOf(hazy, metres), { light, sigma: 0.1 }), air);
  });
  process.stdout.write(`air laid before a frame: ${JSON.stringify(all)}\n`);
  all.forEach(({ deltaE, share }, k) => {
    expect(deltaE).toBeLessThanOrEqual(k === THIN ? 5 : 3);
    expect(share).toBeLessThanOrEqual(k === THIN ? 0.4 : k === THIN - 1 ? 0.2 : 0.1);
  });
});

it("the demo's air is found by rendered distances within 3 ΔE and 10 %, and what comes through falls with distance", () => {
  const { seen, metres, horizon } = scene("demo/haze/haze-1.jpg");
  const air = { color: TRUTH.airlight, perM: TRUTH.attenuationPerM };
  const light = horizonLight(seen, () => horizon)!;
  const found = missed(fitHaze(placesOf(seen, metres), { light, sigma: 0.1 }), air);
  process.stdout.write(`demo by depth: ${JSON.stringify(found)}\n`);
  expect(found.deltaE).toBeLessThanOrEqual(3);
  expect(found.share).toBeLessThanOrEqual(0.1);
  const map = mapAir(seen, 0, { color: air.color, hides: air.perM.map((v) => v / air.perM[1]) }, PLAIN_FILTERS);
  const bands = [5, 10, 20, 40, 100, 400];
  const left = bands.slice(1).map((to, k) => {
    const at = [...metres.keys()].filter((i) => metres[i] >= bands[k] && metres[i] < to);
    const light = (i: number) => LUMINANCE.reduce((sum, w, c) => sum + w * seen.planes[c][i], 0);
    return median(at.map((i) => Math.min(1, 2 ** (map.slope[i] * Math.log2(Math.max(1e-5, light(i))) + map.offset[i]))));
  });
  process.stdout.write(`green that comes through, by distance: ${JSON.stringify(left)}\n`);
  for (let k = 1; k < left.length; k++) expect(left[k]).toBeLessThan(left[k - 1]);
});

it("in the engine the demo's air is found by the ground alone within 3 ΔE and a quarter, and within a tenth with places whose distance is marked", async () => {
  const { horizon, heightPx, metres } = scene("demo/haze/haze-1.jpg");
  const node = await createNodeEngine(process.cwd(), undefined, 1);
  const gathered = await gatherFiles(node, "haze", ["demo/haze/haze-1.jpg"], SILENT);
  const frames = gathered.files.map((f) => f.frame!);
  const alone = setMerge(freshMerge("base"))(setRegistration(unmovedRegistration(frames, frames[0], 1), {})(gathered.records));
  const focalPx = (24 / 36) * 2 * W;
  const stance = stanceThrough([0, 2 * horizon], [2 * W - 1, 2 * horizon], focalPx, { width: 2 * W, height: 2 * H });
  const plated = tellPlate({ stance, horizonBy: "hand", heightM: (2 * heightPx) / focalPx, heightBy: "hand" })(alone);
  const air = { color: TRUTH.airlight, perM: TRUTH.attenuationPerM };
  const ground = missed(await node.ask("measureHaze", { records: plated }), air, workingToLab);
  // grass in the shade, the doorway, and trees of the far bank
  const hazeMarks = [
    [120, 560],
    [255, 310],
    [600, 266],
  ].map(([x, y]) => ({ x: 2 * x, y: 2 * y, distanceM: metres[y * W + x] }));
  const marked = missed(await node.ask("measureHaze", { records: tellPlate({ hazeMarks })(plated) }), air, workingToLab);
  process.stdout.write(`demo by ground, and with marks: ${JSON.stringify({ ground, marked })}\n`);
  expect(ground.deltaE).toBeLessThanOrEqual(3);
  expect(ground.share).toBeLessThanOrEqual(0.25);
  expect(marked.deltaE).toBeLessThanOrEqual(3);
  expect(marked.share).toBeLessThanOrEqual(0.1);
});
