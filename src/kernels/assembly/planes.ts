// Moves between sample formats, colour matrices and display levels.

/** u16 → f32 by a table of 65536 f32; count samples from y0 to y1. */
export function lookUpSamples(src: usize, table: usize, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    store<f32>(dst + ((<usize>i) << 2), load<f32>(table + ((<usize>load<u16>(src + ((<usize>i) << 1))) << 2)));
  }
}

/** In place: (r, g, b) = M (r, g, b); matrix: nine f32, row-major. Samples y0 to y1, a multiple of 4. */
export function applyMatrix(r: usize, g: usize, b: usize, matrix: usize, y0: i32, y1: i32, scratch: usize): void {
  const m0 = v128.load32_splat(matrix),
    m1 = v128.load32_splat(matrix, 4),
    m2 = v128.load32_splat(matrix, 8);
  const m3 = v128.load32_splat(matrix, 12),
    m4 = v128.load32_splat(matrix, 16),
    m5 = v128.load32_splat(matrix, 20);
  const m6 = v128.load32_splat(matrix, 24),
    m7 = v128.load32_splat(matrix, 28),
    m8 = v128.load32_splat(matrix, 32);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o),
      y = v128.load(g + o),
      z = v128.load(b + o);
    v128.store(r + o, f32x4.add(f32x4.add(f32x4.mul(m0, x), f32x4.mul(m1, y)), f32x4.mul(m2, z)));
    v128.store(g + o, f32x4.add(f32x4.add(f32x4.mul(m3, x), f32x4.mul(m4, y)), f32x4.mul(m5, z)));
    v128.store(b + o, f32x4.add(f32x4.add(f32x4.mul(m6, x), f32x4.mul(m7, y)), f32x4.mul(m8, z)));
  }
}

/**
 * In place: runs of samples of a row that are not numbers become a line between the samples at their ends, or what the one end is where they begin or end
 * the row; zero where a run is longer than `reach`, or all of the row. For sums over neighbourhoods in which such samples have no weight. Rows y0 to y1 of
 * w samples.
 */
export function fillRows(plane: usize, w: i32, reach: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let y = y0; y < y1; y++) {
    const row = plane + ((<usize>y * w) << 2);
    for (let x = 0; x < w; x++) {
      const first = load<f32>(row + ((<usize>x) << 2));
      if (first == first) continue;
      let end = x + 1;
      while (end < w && load<f32>(row + ((<usize>end) << 2)) != load<f32>(row + ((<usize>end) << 2))) end++;
      let left: f32 = 0, right: f32 = 0;
      if (end - x <= reach && end - x < w) {
        left = x > 0 ? load<f32>(row + ((<usize>(x - 1)) << 2)) : load<f32>(row + ((<usize>end) << 2));
        right = end < w ? load<f32>(row + ((<usize>end) << 2)) : left;
      }
      const step = (right - left) / <f32>(end - x + 1);
      for (let k = x; k < end; k++) store<f32>(row + ((<usize>k) << 2), left + step * <f32>(k - x + 1));
      x = end;
    }
  }
}

/** coverage = 0 where the sample is not a number; samples y0 to y1, a multiple of 4. */
export function coverNumbers(plane: usize, coverage: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2, v = v128.load(plane + o);
    v128.store(coverage + o, v128.and(v128.load(coverage + o), f32x4.eq(v, v)));
  }
}

/** Mean of 2×2 samples: output rows y0 to y1 of a plane half as large; an odd last row or column is repeated. */
export function halveRows(src: usize, w: i32, h: i32, dst: usize, dw: i32, y0: i32, y1: i32, scratch: usize): void {
  const quarter = f32x4.splat(0.25);
  for (let y = y0; y < y1; y++) {
    const upper = src + ((<usize>(2 * y) * w) << 2);
    const lower = src + ((<usize>min(2 * y + 1, h - 1) * w) << 2);
    const out = dst + ((<usize>y * dw) << 2);
    let x = 0;
    for (; x + 4 <= dw && 2 * x + 8 <= w; x += 4) {
      const o = (<usize>x) << 3;
      const s0 = f32x4.add(v128.load(upper + o), v128.load(lower + o));
      const s1 = f32x4.add(v128.load(upper + o, 16), v128.load(lower + o, 16));
      const even = v128.shuffle<f32>(s0, s1, 0, 2, 4, 6),
        odd = v128.shuffle<f32>(s0, s1, 1, 3, 5, 7);
      v128.store(out + ((<usize>x) << 2), f32x4.mul(f32x4.add(even, odd), quarter));
    }
    for (; x < dw; x++) {
      const p = (<usize>(2 * x)) << 2,
        q = (<usize>min(2 * x + 1, w - 1)) << 2;
      const left = load<f32>(upper + p) + load<f32>(lower + p);
      const right = load<f32>(upper + q) + load<f32>(lower + q);
      store<f32>(out + ((<usize>x) << 2), (left + right) * 0.25);
    }
  }
}

/** u8 → f32 by a table of 256 f32; samples y0 to y1. */
export function lookUpBytes(src: usize, table: usize, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    store<f32>(dst + ((<usize>i) << 2), load<f32>(table + ((<usize>load<u8>(src + i)) << 2)));
  }
}

/** Means of cells of 4×4 samples of a plane of 0..1 as u8 of 0..255; cells at the right and lower border may be smaller. Rows of cells y0 to y1. */
export function shareRows(plane: usize, w: i32, h: i32, cells: usize, y0: i32, y1: i32, scratch: usize): void {
  const columns = (w + 3) >> 2;
  for (let y = y0; y < y1; y++) {
    const rows = min(4, h - 4 * y);
    const first = plane + ((<usize>(4 * y) * w) << 2);
    const scale = f32x4.splat(63.75 / <f32>rows);
    for (let x = 0; x < columns; x++) {
      let sum = f32x4.splat(0);
      const left = min(4, w - 4 * x);
      let at = first + ((<usize>x) << 4);
      for (let k = 0; k < rows; k++, at += (<usize>w) << 2) sum = f32x4.add(sum, v128.load(at));
      let mean: f32;
      if (left == 4) {
        const pairs = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
        mean = f32x4.extract_lane(f32x4.mul(f32x4.add(pairs, v128.shuffle<f32>(pairs, pairs, 1, 0, 3, 2)), scale), 0);
      } else {
        mean = f32x4.extract_lane(sum, 0) + (left > 1 ? f32x4.extract_lane(sum, 1) : 0) + (left > 2 ? f32x4.extract_lane(sum, 2) : 0);
        mean *= 255 / <f32>(rows * left);
      }
      store<u8>(cells + y * columns + x, <u8>(min(max(mean, 0), 255) + 0.5));
    }
  }
}

/** Luminance of linear samples, at least 1e-6; weights: three f32. Samples y0 to y1, a multiple of 4. */
export function luminanceSamples(r: usize, g: usize, b: usize, weights: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  const wr = v128.load32_splat(weights), wg = v128.load32_splat(weights, 4), wb = v128.load32_splat(weights, 8), least = f32x4.splat(1e-6);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const light = f32x4.add(f32x4.add(f32x4.mul(wr, v128.load(r + o)), f32x4.mul(wg, v128.load(g + o))), f32x4.mul(wb, v128.load(b + o)));
    v128.store(out + o, f32x4.pmax(light, least));
  }
}

/** Repeats the first and the last sample of a row twice beyond its ends. */
// @ts-ignore: decorator
@inline
function padEnds(row: usize, w: i32): void {
  const end = row + ((<usize>w) << 2), first = load<f32>(row), last = load<f32>(end - 4);
  store<f32>(row - 8, first);
  store<f32>(row - 4, first);
  store<f32>(end, last);
  store<f32>(end + 4, last);
}

/**
 * Sorts samples by the ratio of the brightest to the darkest in the 5×5 around them: 2 (an edge) where it is above `steep`, 1 (even)
 * where it is at most `even`, else 0. Rows y0 to y1 of w samples; beyond the border there is nothing.
 */
export function edgeRows(light: usize, w: i32, h: i32, steep: f32, even: f32, kinds: usize, y0: i32, y1: i32, scratch: usize): void {
  const high = scratch + 16, low = high + ((<usize>w) << 2) + 32;
  const steep4 = f32x4.splat(steep), even4 = f32x4.splat(even), two = i32x4.splat(2), one = i32x4.splat(1);
  for (let y = y0; y < y1; y++) {
    const top = max(0, y - 2), bottom = min(h - 1, y + 2);
    for (let x = 0; x < w; x += 4) {
      const o = (<usize>x) << 2;
      let at = light + ((<usize>(top * w)) << 2) + o;
      let most = v128.load(at), least = most;
      for (let k = top; k < bottom; k++) {
        at += (<usize>w) << 2;
        const v = v128.load(at);
        most = f32x4.pmax(most, v);
        least = f32x4.pmin(least, v);
      }
      v128.store(high + o, most);
      v128.store(low + o, least);
    }
    padEnds(high, w);
    padEnds(low, w);
    const out = kinds + y * w;
    for (let x = 0; x < w; x += 4) {
      const o = (<usize>x) << 2;
      const p = high + o, q = low + o;
      const most = f32x4.pmax(f32x4.pmax(f32x4.pmax(v128.load(p - 8), v128.load(p - 4)), f32x4.pmax(v128.load(p), v128.load(p + 4))), v128.load(p + 8));
      const least = f32x4.pmin(f32x4.pmin(f32x4.pmin(v128.load(q - 8), v128.load(q - 4)), f32x4.pmin(v128.load(q), v128.load(q + 4))), v128.load(q + 8));
      const kind = v128.or(v128.and(f32x4.gt(most, f32x4.mul(least, steep4)), two), v128.and(f32x4.le(most, f32x4.mul(least, even4)), one));
      const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(kind, kind), i16x8.narrow_i32x4_u(kind, kind));
      if (x + 4 <= w) store<u32>(out + x, i32x4.extract_lane(bytes, 0));
      else for (let k = x; k < w; k++) store<u8>(out + k, <u8>(<u32>i32x4.extract_lane(bytes, 0) >> (<u32>(k - x) << 3)));
    }
  }
}

/** u8 → f32 of 0..1, the code times 1/255 in single precision. Samples y0 to y1. */
export function unitBytes(src: usize, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  const scale = f32x4.splat(1.0 / 255.0);
  let i = y0;
  for (; i + 8 <= y1; i += 8) {
    const codes = v128.load8x8_u(src + i), out = dst + ((<usize>i) << 2);
    v128.store(out, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(codes)), scale));
    v128.store(out, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(codes)), scale), 16);
  }
  for (; i < y1; i++) store<f32>(dst + ((<usize>i) << 2), <f32>load<u8>(src + i) * <f32>(1.0 / 255.0));
}

/** 0..1 of four 16-bit codes. Codes of 8-bit sources, which are multiples of 257, become what unitBytes makes of them. */
// @ts-ignore: decorator
@inline
function unit(codes: v128): v128 {
  const value = f32x4.convert_i32x4_s(codes);
  const byte = f32x4.floor(f32x4.mul(f32x4.add(value, f32x4.splat(0.5)), f32x4.splat(1.0 / 257.0)));
  const whole = f32x4.eq(f32x4.mul(byte, f32x4.splat(257)), value);
  return v128.bitselect(f32x4.mul(byte, f32x4.splat(1.0 / 255.0)), f32x4.div(value, f32x4.splat(65535)), whole);
}

/** u16 → f32 of 0..1. Samples y0 to y1. */
export function unitSamples(src: usize, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  let i = y0;
  for (; i + 4 <= y1; i += 4) v128.store(dst + ((<usize>i) << 2), unit(v128.load16x4_u(src + ((<usize>i) << 1))));
  for (; i < y1; i++) store<f32>(dst + ((<usize>i) << 2), f32x4.extract_lane(unit(i32x4.splat(load<u16>(src + ((<usize>i) << 1)))), 0));
}

/**
 * Of the kinds from edgeRows keeps an edge only where the square of ±reach around it holds at least `least` even samples (255 at most
 * are counted). Rows y0 to y1 of w samples; beyond the border there is nothing.
 */
export function supportedEdgeRows(kinds: usize, w: i32, h: i32, reach: i32, least: i32, out: usize, y0: i32, y1: i32, scratch: usize): void {
  const line = scratch + 32;
  const one = i8x16.splat(1), two = i8x16.splat(2), enough = i8x16.splat(<i8>least);
  for (let y = y0; y < y1; y++) {
    const top = max(0, y - reach), bottom = min(h - 1, y + reach);
    memory.fill(scratch, 0, 32);
    for (let x = 0; x < w; x += 16) {
      let sum = i8x16.splat(0);
      for (let v = top; v <= bottom; v++) sum = i8x16.add(sum, v128.and(v128.load(kinds + v * w + x), one));
      v128.store(line + x, sum);
    }
    memory.fill(line + w, 0, 32);
    const row = y * w;
    for (let x = 0; x < w; x += 16) {
      const kind = v128.load(kinds + row + x);
      let sum = i8x16.splat(0);
      // most vectors hold no edge
      if (v128.any_true(v128.and(kind, two))) for (let d = -reach; d <= reach; d++) sum = i8x16.add_sat_u(sum, v128.load(line + x + d));
      const edge = v128.or(v128.and(kind, one), v128.and(v128.and(kind, two), i8x16.ge_u(sum, enough)));
      if (x + 16 <= w) v128.store(out + row + x, edge);
      else {
        v128.store(line + w + 64, edge);
        memory.copy(out + row + x, line + w + 64, w - x);
      }
    }
  }
}
