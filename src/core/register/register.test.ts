import { sentence } from "../../messages/sentence";
import { randomOf } from "../../../tests/support/kernels";
import { invert, multiply, normalize, project, type Matrix3 } from "../geometry/matrix3";
import type { SourceRaster } from "../raster/raster";
import { adjustSet } from "./adjustSet";
import { buildGreyPyramid } from "./greyPyramid";
import { normalizer } from "./models";
import { supportOf } from "./otherSolutions";
import { registerSet, workHere } from "./registerSet";
import { describeFrame } from "./setFrames";
import { RegionMask } from "./regions";
import { encodeSrgb } from "../color/srgbCurve";

/** A scene as a sum of many smooth bumps, so that it can be sampled anywhere without interpolation. */
function sceneOf(seed: number) {
  const random = randomOf(seed);
  const bumps = Array.from({ length: 260 }, () => ({ x: random() * 560 - 40, y: random() * 420 - 40, r: 5 + random() * 16, a: random() * 0.5 - 0.15 }));
  return (x: number, y: number) => {
    let sum = 0.22;
    for (const b of bumps) {
      const d = ((x - b.x) * (x - b.x) + (y - b.y) * (y - b.y)) / (b.r * b.r);
      if (d < 16) sum += b.a * Math.exp(-d);
    }
    return sum;
  };
}

function shoot(scene: (x: number, y: number) => number, movingToReference: Matrix3, ev: number, width = 480, height = 340): SourceRaster {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = project(movingToReference, x, y);
      data.fill(Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, scene(u, v) * 2 ** ev)))), (y * width + x) * 3, (y * width + x) * 3 + 3);
    }
  }
  return { width, height, bits: 8, data };
}

const run = async (rasters: SourceRaster[], reference: number) => {
  const pyramids = rasters.map((r) => buildGreyPyramid(r));
  return registerSet(pyramids.map(describeFrame), { model: "homography", reference, order: "ladder", work: workHere(async (i) => pyramids[i], null) });
};

const meanError = (a: Matrix3, b: Matrix3) => {
  let sum = 0;
  let n = 0;
  for (let y = 0; y < 340; y += 20) {
    for (let x = 0; x < 480; x += 20) {
      const [p, q] = [project(a, x, y), project(b, x, y)];
      sum += Math.hypot(p[0] - q[0], p[1] - q[1]);
      n++;
    }
  }
  return sum / n;
};

it("finds shift, turn and perspective over a bracket to 0.1 px", async () => {
  const scene = sceneOf(5);
  const moves: Matrix3[] = [
    [0.9994, -0.035, 9, 0.035, 0.9994, -14, 0, 0, 1],
    [1, 0, 0, 0, 1, 0, 0, 0, 1],
    [1.004, 0.012, -22, -0.011, 1.003, 8, 1e-5, -8e-6, 1],
  ];
  const results = await run([shoot(scene, moves[0], -2), shoot(scene, moves[1], 0), shoot(scene, moves[2], 1.7)], 1);
  expect(results[1]).toMatchObject({ registered: true, residualPx: 0 });
  for (const i of [0, 2]) {
    expect(results[i].registered).toBe(true);
    expect(meanError(results[i].matrix!, moves[i])).toBeLessThan(0.1);
    expect(results[i].agreeing).toBeGreaterThan(0.9);
  }
});

it("leaves out a frame of another scene and says why", async () => {
  const same: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const results = await run([shoot(sceneOf(5), same, 0), shoot(sceneOf(5), [1, 0, 4, 0, 1, 3, 0, 0, 1], 1), shoot(sceneOf(99), same, 2)], 0);
  expect(results[1].registered).toBe(true);
  expect(results[2]).toMatchObject({ registered: false, matrix: null });
  expect(sentence(results[2].reason!)).toMatch(/another scene/);
});

it("noise, and a reference of which nearly all is marked away, are named as what was in the way", async () => {
  const same: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const pyramids = [sceneOf(5), sceneOf(99)].map((scene) => buildGreyPyramid(shoot(scene, same, 0)));
  const [first, second] = pyramids.map(describeFrame);
  const options = { model: "homography" as const, reference: 0, order: "ladder" as const, work: workHere(async (i) => pyramids[i], null) };
  const [, noisy] = await registerSet([first, { ...second, noiseSigma: 30 }], options);
  expect(sentence(noisy.reason!)).toMatch(/so noisy \(standard deviation 30 of 255/);
  // of two frames either may be the blurred one
  const [, blurred] = await registerSet(
    [
      { ...first, edgeWidthPx: 1.5 },
      { ...second, edgeWidthPx: 6 },
    ],
    options,
  );
  expect(sentence(blurred.reason!)).toMatch(/^The frame is blurred: its edges are 6\.0 px wide, 1\.5 px in the other frames/);
  const [, sharp] = await registerSet(
    [
      { ...first, edgeWidthPx: 6 },
      { ...second, edgeWidthPx: 1.5 },
    ],
    options,
  );
  expect(sentence(sharp.reason!)).toMatch(/^The other frames are blurred: their edges are 6\.0 px wide, 1\.5 px in this one/);
  const all = { purpose: "ignore" as const, shape: { kind: "box" as const, rectangle: { x: 0, y: 0, width: 480, height: 340 } } };
  const [, away] = await registerSet([first, second], {
    ...options,
    regions: [all],
    work: workHere(async (i) => pyramids[i], new RegionMask([all], 480, 340)),
  });
  expect(sentence(away.reason!)).toMatch(/Nearly all of the reference is marked as not to count/);
});

it("the joint adjustment spreads a contradiction by the pairs' weights", () => {
  const shift = (x: number): Matrix3 => [1, 0, x, 0, 1, 0, 0, 0, 1];
  const information = (w: number) => Float64Array.from({ length: 64 }, (_, i) => (i % 9 === 0 ? w : 0));
  // 0 → 1 says 10, 1 → 2 says 10, 0 → 2 says 26 with four times the weight of the others
  const edges = [
    { fixed: 0, moving: 1, matrix: shift(10), information: information(1) },
    { fixed: 1, moving: 2, matrix: shift(10), information: information(1) },
    { fixed: 0, moving: 2, matrix: shift(26), information: information(4) },
  ];
  const placed = [shift(0), invert(shift(10)), invert(shift(20))];
  const result = adjustSet(placed, edges, 0, 400, 300, "homography");
  const total = -result[2]![2];
  // to the first order, for pure shifts: least squares of (a − 10)² + (b − a − 10)² + 4 (b − 26)²: b = 20 + 6 · 4 / 4.5
  expect(total).toBeCloseTo(20 + (6 * 4) / 4.5, 1);
  expect(Math.abs(-result[1]![2] - total / 2)).toBeLessThan(0.1);
});

it("normalised coordinates put the corners at distance one", () => {
  const n = normalizer(401, 301);
  const [u, v] = project(n, 0, 0);
  expect(Math.hypot(u, v)).toBeCloseTo(Math.hypot(400, 300) / Math.hypot(401, 301), 12);
  expect(normalize(multiply(n, invert(n)))[0]).toBeCloseTo(1, 12);
});

it("a place speaks for a solution where it agrees under that one alone, among those under which it can be seen", () => {
  const at = (x: number, correlation: number, dx = 0) => ({ x, y: 0, dx, dy: 0, correlation });
  const [repeats, onlyHere, outside] = [10, 20, 30];
  const first = [at(repeats, 0.95), at(onlyHere, 0.9)];
  const second = [at(repeats, 0.94), at(onlyHere, 0.2), at(outside, 0.9)];
  expect(supportOf([first, second])).toEqual([1, 0]);
  // what correlates but lies elsewhere does not agree
  expect(supportOf([[at(repeats, 0.95)], [at(repeats, 0.95, 5)]])).toEqual([1, 0]);
});
