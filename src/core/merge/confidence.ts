/** Variance = shot · x + readSquared for linear x of 0..1. */
export interface NoiseModel {
  shot: number;
  readSquared: number;
}

/** Light from which a frame counts as clipped, of its own white. */
const CLIPPED = 0.985;

/** Inverse variance of the light that one frame gives. @param t its exposure against the reference, 2^EV @see Granados et al. 2010, equation 3 (form recalled from memory) */
function weightOf(light: number, t: number, { shot, readSquared }: NoiseModel): number {
  return (t * t) / (shot * Math.max(0, light) * t + readSquared);
}

/**
 * Noise of a merged light against the light itself.
 * @param light 1 = white at the reference's exposure @param t exposure of the frame that gives most, 2^EV @param share what it gives, 0..1
 * @returns Infinity where that frame is clipped or there is no light
 */
export function relativeNoise(light: number, t: number, share: number, noise: NoiseModel): number {
  if (!(light > 0) || light * t >= CLIPPED || !(share > 0)) return Infinity;
  return 1 / (light * Math.sqrt(weightOf(light, t, noise) / share));
}

/** The least light that stands above its noise when all frames show it unclipped, EV against white. @param exposures 2^EV of each frame */
export function floorEv(exposures: readonly number[], noise: NoiseModel): number {
  let [low, high] = [-40, 0];
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2;
    const light = 2 ** middle;
    const weight = exposures.reduce((sum, t) => sum + (light * t < CLIPPED ? weightOf(light, t, noise) : 0), 0);
    if (light * light * weight > 1) high = middle;
    else low = middle;
  }
  return high;
}
