import { gaussianBlur, guidedCoefficients, guidedFilter } from "./blur";
import { boxMean } from "./boxMean";
import type { Plane } from "./raster";

/** Blurs and means of whole planes, however they are computed: what looks around itself takes them. */
export interface Filters {
  boxMean(field: Plane, radius: number): Float32Array;
  gaussianBlur(field: Plane, sigma: number): Float32Array;
  guidedFilter(guide: Plane, plane: Float32Array, radius: number, epsilon: number): Float32Array;
  guidedCoefficients(guide: Plane, plane: Float32Array, radius: number, epsilon: number): { slope: Float32Array; offset: Float32Array };
}

/** In plain code; also what the kernels are held to. */
export const PLAIN_FILTERS: Filters = { boxMean, gaussianBlur, guidedFilter, guidedCoefficients };
