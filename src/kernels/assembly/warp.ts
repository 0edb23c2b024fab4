import { constant } from "./elementary";

// Catmull-Rom resampling. Coordinates follow the house rule: pixel centres are integers.
// It rings beside hard edges, by up to a seventh of the step: nothing to what is bright, but much to dark px beside it, and what it adds
// may look clipped. So in the dark a sample keeps a share of the least of the four px around it, and becomes no more nearly clipped than
// they are. Where it is brighter fine lines may be darker than the px beside them, and ringing costs little.

/** Share of the least px around that a dark sample keeps at least: a smooth valley is hardly touched, ringing costs 0.4 EV at most. */
const KEPT: f32 = 0.9;
/** Code up to which what is least around counts as dark, 64 of 255; from twice that on nothing is kept. */
const DARK: f32 = 16448;
/** Code above which a px may be taken for clipped, a little below where a merge begins to (assembly/radiance): 240 of 255. */
const NEARLY_CLIPPED: f32 = 61680;

// @ts-ignore: decorator
@inline
function tapWeight(k: i32, t: f32): f32 {
  // Catmull-Rom spline, a = -0.5 (Keys 1981)
  if (k == 0) return ((-0.5 * t + 1.0) * t - 0.5) * t;
  if (k == 1) return (1.5 * t - 2.5) * t * t + 1.0;
  if (k == 2) return ((-1.5 * t + 2.0) * t + 0.5) * t;
  return (0.5 * t - 0.5) * t * t;
}

/** How much further from the centre a lens shows what lies at a squared distance, see core/geometry/lens. */
// @ts-ignore: decorator
@inline
function stretch(distance2: f64, perHalf: f64, k1: f64, k2: f64): f64 {
  const r2 = distance2 * perHalf;
  return 1.0 + r2 * (k1 + r2 * k2);
}

// @ts-ignore: decorator
@inline
function pixel(src: usize, sw: i32, sh: i32, x: i32, y: i32): v128 {
  const cx = min(max(x, 0), sw - 1);
  const cy = min(max(y, 0), sh - 1);
  return f32x4.convert_i32x4_s(v128.load16x4_u(src + ((<usize>cy * sw + cx) << 3)));
}

/** The bicubic sample of a window of RGBX px at u, v of the window, which repeats its border. */
// @ts-ignore: decorator
@inline
function cubic(src: usize, sw: i32, sh: i32, u: f64, v: f64): v128 {
  const fu = Math.floor(u), fv = Math.floor(v);
  const ui = <i32>fu, vi = <i32>fv;
  const tu = <f32>(u - fu), tv = <f32>(v - fv);
  const wx0 = f32x4.splat(tapWeight(0, tu)), wx1 = f32x4.splat(tapWeight(1, tu));
  const wx2 = f32x4.splat(tapWeight(2, tu)), wx3 = f32x4.splat(tapWeight(3, tu));
  let sum = f32x4.splat(0), least = f32x4.splat(65535), most = f32x4.splat(NEARLY_CLIPPED);
  if (ui >= 1 && vi >= 1 && ui + 2 < sw && vi + 2 < sh) {
    let p = src + ((<usize>(vi - 1) * sw + (ui - 1)) << 3);
    for (let k = 0; k < 4; k++) {
      const two = v128.load(p), four = v128.load(p, 16);
      const left = f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(two)), right = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(four));
      if (k == 1 || k == 2) {
        least = f32x4.pmin(least, f32x4.pmin(left, right));
        most = f32x4.pmax(most, f32x4.pmax(left, right));
      }
      let row = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(two)), wx0);
      row = f32x4.add(row, f32x4.mul(left, wx1));
      row = f32x4.add(row, f32x4.mul(right, wx2));
      row = f32x4.add(row, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(four)), wx3));
      sum = f32x4.add(sum, f32x4.mul(row, f32x4.splat(tapWeight(k, tv))));
      p += (<usize>sw) << 3;
    }
  } else {
    for (let k = 0; k < 4; k++) {
      const yy = vi - 1 + k;
      const left = pixel(src, sw, sh, ui, yy), right = pixel(src, sw, sh, ui + 1, yy);
      if (k == 1 || k == 2) {
        least = f32x4.pmin(least, f32x4.pmin(left, right));
        most = f32x4.pmax(most, f32x4.pmax(left, right));
      }
      let row = f32x4.mul(pixel(src, sw, sh, ui - 1, yy), wx0);
      row = f32x4.add(row, f32x4.mul(left, wx1));
      row = f32x4.add(row, f32x4.mul(right, wx2));
      row = f32x4.add(row, f32x4.mul(pixel(src, sw, sh, ui + 2, yy), wx3));
      sum = f32x4.add(sum, f32x4.mul(row, f32x4.splat(tapWeight(k, tv))));
    }
  }
  return f32x4.pmin(f32x4.pmax(sum, floorOf(least)), most);
}

/** The least that a sample may be by the least of the four px around it: all of KEPT up to DARK, then less. */
// @ts-ignore: decorator
@inline
function floorOf(least: v128): v128 {
  return f32x4.pmin(f32x4.mul(least, f32x4.splat(KEPT)), f32x4.mul(f32x4.sub(f32x4.splat(2 * DARK), least), f32x4.splat(KEPT)));
}

/** Writes the first three lanes into three u16 planes. */
// @ts-ignore: decorator
@inline
function storePixel(sum: v128, out: usize, plane: usize): void {
  const whole = i32x4.trunc_sat_f32x4_s(f32x4.nearest(f32x4.pmin(f32x4.pmax(sum, f32x4.splat(0)), f32x4.splat(65535))));
  store<u16>(out, <u16>i32x4.extract_lane(whole, 0));
  store<u16>(out + plane, <u16>i32x4.extract_lane(whole, 1));
  store<u16>(out + plane + plane, <u16>i32x4.extract_lane(whole, 2));
}

/**
 * Warps rows y0..y1 of the output from a window of a source.
 * src: RGBX, 16 bit, window of sw×sh px whose first pixel is (sx0, sy0) of the source; matrix: nine f64, output → undistorted source,
 * then the source's lens: k1, k2, centre x, centre y and 1 / half-diagonal², all zero where it has none.
 * dst: three u16 planes of planeStride px each, row length w; row y0 of the output is written at row (y0 - yBase).
 */
export function warpRows(
  src: usize, sw: i32, sh: i32, sx0: i32, sy0: i32, matrix: usize,
  dst: usize, planeStride: i32, x0: i32, w: i32, yBase: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const a = load<f64>(matrix), b = load<f64>(matrix, 8), c = load<f64>(matrix, 16);
  const d = load<f64>(matrix, 24), e = load<f64>(matrix, 32), f = load<f64>(matrix, 40);
  const g = load<f64>(matrix, 48), h = load<f64>(matrix, 56), i = load<f64>(matrix, 64);
  const k1 = load<f64>(matrix, 72), k2 = load<f64>(matrix, 80), cx = load<f64>(matrix, 88), cy = load<f64>(matrix, 96), perHalf = load<f64>(matrix, 104);
  const plane = (<usize>planeStride) << 1;
  for (let y = y0; y < y1; y++) {
    let out = dst + ((<usize>(y - yBase) * w) << 1);
    const fy = <f64>y;
    for (let xo = 0; xo < w; xo++, out += 2) {
      const fx = <f64>(x0 + xo);
      const q = 1.0 / (g * fx + h * fy + i);
      let u = (a * fx + b * fy + c) * q, v = (d * fx + e * fy + f) * q;
      if (perHalf != 0.0) {
        const s = stretch((u - cx) * (u - cx) + (v - cy) * (v - cy), perHalf, k1, k2);
        u = cx + (u - cx) * s;
        v = cy + (v - cy) * s;
      }
      u -= <f64>sx0;
      v -= <f64>sy0;
      const sum = cubic(src, sw, sh, u, v);
      storePixel(sum, out, plane);
    }
  }
}

/** Samples between the nodes of a grid map. */
const GRID_STEP = 8;

/** Catmull-Rom weights are whole numbers of this, so that two products are made and summed at once. */
const UNIT: i32 = 8192;
/** Places between two px for which there are weights. */
const PLACES = 4096;
/** Positions are stepped in whole numbers of this part of a px, as far as there is room. */
const FINE = 65536;
const MOST_PX: f32 = 32766;

/** w0 w1 w2 w3 of each place, i16. */
const WEIGHTS = memory.data(PLACES * 8, 16);
for (let i = 0; i < PLACES; i++) {
  const t = <f32>i / <f32>PLACES;
  let left = UNIT;
  for (let k = 0; k < 4; k++) {
    const w = <i32>Mathf.round(tapWeight(k, t) * <f32>UNIT);
    left -= w;
    store<i16>(WEIGHTS + ((<usize>(i * 4 + k)) << 1), <i16>w);
  }
  // the second takes what the others leave of the unit
  const second = WEIGHTS + ((<usize>(i * 4 + 1)) << 1);
  store<i16>(second, load<i16>(second) + <i16>left);
}

/** 1 / UNIT², 2^23 + 32768 and 2^23, 2^23 + 65535: a sum to which 2^23 is added has its whole number in the low bits. */
const CODES = memory.data<f32>([1.4901161193847656e-8, 8421376, 8388608, 8454143]);

/** For codes less 32768: KEPT, what it takes from zero, NEARLY_CLIPPED, and what is kept at DARK and beyond as it falls. */
const BOUNDS = memory.data<f32>([0.9, -3276.8, 28912, -32652.8]);

/** Two RGBX px, channel by channel beside each other, times two weights. */
// @ts-ignore: decorator
@inline
function twoTaps(p: usize, weights: v128): v128 {
  return i32x4.dot_i16x8_s(v128.shuffle<i16>(v128.load(p), v128.load(p, 8), 0, 8, 1, 9, 2, 10, 3, 11), weights);
}

// @ts-ignore: decorator
@inline
function rowSum(p: usize, left: v128, right: v128): v128 {
  return f32x4.convert_i32x4_s(i32x4.add(twoTaps(p, left), twoTaps(p + 16, right)));
}

/** Sample of 4×4 px from p on, rows `line` bytes apart, at a place between them, into three u16 planes. */
// @ts-ignore: decorator
@inline
function storeCubic(p: usize, line: usize, u: i32, v: i32, out: usize, plane: usize): void {
  const across = v128.load64_splat(WEIGHTS + ((<usize>((u >> 4) & (PLACES - 1))) << 3));
  const down = f32x4.convert_i32x4_s(v128.load16x4_s(WEIGHTS + ((<usize>((v >> 4) & (PLACES - 1))) << 3)));
  const left = v128.shuffle<i32>(across, across, 0, 0, 0, 0), right = v128.shuffle<i32>(across, across, 1, 1, 1, 1);
  const first = f32x4.mul(rowSum(p, left, right), v128.shuffle<f32>(down, down, 0, 0, 0, 0));
  const second = f32x4.mul(rowSum(p + line, left, right), v128.shuffle<f32>(down, down, 1, 1, 1, 1));
  const third = f32x4.mul(rowSum(p + line * 2, left, right), v128.shuffle<f32>(down, down, 2, 2, 2, 2));
  const fourth = f32x4.mul(rowSum(p + line * 3, left, right), v128.shuffle<f32>(down, down, 3, 3, 3, 3));
  const cubic = f32x4.mul(f32x4.add(f32x4.add(first, second), f32x4.add(third, fourth)), constant(CODES, 0));
  const above = v128.load(p + line, 8), below = v128.load(p + line * 2, 8);
  const low = i16x8.min_s(above, below), high = i16x8.max_s(above, below);
  const least = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(i16x8.min_s(low, v128.shuffle<i64>(low, low, 1, 0))));
  const most = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(i16x8.max_s(high, v128.shuffle<i64>(high, high, 1, 0))));
  const share = f32x4.mul(least, constant(BOUNDS, 0));
  const floor = f32x4.pmin(f32x4.add(share, constant(BOUNDS, 1)), f32x4.sub(constant(BOUNDS, 3), share));
  const sum = f32x4.pmin(f32x4.pmax(cubic, floor), f32x4.pmax(most, constant(BOUNDS, 2)));
  const code = f32x4.pmin(f32x4.pmax(f32x4.add(sum, constant(CODES, 1)), constant(CODES, 2)), constant(CODES, 3));
  v128.store16_lane(out, code, 0);
  v128.store16_lane(out + plane, code, 2);
  v128.store16_lane(out + plane + plane, code, 4);
}

/** Four px of a row of a window, its border repeated, beside each other at `to`. */
// @ts-ignore: decorator
@inline
function copyRow(src: usize, sw: i32, sh: i32, x: i32, y: i32, to: usize): void {
  const row = src + ((<usize>(min(max(y, 0), sh - 1) * sw)) << 3);
  for (let m = 0; m < 4; m++) store<u64>(to + (<usize>m << 3), load<u64>(row + ((<usize>min(max(x + m, 0), sw - 1)) << 3)));
}

// @ts-ignore: decorator
@inline
function within(u: f32, v: f32, right: f32, bottom: f32): bool {
  return u >= 1 && v >= 1 && u < right && v < bottom;
}

/**
 * Warps through any smooth map, given as where nodes of a grid lie in the source; between them it is bilinear, its places rounded to
 * 1/4096 px. src: as in warpRows, but codes less 32768, 8 bytes behind its end are read. grid: pairs
 * of f32, source x and y of the output px (8·i, yBase + 8·j), gridW nodes a row.
 * dst: three u16 planes of planeStride px each, row length w; row y of the output is written at row (y - yBase).
 */
export function warpGridRows(
  src: usize, sw: i32, sh: i32, sx0: i32, sy0: i32, grid: usize, gridW: i32,
  dst: usize, planeStride: i32, w: i32, yBase: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const plane = (<usize>planeStride) << 1;
  const line8 = (<usize>sw) << 3;
  const right = min(<f32>(sw - 3), MOST_PX), bottom = min(<f32>(sh - 3), MOST_PX);
  for (let y = y0; y < y1; y++) {
    const line = y - yBase;
    const j = line / GRID_STEP;
    const b = <f32>(line - j * GRID_STEP) / <f32>GRID_STEP;
    const upper = grid + ((<usize>(j * gridW)) << 3), lower = upper + ((<usize>gridW) << 3);
    let out = dst + ((<usize>line * w) << 1);
    for (let x0 = 0; x0 < w; x0 += GRID_STEP) {
      const node = (<usize>(x0 / GRID_STEP)) << 3;
      const u0 = load<f32>(upper + node) * (1 - b) + load<f32>(lower + node) * b - <f32>sx0;
      const v0 = load<f32>(upper + node, 4) * (1 - b) + load<f32>(lower + node, 4) * b - <f32>sy0;
      const u1 = load<f32>(upper + node, 8) * (1 - b) + load<f32>(lower + node, 8) * b - <f32>sx0;
      const v1 = load<f32>(upper + node, 12) * (1 - b) + load<f32>(lower + node, 12) * b - <f32>sy0;
      const end = min(GRID_STEP, w - x0);
      if (within(u0, v0, right, bottom) && within(u1, v1, right, bottom)) {
        // half a place more, so that places are rounded
        let u = <i32>(u0 * <f32>FINE) + 8, v = <i32>(v0 * <f32>FINE) + 8;
        const du = <i32>f32.nearest((u1 - u0) * <f32>(FINE / GRID_STEP)), dv = <i32>f32.nearest((v1 - v0) * <f32>(FINE / GRID_STEP));
        for (const stop = out + ((<usize>end) << 1); out < stop; out += 2, u += du, v += dv) {
          storeCubic(src + ((<usize>(((v >> 16) - 1) * sw + (u >> 16) - 1)) << 3), line8, u, v, out, plane);
        }
        continue;
      }
      for (let i = 0; i < end; i++, out += 2) {
        const t = <f32>i / <f32>GRID_STEP;
        const u = u0 + (u1 - u0) * t + 0.5 / <f32>PLACES, v = v0 + (v1 - v0) * t + 0.5 / <f32>PLACES;
        const fu = Mathf.floor(u), fv = Mathf.floor(v);
        for (let k = 0; k < 4; k++) copyRow(src, sw, sh, <i32>fu - 1, <i32>fv - 1 + k, scratch + (<usize>k << 5));
        storeCubic(scratch, 32, <i32>((u - fu) * <f32>FINE), <i32>((v - fv) * <f32>FINE), out, plane);
      }
    }
  }
}

/**
 * The bicubic sample of one f32 plane, which repeats its border. It keeps its share of the least of the four px around it; where some are below
 * zero, it does not go below the least it is made of. Beside what is not a number it is none.
 */
// @ts-ignore: decorator
@inline
function cubicFloat(src: usize, sw: i32, sh: i32, u: f64, v: f64): f32 {
  const fu = Math.floor(u), fv = Math.floor(v);
  const tu = <f32>(u - fu), tv = <f32>(v - fv);
  let sum: f32 = 0, least: f32 = 0, around: f32 = 3.0e38;
  for (let k = 0; k < 4; k++) {
    const row = src + ((<usize>min(max(<i32>fv - 1 + k, 0), sh - 1) * sw) << 2);
    let line: f32 = 0;
    for (let m = 0; m < 4; m++) {
      const sample = load<f32>(row + ((<usize>min(max(<i32>fu - 1 + m, 0), sw - 1)) << 2));
      least = min<f32>(least, sample);
      if ((k == 1 || k == 2) && (m == 1 || m == 2)) around = min<f32>(around, sample);
      line += sample * tapWeight(m, tu);
    }
    sum += line * tapWeight(k, tv);
  }
  return max<f32>(sum, least < 0 ? least : KEPT * around);
}

/** warpGridRows for one f32 plane. */
export function warpFloatGridRows(
  src: usize, sw: i32, sh: i32, sx0: i32, sy0: i32, grid: usize, gridW: i32, dst: usize, w: i32, yBase: i32, y0: i32, y1: i32, scratch: usize,
): void {
  for (let y = y0; y < y1; y++) {
    const line = y - yBase;
    const j = line / GRID_STEP;
    const b = <f32>(line - j * GRID_STEP) / <f32>GRID_STEP;
    const upper = grid + ((<usize>(j * gridW)) << 3), lower = upper + ((<usize>gridW) << 3);
    const out = dst + ((<usize>line * w) << 2);
    for (let x = 0; x < w; x++) {
      const i = x / GRID_STEP;
      const a = <f32>(x - i * GRID_STEP) / <f32>GRID_STEP;
      const node = (<usize>i) << 3;
      const u0 = load<f32>(upper + node) * (1 - b) + load<f32>(lower + node) * b;
      const v0 = load<f32>(upper + node, 4) * (1 - b) + load<f32>(lower + node, 4) * b;
      const u1 = load<f32>(upper + node, 8) * (1 - b) + load<f32>(lower + node, 8) * b;
      const v1 = load<f32>(upper + node, 12) * (1 - b) + load<f32>(lower + node, 12) * b;
      const u = u0 + (u1 - u0) * a - <f32>sx0, v = v0 + (v1 - v0) * a - <f32>sy0;
      store<f32>(out + ((<usize>x) << 2), cubicFloat(src, sw, sh, <f64>u, <f64>v));
    }
  }
}

/** Multiplies rows of three f32 planes by a factor that is given at the nodes of a grid as in warpGridRows, one f32 a node. */
export function gainGridRows(r: usize, g: usize, b: usize, w: i32, grid: usize, gridW: i32, yBase: i32, y0: i32, y1: i32, scratch: usize): void {
  const first = f32x4(0, 0.125, 0.25, 0.375), second = f32x4(0.5, 0.625, 0.75, 0.875);
  for (let y = y0; y < y1; y++) {
    const line = y - yBase;
    const j = line / GRID_STEP;
    const t = <f32>(line - j * GRID_STEP) / <f32>GRID_STEP;
    const upper = grid + ((<usize>(j * gridW)) << 2), lower = upper + ((<usize>gridW) << 2);
    let at = (<usize>(line * w)) << 2;
    for (let x = 0; x < w; x += GRID_STEP) {
      const node = (<usize>(x / GRID_STEP)) << 2;
      const left = load<f32>(upper + node) * (1 - t) + load<f32>(lower + node) * t;
      const slope = load<f32>(upper + node, 4) * (1 - t) + load<f32>(lower + node, 4) * t - left;
      if (x + GRID_STEP <= w) {
        const p = f32x4.add(f32x4.splat(left), f32x4.mul(f32x4.splat(slope), first));
        const q = f32x4.add(f32x4.splat(left), f32x4.mul(f32x4.splat(slope), second));
        scaleEight(r + at, p, q);
        scaleEight(g + at, p, q);
        scaleEight(b + at, p, q);
        at += 32;
      } else {
        for (let i = 0; i < w - x; i++, at += 4) {
          const factor = left + slope * (<f32>i / <f32>GRID_STEP);
          store<f32>(r + at, load<f32>(r + at) * factor);
          store<f32>(g + at, load<f32>(g + at) * factor);
          store<f32>(b + at, load<f32>(b + at) * factor);
        }
      }
    }
  }
}

// @ts-ignore: decorator
@inline
function scaleEight(at: usize, p: v128, q: v128): void {
  v128.store(at, f32x4.mul(v128.load(at), p));
  v128.store(at, f32x4.mul(v128.load(at, 16), q), 16);
}

/** The same for one f32 plane; see cubicFloat for what is below zero. */
export function warpFloatRows(
  src: usize, sw: i32, sh: i32, sx0: i32, sy0: i32, matrix: usize,
  dst: usize, x0: i32, w: i32, yBase: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const a = load<f64>(matrix), b = load<f64>(matrix, 8), c = load<f64>(matrix, 16);
  const d = load<f64>(matrix, 24), e = load<f64>(matrix, 32), f = load<f64>(matrix, 40);
  const g = load<f64>(matrix, 48), h = load<f64>(matrix, 56), i = load<f64>(matrix, 64);
  const k1 = load<f64>(matrix, 72), k2 = load<f64>(matrix, 80), cx = load<f64>(matrix, 88), cy = load<f64>(matrix, 96), perHalf = load<f64>(matrix, 104);
  for (let y = y0; y < y1; y++) {
    let out = dst + ((<usize>(y - yBase) * w) << 2);
    for (let xo = 0; xo < w; xo++, out += 4) {
      const fx = <f64>(x0 + xo), fy = <f64>y;
      const q = 1.0 / (g * fx + h * fy + i);
      let u = (a * fx + b * fy + c) * q, v = (d * fx + e * fy + f) * q;
      if (perHalf != 0.0) {
        const s = stretch((u - cx) * (u - cx) + (v - cy) * (v - cy), perHalf, k1, k2);
        u = cx + (u - cx) * s;
        v = cy + (v - cy) * s;
      }
      u -= <f64>sx0;
      v -= <f64>sy0;
      store<f32>(out, cubicFloat(src, sw, sh, u, v));
    }
  }
}
