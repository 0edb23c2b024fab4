import { invert, multiply, transform } from "../geometry/matrix3";
import { adaptation, WORKING_TO_XYZ, xyzOfChromaticity } from "./primaries";

/** D65 on the mired scale and its distance from the black-body locus in CIE 1960 uv (known values of the illuminant). */
const BASE_MIRED = 1e6 / 6504;
const BASE_DUV = 0.0032;

/** CIE 1960 uv of a black body. @see Krystek 1985, rational approximation, 1000 to 15000 K (constants recalled from memory) */
function planckianUv(kelvin: number): [number, number] {
  const t = kelvin;
  const u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t);
  const v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t);
  return [u, v];
}

/** XYZ (Y = 1) of a light at a place on the mired scale and a distance from the locus (positive: greener). */
export function lightXyz(mired: number, duv: number): [number, number, number] {
  const kelvin = 1e6 / mired;
  const [u, v] = planckianUv(kelvin);
  const [u2, v2] = planckianUv(kelvin * 1.001);
  const length = Math.sqrt((u2 - u) ** 2 + (v2 - v) ** 2);
  // normal to the locus, towards green
  const un = u - (duv * (v2 - v)) / length;
  const vn = v + (duv * (u2 - u)) / length;
  const sign = vn > v === duv > 0 ? 1 : -1;
  const uu = u + sign * (un - u);
  const vv = v + sign * (vn - v);
  const d = 2 * uu - 8 * vv + 4;
  return xyzOfChromaticity([(3 * uu) / d, (2 * vv) / d]);
}

/**
 * Working RGB → working RGB. Positive mired makes the picture warmer, positive duv makes it more magenta:
 * the picture is treated as taken under the opposite light and adapted to the base white.
 * @returns nine numbers; the identity at (0, 0)
 */
export function whiteBalanceMatrix(mired: number, duv: number): number[] {
  const from = lightXyz(BASE_MIRED - mired, BASE_DUV + duv);
  const to = lightXyz(BASE_MIRED, BASE_DUV);
  return multiply(invert(WORKING_TO_XYZ), multiply(adaptation(from, to), WORKING_TO_XYZ));
}

export interface WhiteBalance {
  mired: number;
  duv: number;
}

/**
 * The white balance that makes a working RGB value neutral, by Newton's method on R/G and B/G.
 * @returns null where no light within ±120 mired and ±0.05 Duv does it
 */
export function proposeWhiteBalance(rgb: readonly number[]): WhiteBalance | null {
  if (rgb.some((v) => !(v > 1e-6))) return null;
  const error = (mired: number, duv: number) => {
    const [r, g, b] = transform(whiteBalanceMatrix(mired, duv), rgb);
    return [r / g - 1, b / g - 1];
  };
  let mired = 0;
  let duv = 0;
  for (let pass = 0; pass < 30; pass++) {
    const e = error(mired, duv);
    if (Math.abs(e[0]) + Math.abs(e[1]) < 1e-7) return { mired, duv };
    const em = error(mired + 0.01, duv).map((v, i) => (v - e[i]) / 0.01);
    const ed = error(mired, duv + 1e-5).map((v, i) => (v - e[i]) / 1e-5);
    const det = em[0] * ed[1] - em[1] * ed[0];
    if (!(Math.abs(det) > 1e-12)) return null;
    mired = Math.max(-120, Math.min(120, mired - (e[0] * ed[1] - e[1] * ed[0]) / det));
    duv = Math.max(-0.05, Math.min(0.05, duv - (em[0] * e[1] - em[1] * e[0]) / det));
  }
  const e = error(mired, duv);
  return Math.abs(e[0]) + Math.abs(e[1]) < 1e-3 ? { mired, duv } : null;
}

/** A light by its colour temperature and its distance from black bodies, positive towards green. */
export interface LightPlace {
  kelvin: number;
  duv: number;
}

/** Where the light of a neutral lies, working RGB; null where no light near black bodies looks so. */
export function lightPlace(rgb: readonly number[]): LightPlace | null {
  const found = proposeWhiteBalance(rgb);
  return found && { kelvin: 1e6 / (BASE_MIRED - found.mired), duv: BASE_DUV + found.duv };
}
