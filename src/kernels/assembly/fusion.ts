import { exp2x4, pow4 } from "./elementary";

// @ts-ignore: decorator
@inline
function grey(r: v128, g: v128, b: v128): v128 {
  const rg = f32x4.add(f32x4.mul(r, f32x4.splat(0.299)), f32x4.mul(g, f32x4.splat(0.587)));
  return f32x4.add(rg, f32x4.mul(b, f32x4.splat(0.114)));
}

// @ts-ignore: decorator
@inline
function greyAt(r: usize, g: usize, b: usize, o: usize): v128 {
  return grey(v128.load(r + o), v128.load(g + o), v128.load(b + o));
}

// @ts-ignore: decorator
@inline
function power(x: v128, exponent: f32): v128 {
  if (exponent == 1) return x;
  if (exponent == 0) return f32x4.splat(1);
  return v128.bitselect(f32x4.splat(0), pow4(x, exponent), f32x4.le(x, f32x4.splat(0)));
}

/**
 * Mertens, Kautz, Van Reeth 2007, section 3: contrast × saturation × well-exposedness, encoded values 0..1.
 * Planes have a row length of `stride` with at least one sample before and four behind each row and one row above and below
 * (mirrored by the caller). Rows y0 to y1; weight rows have length w, are multiplied by coverage and get 1e-12 added.
 */
export function fusionWeightRows(
  r: usize, g: usize, b: usize, stride: i32, coverage: usize, weight: usize, total: usize, w: i32,
  contrastExponent: f32, saturationExponent: f32, exposureExponent: f32, y0: i32, y1: i32, scratch: usize,
): void {
  const s = (<usize>stride) << 2;
  const third = f32x4.splat(1.0 / 3.0), half = f32x4.splat(0.5);
  // exp(-d²/0.08) = 2^(-d² · log2(e)/0.08)
  const fall = f32x4.splat(-18.0336880111120);
  for (let y = y0; y < y1; y++) {
    const row = <usize>y * s;
    for (let x = 0; x < w; x += 4) {
      const o = row + ((<usize>x) << 2);
      const red = v128.load(r + o), green = v128.load(g + o), blue = v128.load(b + o);
      let around = f32x4.add(greyAt(r, g, b, o - s), greyAt(r, g, b, o + s));
      around = f32x4.add(around, f32x4.add(greyAt(r, g, b, o - 4), greyAt(r, g, b, o + 4)));
      const contrast = f32x4.abs(f32x4.sub(around, f32x4.mul(grey(red, green, blue), f32x4.splat(4))));
      const mean = f32x4.mul(f32x4.add(f32x4.add(red, green), blue), third);
      const dr = f32x4.sub(red, mean), dg = f32x4.sub(green, mean), db = f32x4.sub(blue, mean);
      const spread = f32x4.add(f32x4.add(f32x4.mul(dr, dr), f32x4.mul(dg, dg)), f32x4.mul(db, db));
      const er = f32x4.sub(red, half), eg = f32x4.sub(green, half), eb = f32x4.sub(blue, half);
      const off = f32x4.add(f32x4.add(f32x4.mul(er, er), f32x4.mul(eg, eg)), f32x4.mul(eb, eb));
      let value = f32x4.mul(power(contrast, contrastExponent), power(f32x4.sqrt(spread), saturationExponent));
      if (exposureExponent != 0) {
        value = f32x4.mul(value, exp2x4(f32x4.mul(f32x4.mul(off, fall), f32x4.splat(exposureExponent))));
      }
      const out = ((<usize>y * w) + x) << 2;
      const covered = v128.load(coverage + out);
      value = f32x4.mul(f32x4.add(value, f32x4.splat(1e-12)), covered);
      if (x + 4 <= w) {
        v128.store(weight + out, value);
        v128.store(total + out, f32x4.add(v128.load(total + out), value));
      } else {
        for (let k = 0; k < w - x; k++) {
          const lane = out + ((<usize>k) << 2);
          const one = k == 0 ? f32x4.extract_lane(value, 0) : k == 1 ? f32x4.extract_lane(value, 1) : f32x4.extract_lane(value, 2);
          store<f32>(weight + lane, one);
          store<f32>(total + lane, load<f32>(total + lane) + one);
        }
      }
    }
  }
}

/** weight /= total where total > 0, samples y0 to y1. */
export function divideSamples(weight: usize, total: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    const o = (<usize>i) << 2;
    const t = load<f32>(total + o);
    store<f32>(weight + o, t > 0 ? load<f32>(weight + o) / t : 0);
  }
}

/** Keeps the largest weight so far and whose it is: where weight > best, best = weight and index = k. Samples y0 to y1. */
export function keepLargest(weight: usize, best: usize, index: usize, k: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    const o = (<usize>i) << 2;
    const w = load<f32>(weight + o);
    if (w > load<f32>(best + o)) {
      store<f32>(best + o, w);
      store<u8>(index + i, <u8>k);
    }
  }
}
