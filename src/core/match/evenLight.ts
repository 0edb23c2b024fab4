import { TO_REC709 } from "../color/primaries";
import { whiteBalanceMatrix } from "../color/whiteBalance";
import { multiply } from "../geometry/matrix3";
import { exp2, log2 } from "../numeric/elementary";
import { solveSymmetric } from "../numeric/linearSystem";
import type { Samples } from "./transfer";

/** What a frame is developed with to come to another: exposure, and the two of white balance. */
export interface Evening {
  exposureEv: number;
  mired: number;
  duv: number;
}

/** As far as a frame can be developed: EV, mired and Duv either way. */
export const DEVELOPED_BY: Evening = { exposureEv: 4, mired: 120, duv: 0.03 };

/** Light between which a channel tells: under it is noise, over it is clipped. Common practice, no source. */
const [DARK, CLIPPED] = [0.003, 0.96];
/** Places that are off by more, EV, count less and less: something moved there, or is lit by another lamp. */
const ODD_EV = 0.25;
const FEWEST = 200;
const [ROUNDS, DONE] = [30, 1e-6];
/** Steps by which slopes are told: EV, mired, Duv. */
const STEP: Evening = { exposureEv: 0.01, mired: 0.5, duv: 1e-4 };
const NAMES = ["exposureEv", "mired", "duv"] as const;

/** Samples of which every channel tells, on both sides. */
export function bothTell(own: Samples, wanted: Samples): { own: Samples; wanted: Samples } {
  const [mine, theirs]: number[][] = [[], []];
  for (let i = 0; i < 3 * own.count; i += 3) {
    let tells = true;
    for (let c = i; c < i + 3; c++) tells &&= own.light[c] > DARK && own.light[c] < CLIPPED && wanted.light[c] > DARK && wanted.light[c] < CLIPPED;
    if (!tells) continue;
    for (let c = i; c < i + 3; c++) {
      mine.push(own.light[c]);
      theirs.push(wanted.light[c]);
    }
  }
  const count = mine.length / 3;
  return { own: { count, light: Float32Array.from(mine) }, wanted: { count, light: Float32Array.from(theirs) } };
}

/** Share of samples that are clipped in a channel. */
export function clippedShare({ count, light }: Samples): number {
  let clipped = 0;
  for (let i = 0; i < 3 * count; i += 3) if (Math.max(light[i], light[i + 1], light[i + 2]) >= CLIPPED) clipped++;
  return count === 0 ? 0 : clipped / count;
}

/** Two sides that show something else, as if they showed the same: each channel's light in the order of its brightness. */
export function asIfPlaces(own: Samples, wanted: Samples, places = 400): { own: Samples; wanted: Samples } {
  const ordered = ({ count, light }: Samples): Samples => {
    const out = new Float32Array(3 * places);
    for (let c = 0; c < 3; c++) {
      const channel = Float32Array.from({ length: count }, (_, i) => light[3 * i + c]).sort();
      for (let k = 0; k < places; k++) out[3 * k + c] = channel[Math.min(count - 1, Math.floor(((k + 0.5) / places) * count))];
    }
    return { count: places, light: out };
  };
  return { own: ordered(own), wanted: ordered(wanted) };
}

/** Exposure and white balance as one matrix of working light. */
export const eveningMatrix = ({ exposureEv, mired, duv }: Evening): number[] => whiteBalanceMatrix(mired, duv).map((v) => v * exp2(exposureEv));

/**
 * Exposure and white balance that bring samples to those of the same places, robustly: log2 light of each channel, places that moved outweighed by the others.
 * @returns null where too few places tell
 */
export function evenLight(own: Samples, wanted: Samples): Evening | null {
  const told = bothTell(own, wanted);
  if (told.own.count < FEWEST) return null;
  const target = logLight(told.wanted, TO_REC709);
  const made = (e: Evening) => logLight(told.own, multiply(TO_REC709, eveningMatrix(e)));
  let at: Evening = { exposureEv: 0, mired: 0, duv: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    const now = made(at);
    const slopes = NAMES.map((name) => {
      const moved = made({ ...at, [name]: at[name] + STEP[name] });
      // in steps of its own size, so that all three are of a size
      return moved.map((v, i) => v - now[i]);
    });
    const normal = new Float64Array(9);
    const right = new Float64Array(3);
    for (let i = 0; i < now.length; i++) {
      const off = target[i] - now[i];
      const weight = 1 / (1 + (off / ODD_EV) ** 2);
      for (let a = 0; a < 3; a++) {
        right[a] += weight * slopes[a][i] * off;
        for (let b = 0; b < 3; b++) normal[3 * a + b] += weight * slopes[a][i] * slopes[b][i];
      }
    }
    const change = solveSymmetric(normal, right);
    if (!change) return null;
    const next = { ...at };
    NAMES.forEach((name, a) => {
      next[name] = Math.max(-DEVELOPED_BY[name], Math.min(DEVELOPED_BY[name], at[name] + change[a] * STEP[name]));
    });
    const moved = NAMES.reduce((sum, name) => sum + ((next[name] - at[name]) / STEP[name]) ** 2, 0);
    at = next;
    if (moved < DONE) break;
  }
  return at;
}

/** log2 of each channel of all samples. */
function logLight({ count, light }: Samples, m: readonly number[]): Float64Array {
  const out = new Float64Array(3 * count);
  for (let i = 0; i < 3 * count; i += 3) {
    const [r, g, b] = [light[i], light[i + 1], light[i + 2]];
    for (let c = 0; c < 3; c++) out[i + c] = log2(Math.max(1e-5, m[3 * c] * r + m[3 * c + 1] * g + m[3 * c + 2] * b));
  }
  return out;
}
