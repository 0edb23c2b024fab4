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

// @ts-ignore: decorator
@inline
function pair(a: f32, b: f32, x: v128): v128 {
  return f32x4.add(f32x4.splat(a), f32x4.mul(f32x4.splat(b), x));
}

// @ts-ignore: decorator
@inline
export function log2x4(x: v128): v128 {
  const safe = f32x4.pmax(x, f32x4.splat(1.17549435e-38));
  const bits = i32x4.sub(safe, i32x4.splat(0x3f3504f3));
  const exponent = i32x4.shr_s(bits, 23);
  const mantissa = i32x4.sub(safe, i32x4.shl(exponent, 23));
  const f = f32x4.sub(mantissa, f32x4.splat(1));
  const f2 = f32x4.mul(f, f);
  const f4 = f32x4.mul(f2, f2);
  // in pairs, so that the processor need not wait for one product after another
  const p01 = pair(3.3333331174e-1, -2.4999993993e-1, f), p23 = pair(2.0000714765e-1, -1.6668057665e-1, f);
  const p45 = pair(1.4249322787e-1, -1.2420140846e-1, f), p67 = pair(1.167699874e-1, -1.151461031e-1, f);
  const low = f32x4.add(p01, f32x4.mul(p23, f2)), high = f32x4.add(p45, f32x4.mul(p67, f2));
  const p = f32x4.add(low, f32x4.mul(f32x4.add(high, f32x4.mul(f4, f32x4.splat(7.0376836292e-2))), f4));
  const ln = f32x4.add(f32x4.sub(f, f32x4.mul(f32x4.splat(0.5), f2)), f32x4.mul(p, f32x4.mul(f2, f)));
  return f32x4.add(f32x4.mul(ln, f32x4.splat(1.44269504088896)), f32x4.convert_i32x4_s(exponent));
}

// @ts-ignore: decorator
@inline
export function exp2x4(x: v128): v128 {
  const bounded = f32x4.pmin(f32x4.pmax(x, f32x4.splat(-126)), f32x4.splat(127));
  // adding 1.5 · 2^23 rounds to a whole number and leaves it in the low bits
  const shifted = f32x4.add(bounded, f32x4.splat(12582912));
  const whole = f32x4.sub(shifted, f32x4.splat(12582912));
  const f = f32x4.sub(bounded, whole);
  const f2 = f32x4.mul(f, f);
  const low = f32x4.add(pair(1, 6.931472028550421e-1, f), f32x4.mul(pair(2.402264791363012e-1, 5.550332471162809e-2, f), f2));
  const high = f32x4.add(pair(9.61843735767464e-3, 1.339887440266574e-3, f), f32x4.mul(f32x4.splat(1.5353361883195e-4), f2));
  const p = f32x4.add(low, f32x4.mul(high, f32x4.mul(f2, f2)));
  const scale = i32x4.shl(i32x4.add(shifted, i32x4.splat(127)), 23);
  return f32x4.mul(p, scale);
}

// @ts-ignore: decorator
@inline
export function pow4(x: v128, exponent: f32): v128 {
  return exp2x4(f32x4.mul(log2x4(x), f32x4.splat(exponent)));
}

/**
 * IEC 61966-2-1, extended above 1 by the same power law; negative input becomes 0. Below 1.55 the power 1/2.4 is a polynomial of the
 * eighth root (least greatest relative error, 5e-8 before rounding, fitted as that of decodeSrgb4); brighter lanes take the logarithm.
 */
// @ts-ignore: decorator
@inline
export function encodeSrgb4(x: v128): v128 {
  const v = f32x4.pmax(x, f32x4.splat(0));
  const low = f32x4.mul(v, f32x4.splat(12.92));
  const s = f32x4.sqrt(f32x4.sqrt(f32x4.sqrt(v))), s2 = f32x4.mul(s, s);
  const p01 = pair(-0.00130939197, 0.0162357956, s), p23 = pair(-0.101469458, 0.763266098, s), p45 = pair(0.398541309, -0.0876582022, s);
  const p456 = f32x4.add(p45, f32x4.mul(f32x4.splat(0.0123938148), s2));
  let power = f32x4.add(p01, f32x4.mul(s2, f32x4.add(p23, f32x4.mul(s2, p456))));
  const bright = f32x4.gt(v, f32x4.splat(1.55));
  if (v128.any_true(bright)) power = v128.bitselect(pow4(v, 0.416666667), power, bright);
  const high = f32x4.sub(f32x4.mul(power, f32x4.splat(1.055)), f32x4.splat(0.055));
  return v128.bitselect(low, high, f32x4.le(v, f32x4.splat(0.0031308)));
}

/**
 * IEC 61966-2-1, extended above 1 by the same power law; negative input becomes 0. Below 1.45 the power 2.4 is t² times a polynomial
 * of the fourth root (least greatest relative error, 3.5e-7, fitted by reweighted least squares); brighter lanes take the logarithm.
 */
// @ts-ignore: decorator
@inline
export function decodeSrgb4(x: v128): v128 {
  const v = f32x4.pmax(x, f32x4.splat(0));
  const low = f32x4.mul(v, f32x4.splat(0.0773993808));
  const t = f32x4.mul(f32x4.add(v, f32x4.splat(0.055)), f32x4.splat(0.947867299));
  const t2 = f32x4.mul(t, t);
  const s = f32x4.sqrt(f32x4.sqrt(t)), s2 = f32x4.mul(s, s);
  const p01 = pair(-0.0149211856, 0.260611352, s), p23 = pair(1.01166011, -0.36944028, s), p45 = pair(0.136051832, -0.0239618337, s);
  let high = f32x4.mul(t2, f32x4.add(p01, f32x4.mul(s2, f32x4.add(p23, f32x4.mul(s2, p45)))));
  const bright = f32x4.gt(v, f32x4.splat(1.45));
  if (v128.any_true(bright)) high = v128.bitselect(pow4(t, 2.4), high, bright);
  return v128.bitselect(low, high, f32x4.le(v, f32x4.splat(0.04045)));
}
