// Means over squares, cut off at the border, and the guided filter made of them. Sums are carried on in f64: each sample costs the same however wide the mean.

/** Means along rows: each over 2 radius + 1 samples, or those that there are. */
export function boxAcrossRows(src: usize, w: i32, dst: usize, radius: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let y = y0; y < y1; y++) {
    const row = src + ((<usize>y * w) << 2), out = dst + ((<usize>y * w) << 2);
    let sum: f64 = 0;
    for (let x = 0; x < min(w, radius); x++) sum += load<f32>(row + ((<usize>x) << 2));
    const left = min(w, radius + 1), right = w - radius;
    let x = 0;
    for (; x < left; x++) {
      if (x + radius < w) sum += load<f32>(row + ((<usize>(x + radius)) << 2));
      store<f32>(out + ((<usize>x) << 2), <f32>(sum / (min(w - 1, x + radius) + 1)));
    }
    const share = 1.0 / <f64>(2 * radius + 1);
    const ahead = (<usize>radius) << 2, behind = (<usize>(radius + 1)) << 2;
    for (; x < right; x++) {
      const at = row + ((<usize>x) << 2);
      sum += <f64>load<f32>(at + ahead) - <f64>load<f32>(at - behind);
      store<f32>(out + ((<usize>x) << 2), <f32>(sum * share));
    }
    for (; x < w; x++) {
      sum -= load<f32>(row + ((<usize>x) << 2) - behind);
      store<f32>(out + ((<usize>x) << 2), <f32>(sum / (w - x + radius)));
    }
  }
}

/** Means down columns x0 to x1, which lie in memory row by row. */
export function boxDownColumns(src: usize, w: i32, h: i32, dst: usize, radius: i32, x0: i32, x1: i32, scratch: usize): void {
  const n = x1 - x0;
  const stride = (<usize>w) << 2;
  const first = src + ((<usize>x0) << 2), into = dst + ((<usize>x0) << 2);
  memory.fill(scratch, 0, (<usize>n) << 3);
  for (let y = 0; y < min(h, radius); y++) addTo(scratch, first + <usize>y * stride, n);
  for (let y = 0; y < h; y++) {
    if (y + radius < h) addTo(scratch, first + <usize>(y + radius) * stride, n);
    if (y > radius) takeFrom(scratch, first + <usize>(y - radius - 1) * stride, n);
    const share = 1.0 / <f64>(min(h - 1, y + radius) - max(0, y - radius) + 1);
    const shares = f64x2.splat(share);
    const out = into + <usize>y * stride;
    let x = 0;
    for (; x + 4 <= n; x += 4) {
      const at = scratch + ((<usize>x) << 3);
      const low = f32x4.demote_f64x2_zero(f64x2.mul(v128.load(at), shares)), high = f32x4.demote_f64x2_zero(f64x2.mul(v128.load(at, 16), shares));
      v128.store(out + ((<usize>x) << 2), v128.shuffle<i64>(low, high, 0, 2));
    }
    for (; x < n; x++) store<f32>(out + ((<usize>x) << 2), <f32>(load<f64>(scratch + ((<usize>x) << 3)) * share));
  }
}

// @ts-ignore: decorator
@inline
function upper(v: v128): v128 {
  return f64x2.promote_low_f32x4(v128.shuffle<i64>(v, v, 1, 0));
}

function addTo(sums: usize, row: usize, n: i32): void {
  let x = 0;
  for (; x + 4 <= n; x += 4) {
    const v = v128.load(row + ((<usize>x) << 2));
    const at = sums + ((<usize>x) << 3);
    v128.store(at, f64x2.add(v128.load(at), f64x2.promote_low_f32x4(v)));
    v128.store(at, f64x2.add(v128.load(at, 16), upper(v)), 16);
  }
  for (; x < n; x++) store<f64>(sums + ((<usize>x) << 3), load<f64>(sums + ((<usize>x) << 3)) + <f64>load<f32>(row + ((<usize>x) << 2)));
}

function takeFrom(sums: usize, row: usize, n: i32): void {
  let x = 0;
  for (; x + 4 <= n; x += 4) {
    const v = v128.load(row + ((<usize>x) << 2));
    const at = sums + ((<usize>x) << 3);
    v128.store(at, f64x2.sub(v128.load(at), f64x2.promote_low_f32x4(v)));
    v128.store(at, f64x2.sub(v128.load(at, 16), upper(v)), 16);
  }
  for (; x < n; x++) store<f64>(sums + ((<usize>x) << 3), load<f64>(sums + ((<usize>x) << 3)) - <f64>load<f32>(row + ((<usize>x) << 2)));
}

/** Column sums of guide, plane, their product and the guide's square, four a column: a row comes in (sign 1) or goes (−1). */
function sumProducts(sums: usize, guide: usize, plane: usize, n: i32, sign: f64): void {
  const signs = f64x2.splat(sign);
  let x = 0;
  for (; x + 4 <= n; x += 4) {
    const o = (<usize>x) << 2;
    const g = v128.load(guide + o), p = v128.load(plane + o);
    const at = sums + ((<usize>x) << 5);
    sumPair(at, f64x2.promote_low_f32x4(g), f64x2.promote_low_f32x4(p), signs);
    sumPair(at + 64, upper(g), upper(p), signs);
  }
  for (; x < n; x++) {
    const o = (<usize>x) << 2;
    const g = <f64>load<f32>(guide + o), p = <f64>load<f32>(plane + o);
    const at = sums + ((<usize>x) << 5);
    store<f64>(at, load<f64>(at) + sign * g);
    store<f64>(at, load<f64>(at, 8) + sign * p, 8);
    store<f64>(at, load<f64>(at, 16) + sign * (g * p), 16);
    store<f64>(at, load<f64>(at, 24) + sign * (g * g), 24);
  }
}

// @ts-ignore: decorator
@inline
function sumPair(at: usize, g: v128, p: v128, signs: v128): void {
  const signed = f64x2.mul(g, signs), plane = f64x2.mul(p, signs);
  const product = f64x2.mul(signed, p), square = f64x2.mul(signed, g);
  // two columns lie one after the other, four sums each
  v128.store(at, f64x2.add(v128.load(at), v128.shuffle<i64>(signed, plane, 0, 2)));
  v128.store(at, f64x2.add(v128.load(at, 16), v128.shuffle<i64>(product, square, 0, 2)), 16);
  v128.store(at, f64x2.add(v128.load(at, 32), v128.shuffle<i64>(signed, plane, 1, 3)), 32);
  v128.store(at, f64x2.add(v128.load(at, 48), v128.shuffle<i64>(product, square, 1, 3)), 48);
}

/** One row comes in and another goes, in one pass over the sums. */
function swapProducts(sums: usize, guideIn: usize, planeIn: usize, guideOut: usize, planeOut: usize, n: i32): void {
  let x = 0;
  for (; x + 2 <= n; x += 2) {
    const o = (<usize>x) << 2;
    const at = sums + ((<usize>x) << 5);
    const g = f64x2.promote_low_f32x4(v128.load64_zero(guideIn + o)), p = f64x2.promote_low_f32x4(v128.load64_zero(planeIn + o));
    const u = f64x2.promote_low_f32x4(v128.load64_zero(guideOut + o)), v = f64x2.promote_low_f32x4(v128.load64_zero(planeOut + o));
    const first = f64x2.sub(g, u), second = f64x2.sub(p, v);
    const product = f64x2.sub(f64x2.mul(g, p), f64x2.mul(u, v)), square = f64x2.sub(f64x2.mul(g, g), f64x2.mul(u, u));
    v128.store(at, f64x2.add(v128.load(at), v128.shuffle<i64>(first, second, 0, 2)));
    v128.store(at, f64x2.add(v128.load(at, 16), v128.shuffle<i64>(product, square, 0, 2)), 16);
    v128.store(at, f64x2.add(v128.load(at, 32), v128.shuffle<i64>(first, second, 1, 3)), 32);
    v128.store(at, f64x2.add(v128.load(at, 48), v128.shuffle<i64>(product, square, 1, 3)), 48);
  }
  if (x < n) {
    const o = (<usize>x) << 2;
    sumProducts(sums + ((<usize>x) << 5), guideIn + o, planeIn + o, 1, 1);
    sumProducts(sums + ((<usize>x) << 5), guideOut + o, planeOut + o, 1, -1);
  }
}

// @ts-ignore: decorator
@inline
function storeMap(first: v128, second: v128, share: f64, epsilon: f64, slope: usize, offset: usize): void {
  const shares = f64x2.splat(share);
  const means = f64x2.mul(first, shares), products = f64x2.mul(second, shares);
  const g = f64x2.extract_lane(means, 0), p = f64x2.extract_lane(means, 1);
  const a = (f64x2.extract_lane(products, 0) - g * p) / (f64x2.extract_lane(products, 1) - g * g + epsilon);
  store<f32>(slope, <f32>a);
  store<f32>(offset, <f32>(p - a * g));
}

/** Samples of a line of w that a window of `radius` around x has. */
// @ts-ignore: decorator
@inline
function windowOf(x: i32, w: i32, radius: i32): i32 {
  return min(w - 1, x + radius) - max(0, x - radius) + 1;
}

/** The linear maps from guide to plane in the window around each sample of rows y0 to y1. Scratch holds 32 bytes a column. */
export function guideRows(guide: usize, plane: usize, w: i32, h: i32, radius: i32, epsilon: f64, slope: usize, offset: usize, y0: i32, y1: i32, scratch: usize): void {
  const stride = (<usize>w) << 2;
  memory.fill(scratch, 0, (<usize>w) << 5);
  for (let y = max(0, y0 - radius); y < min(h, y0 + radius); y++) sumProducts(scratch, guide + <usize>y * stride, plane + <usize>y * stride, w, 1);
  const reach = (<usize>radius) << 5, left = (<usize>(radius + 1)) << 5;
  for (let y = y0; y < y1; y++) {
    const ahead = y + radius, behind = y - radius - 1;
    const inAt = <usize>ahead * stride, outAt = <usize>behind * stride;
    const comes = ahead < h, goes = behind >= 0 && y > y0;
    if (comes && goes) swapProducts(scratch, guide + inAt, plane + inAt, guide + outAt, plane + outAt, w);
    else if (comes) sumProducts(scratch, guide + inAt, plane + inAt, w, 1);
    else if (goes) sumProducts(scratch, guide + outAt, plane + outAt, w, -1);
    const rows = windowOf(y, h, radius);
    let first = f64x2.splat(0), second = f64x2.splat(0);
    let x = 0;
    for (; x < min(w, radius); x++) {
      const at = scratch + ((<usize>x) << 5);
      first = f64x2.add(first, v128.load(at));
      second = f64x2.add(second, v128.load(at, 16));
    }
    let at = scratch, a = slope + <usize>y * stride, b = offset + <usize>y * stride;
    for (x = 0; x < min(w, radius + 1); x++, at += 32, a += 4, b += 4) {
      if (x + radius < w) {
        first = f64x2.add(first, v128.load(at + reach));
        second = f64x2.add(second, v128.load(at + reach, 16));
      }
      storeMap(first, second, 1.0 / <f64>(windowOf(x, w, radius) * rows), epsilon, a, b);
    }
    const whole = 1.0 / <f64>((2 * radius + 1) * rows);
    for (; x + radius < w; x++, at += 32, a += 4, b += 4) {
      first = f64x2.add(first, f64x2.sub(v128.load(at + reach), v128.load(at - left)));
      second = f64x2.add(second, f64x2.sub(v128.load(at + reach, 16), v128.load(at - left, 16)));
      storeMap(first, second, whole, epsilon, a, b);
    }
    for (; x < w; x++, at += 32, a += 4, b += 4) {
      first = f64x2.sub(first, v128.load(at - left));
      second = f64x2.sub(second, v128.load(at - left, 16));
      storeMap(first, second, 1.0 / <f64>(windowOf(x, w, radius) * rows), epsilon, a, b);
    }
  }
}

/** Column sums of two planes, two a column: a row comes in (sign 1) or goes (−1). */
function sumTwo(sums: usize, a: usize, b: usize, n: i32, sign: f64): void {
  for (let x = 0; x < n; x++) {
    const o = (<usize>x) << 2;
    const at = sums + ((<usize>x) << 4);
    store<f64>(at, load<f64>(at) + sign * <f64>load<f32>(a + o));
    store<f64>(at, load<f64>(at, 8) + sign * <f64>load<f32>(b + o), 8);
  }
}

function swapTwo(sums: usize, aIn: usize, bIn: usize, aOut: usize, bOut: usize, n: i32): void {
  let x = 0;
  for (; x + 2 <= n; x += 2) {
    const o = (<usize>x) << 2;
    const at = sums + ((<usize>x) << 4);
    const first = f64x2.sub(f64x2.promote_low_f32x4(v128.load64_zero(aIn + o)), f64x2.promote_low_f32x4(v128.load64_zero(aOut + o)));
    const second = f64x2.sub(f64x2.promote_low_f32x4(v128.load64_zero(bIn + o)), f64x2.promote_low_f32x4(v128.load64_zero(bOut + o)));
    v128.store(at, f64x2.add(v128.load(at), v128.shuffle<i64>(first, second, 0, 2)));
    v128.store(at, f64x2.add(v128.load(at, 16), v128.shuffle<i64>(first, second, 1, 3)), 16);
  }
  if (x < n) {
    const o = (<usize>x) << 2;
    sumTwo(sums + ((<usize>x) << 4), aIn + o, bIn + o, 1, 1);
    sumTwo(sums + ((<usize>x) << 4), aOut + o, bOut + o, 1, -1);
  }
}

/** A mean map laid on the guide, or, where there is none (0), its slope and offset one after the other. */
// @ts-ignore: decorator
@inline
function storeGuided(sum: v128, share: f64, guide: usize, out: usize, out2: usize, o: usize): void {
  const means = f64x2.mul(sum, f64x2.splat(share));
  if (guide) store<f32>(out + o, <f32>(f64x2.extract_lane(means, 0) * <f64>load<f32>(guide + o) + f64x2.extract_lane(means, 1)));
  else {
    store<f32>(out + o, <f32>f64x2.extract_lane(means, 0));
    store<f32>(out2 + o, <f32>f64x2.extract_lane(means, 1));
  }
}

/** Rows y0 to y1 of the means of all maps that reach a sample: laid on a guide into `out`, or, where there is no guide (0), into `out` and `out2`. */
export function guidedRows(slope: usize, offset: usize, w: i32, h: i32, radius: i32, guide: usize, out: usize, out2: usize, y0: i32, y1: i32, scratch: usize): void {
  const stride = (<usize>w) << 2;
  memory.fill(scratch, 0, (<usize>w) << 4);
  for (let y = max(0, y0 - radius); y < min(h, y0 + radius); y++) sumTwo(scratch, slope + <usize>y * stride, offset + <usize>y * stride, w, 1);
  const reach = (<usize>radius) << 4, left = (<usize>(radius + 1)) << 4;
  for (let y = y0; y < y1; y++) {
    const ahead = y + radius, behind = y - radius - 1;
    const inAt = <usize>ahead * stride, outAt = <usize>behind * stride;
    const comes = ahead < h, goes = behind >= 0 && y > y0;
    if (comes && goes) swapTwo(scratch, slope + inAt, offset + inAt, slope + outAt, offset + outAt, w);
    else if (comes) sumTwo(scratch, slope + inAt, offset + inAt, w, 1);
    else if (goes) sumTwo(scratch, slope + outAt, offset + outAt, w, -1);
    const rows = windowOf(y, h, radius);
    let sum = f64x2.splat(0);
    let x = 0;
    for (; x < min(w, radius); x++) sum = f64x2.add(sum, v128.load(scratch + ((<usize>x) << 4)));
    let at = scratch, o = <usize>y * stride;
    for (x = 0; x < min(w, radius + 1); x++, at += 16, o += 4) {
      if (x + radius < w) sum = f64x2.add(sum, v128.load(at + reach));
      storeGuided(sum, 1.0 / <f64>(windowOf(x, w, radius) * rows), guide, out, out2, o);
    }
    const whole = 1.0 / <f64>((2 * radius + 1) * rows);
    for (; x + radius < w; x++, at += 16, o += 4) {
      sum = f64x2.add(sum, f64x2.sub(v128.load(at + reach), v128.load(at - left)));
      storeGuided(sum, whole, guide, out, out2, o);
    }
    for (; x < w; x++, at += 16, o += 4) {
      sum = f64x2.sub(sum, v128.load(at - left));
      storeGuided(sum, 1.0 / <f64>(windowOf(x, w, radius) * rows), guide, out, out2, o);
    }
  }
}
