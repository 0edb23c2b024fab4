import type { Convolve } from "./detectFeatures";
import type { Products } from "./matchFeatures";

/** Faster ways to find and to compare features than the plain ones; each may be left out. */
export interface FeatureTools {
  convolve?: Convolve;
  products?: Products;
}
