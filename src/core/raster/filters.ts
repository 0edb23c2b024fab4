import { gaussianBlur, guidedCoefficients, guidedFilter } from "./blur";
import { boxMean, type Field } from "./boxMean";

/** Blurs and means of whole planes, however they are computed: what looks around itself takes them. */
export interface Filters {
  boxMean(field: Field, radius: number): Float32Array;
  gaussianBlur(field: Field, sigma: number): Float32Array;
  guidedFilter(guide: Field, plane: Float32Array, radius: number, epsilon: number): Float32Array;
  guidedCoefficients(guide: Field, plane: Float32Array, radius: number, epsilon: number): { slope: Float32Array; offset: Float32Array };
}

/** In plain code; also what the kernels are held to. */
export const PLAIN_FILTERS: Filters = { boxMean, gaussianBlur, guidedFilter, guidedCoefficients };
