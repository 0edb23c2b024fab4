// Four-lane log2, exp2 and the sRGB curve. Polynomials after the Cephes library (Moshier), constants recalled from memory;
// relative error below 3e-7, checked in tests against the host's double precision functions.

// pmin and pmax, here and everywhere: one instruction each, and a NaN in the first place stays.

/** Four small whole numbers in float lanes, 0..255, as bytes at `out`. */
// @ts-ignore: decorator
@inline
export function storeIndex(v: v128, out: usize): void {
  const bits = f32x4.add(v, f32x4.splat(8388608));
  v128.store32_lane(out, v128.shuffle<u8>(bits, bits, 0, 4, 8, 12, 0, 4, 8, 12, 0, 4, 8, 12, 0, 4, 8, 12), 0);
}

/** Number i of a table. Engines put a literal vector together anew wherever it is used; to load it costs less. */
// @ts-ignore: decorator
@inline
export function constant(table: usize, i: usize): v128 {
  return v128.load32_splat(table + (i << 2));
}

/** c[i] + c[i + 1] · x */
// @ts-ignore: decorator
@inline
function pair(c: usize, i: usize, x: v128): v128 {
  return f32x4.add(constant(c, i), f32x4.mul(constant(c, i + 1), x));
}

/** Least normal number, 1, 1/2, log2(e); then the polynomial of ln(1 + f) from f³ on. */
const LOG2 = memory.data<f32>([
  1.17549435e-38, 1, 0.5, 1.44269504088896,
  3.3333331174e-1, -2.4999993993e-1, 2.0000714765e-1, -1.6668057665e-1, 1.4249322787e-1, -1.2420140846e-1, 1.167699874e-1, -1.151461031e-1, 7.0376836292e-2,
]);
/** √½ as bits */
const ROOT_HALF = memory.data<u32>([0x3f3504f3]);

// @ts-ignore: decorator
@inline
export function log2x4(x: v128): v128 {
  const safe = f32x4.pmax(x, constant(LOG2, 0));
  const bits = i32x4.sub(safe, constant(ROOT_HALF, 0));
  const exponent = i32x4.shr_s(bits, 23);
  const mantissa = i32x4.sub(safe, i32x4.shl(exponent, 23));
  const f = f32x4.sub(mantissa, constant(LOG2, 1));
  const f2 = f32x4.mul(f, f);
  const f4 = f32x4.mul(f2, f2);
  // in pairs, so that the processor need not wait for one product after another
  const low = f32x4.add(pair(LOG2, 4, f), f32x4.mul(pair(LOG2, 6, f), f2)), high = f32x4.add(pair(LOG2, 8, f), f32x4.mul(pair(LOG2, 10, f), f2));
  const p = f32x4.add(low, f32x4.mul(f32x4.add(high, f32x4.mul(f4, constant(LOG2, 12))), f4));
  const ln = f32x4.add(f32x4.sub(f, f32x4.mul(constant(LOG2, 2), f2)), f32x4.mul(p, f32x4.mul(f2, f)));
  return f32x4.add(f32x4.mul(ln, constant(LOG2, 3)), f32x4.convert_i32x4_s(exponent));
}

/** Ends of the range, 1.5 · 2^23 + 127; then the polynomial of 2^f, of least greatest relative error (7.5e-8 before rounding, by reweighted least squares). */
const EXP2 = memory.data<f32>([
  -126, 127, 12583039,
  1.000000072, 6.931469671e-1, 2.402211972e-1, 5.550713275e-2, 9.67554148e-3, 1.327647203e-3,
]);

// @ts-ignore: decorator
@inline
export function exp2x4(x: v128): v128 {
  const bounded = f32x4.pmin(f32x4.pmax(x, constant(EXP2, 0)), constant(EXP2, 1));
  // adding 1.5 · 2^23 rounds to a whole number and leaves it in the low bits, here with the exponent's bias
  const shifted = f32x4.add(bounded, constant(EXP2, 2));
  const f = f32x4.sub(bounded, f32x4.sub(shifted, constant(EXP2, 2)));
  const f2 = f32x4.mul(f, f);
  const high = f32x4.add(pair(EXP2, 5, f), f32x4.mul(pair(EXP2, 7, f), f2));
  return f32x4.mul(f32x4.add(pair(EXP2, 3, f), f32x4.mul(high, f2)), i32x4.shl(shifted, 23));
}

// @ts-ignore: decorator
@inline
export function pow4(x: v128, exponent: f32): v128 {
  return exp2x4(f32x4.mul(log2x4(x), f32x4.splat(exponent)));
}

/** Slope and end of the straight part, end of the polynomial, scale and offset of the curve; then the polynomial. */
const ENCODE = memory.data<f32>([
  12.92, 0.0031308, 1.55, 1.055, 0.055,
  -0.00130939197, 0.0162357956, -0.101469458, 0.763266098, 0.398541309, -0.0876582022, 0.0123938148,
]);

/**
 * IEC 61966-2-1, extended above 1 by the same power law; negative input becomes 0. Below 1.55 the power 1/2.4 is a polynomial of the
 * eighth root (least greatest relative error, 5e-8 before rounding, fitted as that of decodeSrgb4); brighter lanes take the logarithm.
 */
// @ts-ignore: decorator
@inline
export function encodeSrgb4(x: v128): v128 {
  const v = f32x4.pmax(x, f32x4.splat(0));
  const low = f32x4.mul(v, constant(ENCODE, 0));
  const s = f32x4.sqrt(f32x4.sqrt(f32x4.sqrt(v))), s2 = f32x4.mul(s, s);
  const p456 = f32x4.add(pair(ENCODE, 9, s), f32x4.mul(constant(ENCODE, 11), s2));
  let power = f32x4.add(pair(ENCODE, 5, s), f32x4.mul(s2, f32x4.add(pair(ENCODE, 7, s), f32x4.mul(s2, p456))));
  const bright = f32x4.gt(v, constant(ENCODE, 2));
  if (v128.any_true(bright)) power = v128.bitselect(pow4(v, 0.416666667), power, bright);
  const high = f32x4.sub(f32x4.mul(power, constant(ENCODE, 3)), constant(ENCODE, 4));
  return v128.bitselect(low, high, f32x4.le(v, constant(ENCODE, 1)));
}

/** The same of the way back: slope and end of the straight part, end of the polynomial, scale and offset of the curve; the polynomial. */
const DECODE = memory.data<f32>([
  0.0773993808, 0.04045, 1.45, 0.947867299, 0.055,
  -0.0149211856, 0.260611352, 1.01166011, -0.36944028, 0.136051832, -0.0239618337,
]);

/**
 * IEC 61966-2-1, extended above 1 by the same power law; negative input becomes 0. Below 1.45 the power 2.4 is t² times a polynomial
 * of the fourth root (least greatest relative error, 3.5e-7, fitted by reweighted least squares); brighter lanes take the logarithm.
 */
// @ts-ignore: decorator
@inline
export function decodeSrgb4(x: v128): v128 {
  const v = f32x4.pmax(x, f32x4.splat(0));
  const low = f32x4.mul(v, constant(DECODE, 0));
  const t = f32x4.mul(f32x4.add(v, constant(DECODE, 4)), constant(DECODE, 3));
  const t2 = f32x4.mul(t, t);
  const s = f32x4.sqrt(f32x4.sqrt(t)), s2 = f32x4.mul(s, s);
  const tail = f32x4.add(pair(DECODE, 7, s), f32x4.mul(s2, pair(DECODE, 9, s)));
  let high = f32x4.mul(t2, f32x4.add(pair(DECODE, 5, s), f32x4.mul(s2, tail)));
  const bright = f32x4.gt(v, constant(DECODE, 2));
  if (v128.any_true(bright)) high = v128.bitselect(pow4(t, 2.4), high, bright);
  return v128.bitselect(low, high, f32x4.le(v, constant(DECODE, 1)));
}
