import { boxRadii, edgeTotals, gaussianWeights, LEAST_SIGMA, SMALLEST_BOXED } from "../core/raster/blur";
import type { Plane } from "../core/raster/raster";
import { PLAIN_FILTERS, type Filters } from "../core/raster/filters";
import type { Kernels, Scope } from "../kernels/Kernels";

/** Rows after which carried sums begin anew. */
const CARRIED = 128;
/** Columns summed at once. */
const COLUMNS = 256;
/** Bytes of sums for each column. */
const SUMS = 32;
/** What planes of one call may take of the kernels' memory, so that what a merge holds there meanwhile has room too. */
const LARGEST = 320e6;

/** The filters of whole planes in kernels. Planes too large for the kernels' memory go through the plain ones. */
export function kernelFilters(kernels: Kernels): Filters {
  const fits = ({ width, height }: Plane, planes: number) => width * SUMS <= kernels.scratchBytes && width * height * 4 * planes <= LARGEST;
  const put = (scope: Scope, data: Float32Array) => {
    const at = scope.floats(data.length + 16);
    kernels.f32(at, data.length).set(data);
    return at;
  };
  /** Means of the plane at `at`, left there. */
  const box = (at: number, across: number, { width, height }: Plane, radius: number) => {
    kernels.run("boxAcrossRows", [at, width, across, radius], 0, height);
    kernels.run("boxDownColumns", [across, width, height, at, radius], 0, width, COLUMNS);
  };
  /** Addresses of slopes and offsets. */
  const guide = (scope: Scope, guide: number, plane: number, { width, height, data }: Plane, radius: number, epsilon: number) => {
    const [slope, offset] = [scope.floats(data.length + 16), scope.floats(data.length + 16)];
    kernels.run("guideRows", [guide, plane, width, height, radius, epsilon, slope, offset], 0, height, CARRIED);
    return { slope, offset };
  };
  return {
    boxMean(field, radius) {
      if (!fits(field, 2)) return PLAIN_FILTERS.boxMean(field, radius);
      return kernels.withScope((scope) => {
        const at = put(scope, field.data);
        box(at, scope.floats(field.data.length + 16), field, radius);
        return kernels.f32(at, field.data.length).slice();
      });
    },
    gaussianBlur(field, sigma) {
      if (sigma < LEAST_SIGMA) return field.data;
      if (!fits(field, 2)) return PLAIN_FILTERS.gaussianBlur(field, sigma);
      return kernels.withScope((scope) => {
        if (sigma < SMALLEST_BOXED) return weighted(kernels, scope, field, gaussianWeights(sigma));
        const [at, across] = [put(scope, field.data), scope.floats(field.data.length + 16)];
        for (const radius of boxRadii(sigma)) if (radius) box(at, across, field, radius);
        return kernels.f32(at, field.data.length).slice();
      });
    },
    guidedFilter(field, plane, radius, epsilon) {
      if (!fits(field, 4)) return PLAIN_FILTERS.guidedFilter(field, plane, radius, epsilon);
      return kernels.withScope((scope) => {
        const [guided, out] = [put(scope, field.data), put(scope, plane)];
        const { slope, offset } = guide(scope, guided, out, field, radius, epsilon);
        kernels.run("guidedRows", [slope, offset, field.width, field.height, radius, guided, out, 0], 0, field.height, CARRIED);
        return kernels.f32(out, plane.length).slice();
      });
    },
    guidedCoefficients(field, plane, radius, epsilon) {
      if (!fits(field, 4)) return PLAIN_FILTERS.guidedCoefficients(field, plane, radius, epsilon);
      return kernels.withScope((scope) => {
        const [guided, other] = [put(scope, field.data), put(scope, plane)];
        const { slope, offset } = guide(scope, guided, other, field, radius, epsilon);
        kernels.run("guidedRows", [slope, offset, field.width, field.height, radius, 0, guided, other], 0, field.height, CARRIED);
        return { slope: kernels.f32(guided, plane.length).slice(), offset: kernels.f32(other, plane.length).slice() };
      });
    },
  };
}

/** A blur by its own weights: over a plane with a border of nothing, which is then left out of the weights' sum. */
function weighted(kernels: Kernels, scope: Scope, { width, height, data }: Plane, weights: Float64Array): Float32Array {
  const reach = (weights.length - 1) / 2;
  const [w, h] = [width + 2 * reach, height + 2 * reach];
  const at = scope.floats(w * h + 16);
  const plane = kernels.f32(at, w * h).fill(0);
  for (let y = 0; y < height; y++) plane.set(data.subarray(y * width, (y + 1) * width), (y + reach) * w + reach);
  const total = weights.reduce((sum, v) => sum + v, 0);
  const half = scope.matrix(Array.from(weights.subarray(reach), (v) => v / total));
  const out = scope.floats(w * h + 16);
  kernels.run("convolveRows", [at, w, h, half, reach, out], 0, h);
  const blurred = kernels.f32(out, w * h);
  const result = new Float32Array(width * height);
  for (let y = 0; y < height; y++) result.set(blurred.subarray((y + reach) * w + reach, (y + reach) * w + reach + width), y * width);
  const [across, down] = [edgeTotals(width, weights), edgeTotals(height, weights)].map((totals) => totals.map((v) => v / total));
  for (let y = 0; y < height; y++) {
    const whole = y >= reach && y < height - reach;
    for (let x = 0; x < width; x++) {
      if (whole && x === reach && width > 2 * reach) x = width - reach;
      result[y * width + x] /= across[x] * down[y];
    }
  }
  return result;
}
