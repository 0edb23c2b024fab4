// Catmull-Rom resampling. Coordinates follow the house rule: pixel centres are integers.

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
  const zero = f32x4.splat(0), top = f32x4.splat(65535);
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
      const fu = Math.floor(u), fv = Math.floor(v);
      const ui = <i32>fu, vi = <i32>fv;
      const tu = <f32>(u - fu), tv = <f32>(v - fv);
      const wx0 = f32x4.splat(tapWeight(0, tu)), wx1 = f32x4.splat(tapWeight(1, tu));
      const wx2 = f32x4.splat(tapWeight(2, tu)), wx3 = f32x4.splat(tapWeight(3, tu));
      let sum = zero;
      if (ui >= 1 && vi >= 1 && ui + 2 < sw && vi + 2 < sh) {
        let p = src + ((<usize>(vi - 1) * sw + (ui - 1)) << 3);
        for (let k = 0; k < 4; k++) {
          const two = v128.load(p), four = v128.load(p, 16);
          let row = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(two)), wx0);
          row = f32x4.add(row, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(two)), wx1));
          row = f32x4.add(row, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(four)), wx2));
          row = f32x4.add(row, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(four)), wx3));
          sum = f32x4.add(sum, f32x4.mul(row, f32x4.splat(tapWeight(k, tv))));
          p += (<usize>sw) << 3;
        }
      } else {
        for (let k = 0; k < 4; k++) {
          const yy = vi - 1 + k;
          let row = f32x4.mul(pixel(src, sw, sh, ui - 1, yy), wx0);
          row = f32x4.add(row, f32x4.mul(pixel(src, sw, sh, ui, yy), wx1));
          row = f32x4.add(row, f32x4.mul(pixel(src, sw, sh, ui + 1, yy), wx2));
          row = f32x4.add(row, f32x4.mul(pixel(src, sw, sh, ui + 2, yy), wx3));
          sum = f32x4.add(sum, f32x4.mul(row, f32x4.splat(tapWeight(k, tv))));
        }
      }
      const whole = i32x4.trunc_sat_f32x4_s(f32x4.nearest(f32x4.pmin(f32x4.pmax(sum, zero), top)));
      store<u16>(out, <u16>i32x4.extract_lane(whole, 0));
      store<u16>(out + plane, <u16>i32x4.extract_lane(whole, 1));
      store<u16>(out + plane + plane, <u16>i32x4.extract_lane(whole, 2));
    }
  }
}

/** The same for one f32 plane; what overshoots below zero becomes zero. */
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
      const fu = Math.floor(u), fv = Math.floor(v);
      const tu = <f32>(u - fu), tv = <f32>(v - fv);
      let sum: f32 = 0;
      for (let k = 0; k < 4; k++) {
        const row = src + ((<usize>min(max(<i32>fv - 1 + k, 0), sh - 1) * sw) << 2);
        let line: f32 = 0;
        for (let m = 0; m < 4; m++) {
          line += load<f32>(row + ((<usize>min(max(<i32>fu - 1 + m, 0), sw - 1)) << 2)) * tapWeight(m, tu);
        }
        sum += line * tapWeight(k, tv);
      }
      store<f32>(out, max<f32>(sum, 0));
    }
  }
}
