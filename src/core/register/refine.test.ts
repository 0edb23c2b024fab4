import { createPhotometry } from "./photometry";
import { refine, type GreyLevel, type RefineOptions } from "./refine";
import type { Matrix3 } from "../geometry/matrix3";

const [WIDTH, HEIGHT] = [160, 120];
/** Waves of several lengths, seen `dx` px further on. */
const waves = (dx: number): GreyLevel => ({
  width: WIDTH,
  height: HEIGHT,
  data: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [(i % WIDTH) + dx, Math.floor(i / WIDTH)];
    return 32000 + 9000 * Math.sin(x / 5 + y / 9) + 7000 * Math.sin(x / 11 - y / 4) + 5000 * Math.cos(y / 7);
  }),
});
const STILL: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const options: RefineOptions = { model: "affine", budget: 4000, iterations: 30 };

it("a pair refined again, after other numbers of points and other levels, is refined as if for the first time", () => {
  const [fixed, moving, other] = [waves(0), waves(-1.3), waves(40)];
  const cold = refine(fixed, moving, createPhotometry(0), STILL, options);
  expect(cold.matrix[2]).toBeCloseTo(1.3, 2);
  const warm = createPhotometry(0);
  refine(fixed, moving, warm, STILL, { ...options, budget: 900 });
  refine(other, moving, warm, STILL, options);
  // those of a lens are moved, and are no one else's
  refine(fixed, moving, warm, STILL, { ...options, fixedLens: { k1: -0.1, k2: 0 } });
  refine(fixed, moving, warm, STILL, { ...options, selection: { bounds: { x: 0, y: 0, width: 80, height: 60 }, counts: () => true } });
  for (const pass of [1, 2]) expect([pass, refine(fixed, moving, warm, STILL, options)]).toEqual([pass, cold]);
});

it("a trial comes nearly as near", () => {
  const photometry = createPhotometry(0);
  const trial = refine(waves(0), waves(-1.3), photometry, STILL, { ...options, isTrial: true });
  expect(trial.converged).toBe(true);
  expect(Math.abs(trial.matrix[2] - 1.3)).toBeLessThan(0.05);
});
