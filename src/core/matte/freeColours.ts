import { BACKGROUND, bandOf, FOREGROUND, halvedField, halvedPlane, UNKNOWN, type Band, type Colours, type MatteField } from "./trimap";

/** Colours of both sides in a band, three values a sample, linear light. */
export interface FreedColours {
  front: Float32Array;
  back: Float32Array;
}

/** Weight of smoothness that holds everywhere, and of that which holds where alpha changes. As published. */
const [EVERYWHERE, WITH_ALPHA] = [1e-5, 1];
/** Sweeps over a small field, and over a large one. As published. */
const [SWEEPS_SMALL, SWEEPS_LARGE] = [10, 2];
const SMALL_SIDE = 32;
/** Both the least and the most light that a colour may be found to have. */
const MOST = 64;

/**
 * Colours of what is in front, freed from what is behind it, and the reverse: what both mix to is the picture, and each is as even as can be where alpha changes. Coarse to fine.
 * @param alpha of every sample of the field, 0..1; it counts in the band only
 * @see Germer, Uelwer, Conrad, Harmeling 2020, "Fast multi-level foreground estimation"; here over the band alone, known samples beside it held
 */
export function freeColours(field: MatteField, band: Band, alpha: Float32Array): FreedColours {
  const { width, height, rgb, known, plate } = field;
  const n = band.places.length;
  const out: FreedColours = { front: new Float32Array(3 * n), back: new Float32Array(3 * n) };
  if (n === 0) return out;
  if (Math.min(width, height) > 1) {
    const half = halvedField(field);
    const halfBand = bandOf(half.known);
    const coarse = freeColours(half, halfBand, halvedPlane(alpha, width, height));
    const w = half.width;
    for (let k = 0; k < n; k++) {
      const x = band.places[k] % width;
      const j = (((band.places[k] - x) / width) >> 1) * w + (x >> 1);
      // a sample of the band lies in one of the band of half the size
      const at = 3 * halfBand.index[j];
      for (let c = 0; c < 3; c++) {
        out.front[3 * k + c] = coarse.front[at + c];
        out.back[3 * k + c] = coarse.back[at + c];
      }
    }
  } else {
    for (let k = 0; k < n; k++) for (let c = 0; c < 3; c++) out.front[3 * k + c] = out.back[3 * k + c] = rgb[c][band.places[k]];
  }
  if (plate) for (let k = 0; k < n; k++) for (let c = 0; c < 3; c++) out.back[3 * k + c] = plate[c][band.places[k]];
  const sweeps = Math.max(width, height) <= SMALL_SIDE ? SWEEPS_SMALL : SWEEPS_LARGE;
  for (let sweep = 0; sweep < sweeps; sweep++) relax(rgb, width, height, known, band, alpha, out, plate !== null);
  return out;
}

function relax(
  rgb: Colours,
  width: number,
  height: number,
  known: Uint8Array,
  { places, index }: Band,
  alpha: Float32Array,
  { front, back }: FreedColours,
  isPlateKnown: boolean,
): void {
  const sum = new Float64Array(6);
  for (let k = 0; k < places.length; k++) {
    const i = places[k];
    const x = i % width;
    const a = alpha[i];
    let [frontWeight, backWeight] = [0, 0];
    sum.fill(0);
    for (let side = 0; side < 4; side++) {
      const j =
        side === 0 ? (x > 0 ? i - 1 : -1) : side === 1 ? (x < width - 1 ? i + 1 : -1) : side === 2 ? i - width : i + width < width * height ? i + width : -1;
      if (j < 0) continue;
      const weight = EVERYWHERE + WITH_ALPHA * Math.abs(a - alpha[j]);
      const m = 3 * index[j];
      // a known sample has a colour on its own side only
      if (known[j] !== BACKGROUND) {
        frontWeight += weight;
        for (let c = 0; c < 3; c++) sum[c] += weight * (known[j] === FOREGROUND ? rgb[c][j] : front[m + c]);
      }
      if (known[j] !== FOREGROUND) {
        backWeight += weight;
        for (let c = 0; c < 3; c++) sum[3 + c] += weight * (known[j] === BACKGROUND ? rgb[c][j] : back[m + c]);
      }
    }
    frontWeight = Math.max(EVERYWHERE, frontWeight);
    backWeight = Math.max(EVERYWHERE, backWeight);
    const at = 3 * k;
    for (let c = 0; c < 3; c++) {
      const light = rgb[c][i];
      const evenFront = sum[c] || frontWeight * front[at + c];
      if (isPlateKnown) {
        front[at + c] = limited((a * (light - (1 - a) * back[at + c]) + evenFront) / (a * a + frontWeight));
        continue;
      }
      const evenBack = sum[3 + c] || backWeight * back[at + c];
      const [p, q, r] = [a * a + frontWeight, a * (1 - a), (1 - a) * (1 - a) + backWeight];
      const [u, v] = [a * light + evenFront, (1 - a) * light + evenBack];
      const scale = 1 / (p * r - q * q);
      front[at + c] = limited((r * u - q * v) * scale);
      back[at + c] = limited((p * v - q * u) * scale);
    }
  }
}

const limited = (v: number) => Math.min(MOST, Math.max(0, v));

/** Colours of what is in front over the whole field: a known sample's own, the freed one in the band, none behind. */
export function frontPlanes({ width, height, rgb, known }: MatteField, { index }: Band, { front }: FreedColours): Colours {
  const planes = rgb.map(() => new Float32Array(width * height)) as unknown as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < known.length; i++) {
    if (known[i] === BACKGROUND) continue;
    for (let c = 0; c < 3; c++) planes[c][i] = known[i] === UNKNOWN ? front[3 * index[i] + c] : rgb[c][i];
  }
  return planes;
}
