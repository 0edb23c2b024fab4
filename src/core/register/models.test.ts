import { distort } from "../geometry/lens";
import { project, type Matrix3 } from "../geometry/matrix3";
import { compareModels, errorElsewhere, fitModel, fitPoints, FREEDOM, MODELS, type Correspondence } from "./models";
import { RegionMask } from "./regions";
import { randomOf } from "../../../tests/support/kernels";

const size = { width: 900, height: 600 };
const cases: { model: (typeof MODELS)[number]; matrix: Matrix3; k1?: number }[] = [
  { model: "translation", matrix: [1, 0, 7.3, 0, 1, -4.1, 0, 0, 1] },
  // 1.2 % about the centre (449.5, 299.5)
  { model: "breathing", matrix: [1.012, 0, -0.012 * 449.5, 0, 1.012, -0.012 * 299.5, 0, 0, 1] },
  { model: "similarity", matrix: [1.01, -0.05, 12, 0.05, 1.01, 3, 0, 0, 1] },
  { model: "affine", matrix: [1.01, -0.02, 12, 0.05, 0.97, 3, 0, 0, 1] },
  { model: "homography", matrix: [1.01, -0.02, 12, 0.05, 0.97, 3, 2e-5, -3e-5, 1] },
  { model: "radial", matrix: [1.01, -0.02, 12, 0.05, 0.97, 3, 2e-5, -3e-5, 1], k1: -0.04 },
];

/** Correspondences of a known map with noise of a given size. */
function shown(matrix: Matrix3, k1: number, noisePx: number): Correspondence[] {
  const random = randomOf(3);
  const points: Correspondence[] = [];
  for (let y = 30; y < 600; y += 60) {
    for (let x = 30; x < 900; x += 60) {
      const [u, v] = distort({ k1, k2: 0 }, size, ...project(matrix, x, y));
      points.push({ x, y, u: u + noisePx * (random() - 0.5), v: v + noisePx * (random() - 0.5) });
    }
  }
  return points;
}

it.each(cases)("$model is found exactly from exact places", ({ model, matrix, k1 = 0 }) => {
  const fit = fitModel(model, shown(matrix, k1, 0), size, size, [1, 0, 0, 0, 1, 0, 0, 0, 1])!;
  expect(fit.rmsPx).toBeLessThan(1e-6);
  fit.matrix.forEach((v, i) => expect(v).toBeCloseTo(matrix[i], 7));
  expect(fit.lens?.k1 ?? 0).toBeCloseTo(k1, 7);
});

it.each(cases)("$model is proposed where it is the simplest that explains the places", ({ model, matrix, k1 = 0 }) => {
  const compared = compareModels(shown(matrix, k1, 0.1), size, size, matrix, { k1, k2: 0 })!;
  expect(compared.proposed).toBe(model);
  // richer models never explain less
  const rms = compared.fits.filter((f) => f.model !== "breathing").map((f) => f.rmsPx);
  for (let i = 1; i < rms.length; i++) expect(rms[i]).toBeLessThanOrEqual(rms[i - 1] + 1e-6);
  expect(MODELS.map((m) => FREEDOM[m])).toEqual([2, 1, 4, 6, 8, 9]);
});

it("control points give a shift, then turn and scale, then more", () => {
  const truth = cases[2].matrix;
  const at = (x: number, y: number) => [x, y, ...project(truth, x, y)];
  expect(fitPoints([], size, size, null)).toBeNull();
  const one = fitPoints([at(100, 80)], size, { width: 300, height: 200 }, null)!;
  expect(project(one.matrix, 100, 80)).toEqual(project(truth, 100, 80));
  expect(one.matrix[0]).toBe(1);
  const two = fitPoints([at(100, 80), at(700, 500)], size, size, null)!;
  expect(two.model).toBe("similarity");
  two.matrix.forEach((v, i) => expect(v).toBeCloseTo(truth[i], 6));
});

describe("regions", () => {
  const box = { purpose: "lineUp" as const, shape: { kind: "box" as const, rectangle: { x: 100, y: 50, width: 200, height: 100 } } };

  it("without something that has to line up everything counts but what is ignored", () => {
    const mask = new RegionMask([{ ...box, purpose: "ignore" }], 900, 600);
    expect(mask.pinned).toBe(false);
    expect([mask.has(150, 80), mask.has(500, 300)]).toEqual([false, true]);
    expect(mask.share).toBeCloseTo(1 - (200 * 100) / (900 * 600), 3);
  });

  it("with it only that counts, at every level, less what is ignored in it", () => {
    const stroke = { purpose: "ignore" as const, shape: { kind: "brush" as const, points: [100, 100, 300, 100], diameterPx: 40 } };
    const mask = new RegionMask([box, stroke], 900, 600);
    expect(mask.pinned).toBe(true);
    expect(mask.bounds).toEqual({ x: 100, y: 50, width: 200, height: 100 });
    expect([mask.has(150, 60), mask.has(150, 100), mask.has(150, 140), mask.has(50, 60)]).toEqual([true, false, true, false]);
    const half = mask.atLevel(1);
    expect(half.bounds).toEqual({ x: 50, y: 25, width: 100, height: 50 });
    expect([half.counts(75, 30), half.counts(75, 50)]).toEqual([true, false]);
  });
});

describe("the error to be expected where nothing was there to hold on to", () => {
  const size = { width: 1200, height: 800 };
  const still = { matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], lens: null };
  const spread = (x0: number, y0: number, x1: number, y1: number) =>
    Array.from({ length: 40 }, (_, i) => ({ x: x0 + ((x1 - x0) * (i % 8)) / 7, y: y0 + ((y1 - y0) * Math.floor(i / 8)) / 4 }));

  it("of a shift is that of a mean in two directions", () => {
    expect(errorElsewhere({ model: "translation", ...still }, spread(0, 0, 1199, 799), size, size, 0.5)).toBeCloseTo(0.5 * Math.sqrt(2 / 40), 6);
  });

  it("of a fit agrees with the scatter of fits to noisy places", () => {
    const places = spread(100, 100, 700, 500);
    const random = randomOf(3);
    const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const [cornerX, cornerY] = [1199, 799];
    let sum = 0;
    for (let k = 0; k < 200; k++) {
      const points = places.map(({ x, y }) => ({ x, y, u: x + 0.3 * gauss(), v: y + 0.3 * gauss() }));
      const { matrix, lens } = fitModel("radial", points, size, size, still.matrix)!;
      const [u, v] = distort(lens, size, ...project(matrix, cornerX, cornerY));
      sum += (u - cornerX) ** 2 + (v - cornerY) ** 2;
    }
    const predicted = errorElsewhere({ model: "radial", ...still }, places, size, size, 0.3);
    // 200 draws tell a standard deviation to 5 %
    expect(predicted / Math.sqrt(sum / 200)).toBeGreaterThan(0.85);
    expect(predicted / Math.sqrt(sum / 200)).toBeLessThan(1.15);
  });

  it("grows where the places lie together, and the more a model can do", () => {
    const corner = spread(50, 50, 350, 250);
    const error = (model: (typeof MODELS)[number], places = corner) => errorElsewhere({ model, ...still }, places, size, size, 0.3);
    expect(error("radial")).toBeGreaterThan(20 * error("radial", spread(50, 50, 1150, 750)));
    expect(error("radial")).toBeGreaterThan(error("homography"));
    expect(error("homography")).toBeGreaterThan(error("affine"));
    expect(error("homography", corner.slice(0, 2))).toBeGreaterThan(100);
  });
});
