import { exp2, log2 } from "../numeric/elementary";
import { solveSymmetric } from "../numeric/linearSystem";
import { median } from "../numeric/statistics";

/** Light around a lamp: at its rim, EV over white, and how it falls off with each doubling of the way from its middle, and by how much more with the next. */
export interface Spread {
  rimEv: number;
  fallEv: number;
  bendEv: number;
}

/** How light that a lens scatters falls off on each doubling of the angle: as its square. @see CIE 146:2002, disability glare: 1/θ² within 30° */
export const VEIL_FALL_EV = -2;
/** Where no lamp of the plate tells how much: a lens with a little dust on it, against the lamp itself. Common practice, no source. */
export const VEIL_RIM_EV = -6;

/** Rings of a lamp that are looked at: how many lamp radii out, and how many in a doubling. */
export const GLOW_RADII = 10;
const RINGS_A_DOUBLING = 3;
/** Where the surroundings are read, lamp radii. */
const BEYOND = [11, 16];
export const GLOW_BEYOND = BEYOND[1];
/** A ring tells where it is brighter than the surroundings by that share of them. */
const LEAST_OVER = 0.03;
/** Rings that tell, at least. */
const FEWEST = 5;
/** Places of a ring. */
const PLACES = 48;

/** A spread as it was measured, by how much a ring misses it, EV, and what the lamp's light looks like there: red, green, blue, of luminance 1. */
export interface MeasuredSpread extends Spread {
  missEv: number;
  color: number[];
}

/**
 * How far the light of a lamp spreads in the picture: medians of rings around it, less what lies beyond, fitted by a parabola of EV over doublings.
 * @param radius of the lamp itself, px @param lightAt red, green and blue of a place, linear; null outside of the picture @param luminance weights of them
 * @returns null where too little of the light around it is its own
 */
export function measureGlow(
  x: number,
  y: number,
  radius: number,
  lightAt: (x: number, y: number) => readonly number[] | null,
  luminance: readonly number[],
): MeasuredSpread | null {
  const ring = (r: number): number[] | null => {
    const seen: number[][] = [];
    for (let k = 0; k < PLACES; k++) {
      const angle = ((k + 0.5) / PLACES) * 2 * Math.PI;
      const light = lightAt(x + r * Math.cos(angle), y + r * Math.sin(angle));
      if (light) seen.push([...light]);
    }
    if (seen.length < PLACES / 4) return null;
    return [0, 1, 2].map((c) => median(seen.map((s) => s[c])));
  };
  const lum = (rgb: readonly number[]) => rgb.reduce((sum, v, c) => sum + luminance[c] * v, 0);
  const around = BEYOND.flatMap((r) => ring(r * radius) ?? []);
  const beyond = around.length ? [0, 1, 2].map((c) => Math.min(...around.filter((_, i) => i % 3 === c))) : [0, 0, 0];
  const floor = lum(beyond);
  const told: { doublings: number; ev: number }[] = [];
  const sums = [0, 0, 0];
  for (let k = 0; ; k++) {
    const doublings = (k + 1) / RINGS_A_DOUBLING;
    const r = radius * 2 ** doublings;
    if (r > GLOW_RADII * radius * 1.001) break;
    const light = ring(r);
    if (!light) continue;
    const own = light.map((v, c) => v - beyond[c]);
    const over = lum(own);
    if (!(over > LEAST_OVER * floor) || over <= 0) continue;
    told.push({ doublings, ev: Math.log2(over) });
    own.forEach((v, c) => (sums[c] += Math.max(0, v) / over));
  }
  if (told.length < FEWEST) return null;
  const fitted = fitParabola(told);
  const [rimEv, fallEv, bendEv] = [fitted[0], fitted[1], fitted[2]];
  const miss = told.reduce((most, { doublings: d, ev }) => Math.max(most, Math.abs(ev - rimEv - fallEv * d - bendEv * d * d)), 0);
  const luminous = lum(sums) || 1;
  return { rimEv, fallEv, bendEv, missEv: miss, color: sums.map((v) => v / luminous) };
}

/** EV = a + b d + c d², that never rises with the way from the lamp. */
function fitParabola(told: readonly { doublings: number; ev: number }[]): ArrayLike<number> {
  const fit = (terms: number): Float64Array | null => {
    const normal = new Float64Array(terms * terms);
    const right = new Float64Array(terms);
    for (const { doublings: d, ev } of told) {
      for (let i = 0; i < terms; i++) {
        right[i] += d ** i * ev;
        for (let j = 0; j < terms; j++) normal[i * terms + j] += d ** (i + j);
      }
    }
    return solveSymmetric(normal, right);
  };
  const bent = fit(3);
  const last = told.at(-1)!.doublings;
  if (bent && bent[1] <= 0 && bent[1] + 2 * bent[2] * last <= 0) return bent;
  const straight = fit(2);
  return straight && straight[1] < 0 ? [straight[0], straight[1], 0] : [told[0].ev, VEIL_FALL_EV, 0];
}

/** Light of a spread at a way from the middle, over white; inside of the rim as at it. @param radii the way, in radii of the lamp */
export function glowAt({ rimEv, fallEv, bendEv }: Spread, radii: number): number {
  const d = log2(Math.max(1, radii));
  // a parabola that would rise again goes on as a lens's veil from where it is lowest
  const turn = bendEv > 0 ? -fallEv / (2 * bendEv) : Infinity;
  const at = Math.min(d, turn);
  return exp2(rimEv + fallEv * at + bendEv * at * at + (d > turn ? VEIL_FALL_EV * (d - turn) : 0));
}
