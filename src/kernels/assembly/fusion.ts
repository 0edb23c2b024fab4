import { constant, exp2x4, pow4, storeIndex } from "./elementary";

const GREY = memory.data<f32>([0.299, 0.587, 0.114]);

// @ts-ignore: decorator
@inline
function grey(r: v128, g: v128, b: v128): v128 {
  const rg = f32x4.add(f32x4.mul(r, constant(GREY, 0)), f32x4.mul(g, constant(GREY, 1)));
  return f32x4.add(rg, f32x4.mul(b, constant(GREY, 2)));
}

// @ts-ignore: decorator
@inline
function power(x: v128, exponent: f32): v128 {
  if (exponent == 1) return x;
  if (exponent == 0) return f32x4.splat(1);
  return v128.bitselect(f32x4.splat(0), pow4(x, exponent), f32x4.le(x, f32x4.splat(0)));
}

/** Grey of row y of planes of w samples into out, with a mirrored sample at either end; rows beyond the picture are mirrored. */
function greyRow(r: usize, g: usize, b: usize, w: i32, h: i32, y: i32, out: usize): void {
  const inside = y < 0 ? min(-y, h - 1) : y >= h ? max(2 * h - 2 - y, 0) : y;
  const row = (<usize>(inside * w)) << 2;
  for (let x = 0; x < w; x += 4) {
    const o = (<usize>x) << 2;
    v128.store(out + o, grey(v128.load(r + row + o), v128.load(g + row + o), v128.load(b + row + o)));
  }
  store<f32>(out - 4, load<f32>(out + ((<usize>min(1, w - 1)) << 2)));
  store<f32>(out + ((<usize>w) << 2), load<f32>(out + ((<usize>max(0, w - 2)) << 2)));
}

/** 2/3, 1/2, 4, 1e-12 */
const QUALITY = memory.data<f32>([0.666666667, 0.5, 4, 1e-12]);

/** Least exponent, 1.5 · 2^23 + 127; then the polynomial of 2^f, of least greatest relative error (2.6e-6, by reweighted least squares). */
const FALL = memory.data<f32>([-126, 12583039, 9.999992614e-1, 6.931218146e-1, 2.402474484e-1, 5.591786159e-2, 9.570101947e-3]);

/** 2^x of x ≤ 0 as exactly as a weight needs it; exp2x4 takes half as many steps more. */
// @ts-ignore: decorator
@inline
function exp2Falling(x: v128): v128 {
  const bounded = f32x4.pmax(x, constant(FALL, 0));
  const shifted = f32x4.add(bounded, constant(FALL, 1));
  const f = f32x4.sub(bounded, f32x4.sub(shifted, constant(FALL, 1)));
  const p3 = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(constant(FALL, 6), f), constant(FALL, 5)), f), constant(FALL, 4));
  const p = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(p3, f), constant(FALL, 3)), f), constant(FALL, 2));
  return f32x4.mul(p, i32x4.shl(shifted, 23));
}

/** How good four samples are; `around` is the sum of the greys left, right, above and below. */
// @ts-ignore: decorator
@inline
function quality(red: v128, green: v128, blue: v128, here: v128, around: v128, contrastExponent: f32, saturationExponent: f32, fall: v128): v128 {
  const contrast = f32x4.abs(f32x4.sub(around, f32x4.mul(here, constant(QUALITY, 2))));
  // the mean of the squared deviations from the mean, by two differences: exactly 0 where the three are equal
  const rg = f32x4.sub(red, green), gb = f32x4.sub(green, blue);
  const spread = f32x4.mul(f32x4.add(f32x4.mul(f32x4.add(rg, gb), rg), f32x4.mul(gb, gb)), constant(QUALITY, 0));
  const product = f32x4.mul(power(contrast, contrastExponent), power(f32x4.sqrt(spread), saturationExponent));
  const half = constant(QUALITY, 1);
  const er = f32x4.sub(red, half), eg = f32x4.sub(green, half), eb = f32x4.sub(blue, half);
  const off = f32x4.add(f32x4.add(f32x4.mul(er, er), f32x4.mul(eg, eg)), f32x4.mul(eb, eb));
  return f32x4.add(f32x4.mul(product, exp2Falling(f32x4.mul(off, fall))), constant(QUALITY, 3));
}

/** Quality of a row of w samples into out; line is the grey of that row. */
// @ts-ignore: decorator
@inline
function qualityRow(
  r: usize, g: usize, b: usize, w: i32, above: usize, line: usize, below: usize, out: usize, tail: usize,
  contrastExponent: f32, saturationExponent: f32, fall: v128,
): void {
  const end = (<usize>w) << 2, whole = end & ~15;
  for (let o: usize = 0; o < end; o += 16) {
    const around = f32x4.add(f32x4.add(v128.load(above + o), v128.load(below + o)), f32x4.add(v128.load(line + o - 4), v128.load(line + o + 4)));
    const value = quality(v128.load(r + o), v128.load(g + o), v128.load(b + o), v128.load(line + o), around, contrastExponent, saturationExponent, fall);
    v128.store(o < whole ? out + o : tail, value);
  }
  for (let o = whole; o < end; o += 4) store<f32>(out + o, load<f32>(tail + (o - whole)));
}

/**
 * Mertens, Kautz, Van Reeth 2007, section 3: contrast × saturation × well-exposedness, encoded values 0..1.
 * Planes of h rows of w samples; rows y0 to y1, their neighbours are read too. Weights get 1e-12 added and are multiplied by coverage,
 * a plane, or 0 for a frame that covers all.
 */
export function fusionWeightRows(
  r: usize, g: usize, b: usize, w: i32, h: i32, coverage: usize, weight: usize,
  contrastExponent: f32, saturationExponent: f32, exposureExponent: f32, y0: i32, y1: i32, scratch: usize,
): void {
  const length = ((<usize>w) << 2) + 32;
  let above = scratch + 16, here = above + length, below = here + length;
  const tail = below + length;
  // exp(-d²/0.08) = 2^(-d² · log2(e)/0.08)
  const fall = f32x4.splat(-18.0336880111120 * exposureExponent);
  greyRow(r, g, b, w, h, y0 - 1, above);
  greyRow(r, g, b, w, h, y0, here);
  for (let y = y0; y < y1; y++) {
    greyRow(r, g, b, w, h, y + 1, below);
    const row = (<usize>(y * w)) << 2, out = weight + row;
    // written out for the exponents of every day
    if (contrastExponent == 1 && saturationExponent == 1) qualityRow(r + row, g + row, b + row, w, above, here, below, out, tail, 1, 1, fall);
    else qualityRow(r + row, g + row, b + row, w, above, here, below, out, tail, contrastExponent, saturationExponent, fall);
    if (coverage) for (let x = 0; x < w; x++) {
      const o = (<usize>x) << 2;
      store<f32>(out + o, load<f32>(out + o) * load<f32>(coverage + row + o));
    }
    const spare = above;
    above = here;
    here = below;
    below = spare;
  }
}

/**
 * Divides the weights of all frames by their sum and notes whose is the largest; where the sum is 0 they stay 0. weights: table of
 * `frames` pointers to f32 samples. index: u8 samples. Samples y0 to y1, a multiple of 4.
 */
export function shareWeights(frames: i32, weights: usize, index: usize, y0: i32, y1: i32, scratch: usize): void {
  const zero = f32x4.splat(0);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let sum = zero, best = zero, whose = zero;
    for (let k = 0; k < frames; k++) {
      const w = v128.load(load<u32>(weights + ((<usize>k) << 2)) + o);
      sum = f32x4.add(sum, w);
      whose = v128.bitselect(f32x4.splat(<f32>k), whose, f32x4.gt(w, best));
      best = f32x4.pmax(w, best);
    }
    const share = v128.and(f32x4.div(f32x4.splat(1), sum), f32x4.gt(sum, zero));
    for (let k = 0; k < frames; k++) {
      const at = load<u32>(weights + ((<usize>k) << 2)) + o;
      v128.store(at, f32x4.mul(v128.load(at), share));
    }
    storeIndex(whose, index + i);
  }
}
