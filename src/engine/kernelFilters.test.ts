/** Filters in kernels against the plain ones: borders, odd sizes, windows wider than the plane, any number of strips. */
import { PLAIN_FILTERS } from "../core/raster/filters";
import type { Plane } from "../core/raster/raster";
import type { Kernels } from "../kernels/Kernels";
import { loadKernels, randomOf } from "../../tests/support/kernels";
import { kernelFilters } from "./kernelFilters";

const random = randomOf(5);
const field = (width: number, height: number): Plane => ({
  width,
  height,
  data: Float32Array.from({ length: width * height }, (_, i) => 3 * Math.sin(i / 7) + random() + ((i % width) + i / width > 60 ? 4 : 0)),
});
const SIZES = [
  [1, 1],
  [3, 2],
  [7, 31],
  [65, 9],
  [130, 300],
] as const;
const worst = (a: Float32Array, b: Float32Array) => a.reduce((m, v, i) => Math.max(m, Math.abs(v - b[i])), a.length === b.length ? 0 : Infinity);

let kernels: Kernels;
beforeAll(async () => {
  kernels = await loadKernels();
});

it.each([0, 1, 4, 40])("means of radius %s are the plain ones, to the last bit", (radius) => {
  const filters = kernelFilters(kernels);
  for (const [w, h] of SIZES) {
    const f = field(w, h);
    expect(filters.boxMean(f, radius)).toEqual(PLAIN_FILTERS.boxMean(f, radius));
  }
});

it("a blur is the plain one", () => {
  const filters = kernelFilters(kernels);
  for (const [w, h] of SIZES)
    for (const sigma of [0.1, 0.5, 1.3, 1.99, 2, 6.5]) {
      const f = field(w, h);
      // sums of 13 products of f32, each way, of values up to 8
      expect(worst(filters.gaussianBlur(f, sigma), PLAIN_FILTERS.gaussianBlur(f, sigma))).toBeLessThan(1e-5);
    }
});

it.each([1, 5, 40])("a guided filter of radius %s is the plain one", (radius) => {
  const filters = kernelFilters(kernels);
  for (const [w, h] of SIZES) {
    const [guide, plane] = [field(w, h), field(w, h).data];
    // the plain one rounds means of squares of up to 64 to f32: 64 × 6e-8 / epsilon
    expect(worst(filters.guidedFilter(guide, plane, radius, 0.05), PLAIN_FILTERS.guidedFilter(guide, plane, radius, 0.05))).toBeLessThan(2e-3);
    const [a, b] = [filters.guidedCoefficients(guide, plane, radius, 0.05), PLAIN_FILTERS.guidedCoefficients(guide, plane, radius, 0.05)];
    expect(worst(a.slope, b.slope)).toBeLessThan(2e-3);
    expect(worst(a.offset, b.offset)).toBeLessThan(8e-3);
  }
});

it("planes that do not fit the kernels' memory go through the plain filters", () => {
  const wide = field(40_000, 2);
  expect(kernelFilters(kernels).boxMean(wide, 3)).toEqual(PLAIN_FILTERS.boxMean(wide, 3));
});
