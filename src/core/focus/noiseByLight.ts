import { quantile } from "../numeric/statistics";

/** Steps of light in which noise is told apart, and the most that resampling and files make of what was measured, times. */
const STEPS = 16;
const MOST_NOISE = 8;
/** So much of a frame at any light shows nothing sharp. */
const UNSHARP_SHARE = 0.2;
/** Mean of the energies gathered from white noise over the one a fifth of them lie below; by simulation. */
const MEAN_OVER_QUANTILE = 1.07;
/** Cells looked at for the noise of a frame. */
const LOOKED_AT = 60_000;

/**
 * The energy that noise alone makes in a frame, by light. It is read off the frame itself, which is out of focus almost everywhere:
 * frames that were resampled have less of it than the reference, and the dark has another than the bright.
 * @param measured what the noise measured in flat areas makes @returns energy at a light, 0 where that is NaN
 */
export function noiseByLight(energy: Float32Array, light: Float32Array, measured: number): (light: number) => number {
  const seen: number[][] = Array.from({ length: STEPS }, () => []);
  const every = Math.max(1, Math.floor(energy.length / LOOKED_AT));
  const stepOf = (v: number) => Math.max(0, Math.min(STEPS - 1, Math.floor(v * STEPS)));
  for (let i = 0; i < energy.length; i += every) if (!Number.isNaN(light[i])) seen[stepOf(light[i])].push(energy[i]);
  const enough = seen.map((v) => v.length >= 100);
  const level = seen.map((v, i) => (enough[i] ? Math.min(MEAN_OVER_QUANTILE * quantile(v, UNSHARP_SHARE), MOST_NOISE * measured) : measured));
  return (v) => {
    if (Number.isNaN(v)) return 0;
    const at = Math.max(0, Math.min(STEPS - 1, v * STEPS - 0.5));
    const low = Math.floor(at);
    const high = Math.min(STEPS - 1, low + 1);
    return level[low] + (level[high] - level[low]) * (at - low);
  };
}
