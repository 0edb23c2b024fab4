/** Two lights of one ground, told apart by its luminance: above `fromEv`, softly over `softEv`, it lies in the light. */
export interface LitGround {
  fromEv: number;
  softEv: number;
}

/** Log2 light of places of a ground. */
export interface GroundLight {
  y: Float32Array;
  rgb: [Float32Array, Float32Array, Float32Array];
}

/** What of the ground lies in the light, and in the shade, at least, shares. */
const LEAST_LIT = 0.1;
const LEAST_SHADED = 0.04;
/** By what share of light over shade the two may lie apart more or less. */
const APART = 0.4;
/** Share of what differs between places that the two explain. */
const EXPLAINED = 0.75;
/** Shade under a sky is not warmer than the light beside it: red over green and blue over green, log2, of the dark over the bright; else they are two grounds. Common practice, no source. */
const [MOST_RED, LEAST_BLUE] = [0.1, -0.1];
/** How softly the one goes over into the other, of what they lie apart. */
const SOFT = 0.35;
const BINS = 256;

/**
 * Whether a ground lies partly in the light and partly in the shade already, as two groups of luminances that lie as far apart as those do.
 * @param logLight of places on it, log2: luminance, and red, green and blue @param ratioEv light over shade @returns null where all of it lies in one
 * @see Otsu 1979, "A threshold selection method from gray-level histograms"
 */
export function litGround({ y: logLight, rgb }: GroundLight, ratioEv: number): LitGround | null {
  const n = logLight.length;
  if (n === 0) return null;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < n; i++) [low, high] = [Math.min(low, logLight[i]), Math.max(high, logLight[i])];
  if (!(high > low)) return null;
  const counts = new Float64Array(BINS);
  const valueOf = (bin: number) => low + ((bin + 0.5) / BINS) * (high - low);
  for (let i = 0; i < n; i++) counts[Math.min(BINS - 1, Math.floor(((logLight[i] - low) / (high - low)) * BINS))]++;
  const [total, square] = counts.reduce(([s, q], c, b) => [s + c * valueOf(b), q + c * valueOf(b) ** 2], [0, 0]);
  const variance = square / n - (total / n) ** 2;
  let best = { between: 0, dark: 0, bright: 0, share: 0 };
  let [count, sum] = [0, 0];
  for (let b = 0; b < BINS - 1; b++) {
    count += counts[b];
    sum += counts[b] * valueOf(b);
    if (count === 0 || count === n) continue;
    const [dark, bright, share] = [sum / count, (total - sum) / (n - count), count / n];
    const between = share * (1 - share) * (bright - dark) ** 2;
    if (between > best.between) best = { between, dark, bright, share };
  }
  const apart = best.bright - best.dark;
  const isSo = best.share >= LEAST_SHADED && 1 - best.share >= LEAST_LIT && Math.abs(apart / ratioEv - 1) < APART && best.between > EXPLAINED * variance;
  return isSo && !isWarmer(logLight, rgb, (best.dark + best.bright) / 2)
    ? { fromEv: (best.dark + best.bright) / 2 + (SOFT * apart) / 2, softEv: SOFT * apart }
    : null;
}

/** Whether what is darker than a place between the two is warmer than what is brighter. */
function isWarmer(y: Float32Array, [r, g, b]: GroundLight["rgb"], between: number): boolean {
  const sums = { dark: [0, 0, 0], bright: [0, 0, 0] };
  for (let i = 0; i < y.length; i++) {
    const s = y[i] < between ? sums.dark : sums.bright;
    s[0] += r[i] - g[i];
    s[1] += b[i] - g[i];
    s[2]++;
  }
  const change = (k: number) => sums.dark[k] / Math.max(1, sums.dark[2]) - sums.bright[k] / Math.max(1, sums.bright[2]);
  return change(0) > MOST_RED || change(1) < LEAST_BLUE;
}
