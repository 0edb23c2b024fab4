import { multiply, invert } from "../geometry/matrix3";
import { WORKING_TO_XYZ } from "./primaries";

/**
 * XYZ (D65) → cone-like responses, and those after the cube root → Oklab. @see Ottosson 2020; the matrices for the white of D65 as in
 * W3C CSS Color Module Level 4, section 9.2 (sample code)
 */
const XYZ_TO_LMS = [
  0.819022437996703, 0.3619062600528904, -0.1288737815209879, 0.0329836539323885, 0.9292868615863434, 0.0361446663506424, 0.0481771893596242,
  0.2642395317527308, 0.6335478284694309,
];
const LMS_TO_LAB = [
  0.210454268309314, 0.7936177747023054, -0.0040720430116193, 1.9779985324311684, -2.42859224204858, 0.450593709617411, 0.0259040424655478, 0.7827717124575296,
  -0.8086757549230774,
];

const IN = multiply(XYZ_TO_LMS, WORKING_TO_XYZ);
const OUT = invert(IN);
const LAB_TO_LMS = invert(LMS_TO_LAB);

/** The matrices of both ways, as the kernels take them. */
export const OKLAB = { in: { into: IN, out: LMS_TO_LAB }, back: { into: LAB_TO_LMS, out: OUT } };

const float = new Float32Array(1);
const int = new Int32Array(float.buffer);

/** Cube root from additions, products and quotients only, so that it is the same in every host. Relative error below 1e-13. */
export function cubeRoot(x: number): number {
  if (x === 0) return 0;
  float[0] = Math.abs(x);
  // a third of the exponent is a start that is right to a few percent
  int[0] = Math.trunc(int[0] / 3) + 709921077;
  let y = float[0];
  const a = Math.abs(x);
  // Halley's iteration triples the digits
  for (let k = 0; k < 2; k++) {
    const y3 = y * y * y;
    y *= (y3 + 2 * a) / (2 * y3 + a);
  }
  return x < 0 ? -y : y;
}

/** Oklab of linear working RGB, into three places of `out`. */
export function toOklab(r: number, g: number, b: number, out: Float64Array): void {
  const l = cubeRoot(IN[0] * r + IN[1] * g + IN[2] * b);
  const m = cubeRoot(IN[3] * r + IN[4] * g + IN[5] * b);
  const s = cubeRoot(IN[6] * r + IN[7] * g + IN[8] * b);
  for (let c = 0; c < 3; c++) out[c] = LMS_TO_LAB[c * 3] * l + LMS_TO_LAB[c * 3 + 1] * m + LMS_TO_LAB[c * 3 + 2] * s;
}

/** Linear working RGB of Oklab, into three places of `out`. */
export function fromOklab(L: number, a: number, b: number, out: Float64Array): void {
  const cube = (row: number) => {
    const v = LAB_TO_LMS[row] * L + LAB_TO_LMS[row + 1] * a + LAB_TO_LMS[row + 2] * b;
    return v * v * v;
  };
  const [l, m, s] = [cube(0), cube(3), cube(6)];
  for (let c = 0; c < 3; c++) out[c] = OUT[c * 3] * l + OUT[c * 3 + 1] * m + OUT[c * 3 + 2] * s;
}
