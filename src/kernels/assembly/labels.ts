/** mask = 1 where a label is k, else 0: rows y0 to y1 of a window of w columns from x of a plane of labels (u8, lw a row). */
export function maskRows(label: usize, lw: i32, x: i32, k: i32, mask: usize, w: i32, y0: i32, y1: i32, scratch: usize): void {
  const wanted = i8x16.splat(<i8>k), one = f32x4.splat(1);
  for (let y = y0; y < y1; y++) {
    const from = label + <usize>(y * lw + x);
    const to = mask + ((<usize>(y * w)) << 2);
    let i = 0;
    for (; i + 16 <= w; i += 16) {
      const same = i8x16.eq(v128.load(from + <usize>i), wanted);
      const at = to + ((<usize>i) << 2);
      const low = i16x8.extend_low_i8x16_s(same), high = i16x8.extend_high_i8x16_s(same);
      v128.store(at, v128.and(i32x4.extend_low_i16x8_s(low), one));
      v128.store(at, v128.and(i32x4.extend_high_i16x8_s(low), one), 16);
      v128.store(at, v128.and(i32x4.extend_low_i16x8_s(high), one), 32);
      v128.store(at, v128.and(i32x4.extend_high_i16x8_s(high), one), 48);
    }
    for (; i < w; i++) store<f32>(to + ((<usize>i) << 2), load<u8>(from + <usize>i) == <u8>k ? 1 : 0);
  }
}

/** Adds rows y0 to y1 of a plane of w columns to those of a plane of dw columns, from its column x on; src row y lies at y + from. */
export function addRows(src: usize, w: i32, from: i32, dst: usize, dw: i32, x: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let y = y0; y < y1; y++) {
    const a = src + ((<usize>((y + from) * w)) << 2), b = dst + ((<usize>(y * dw + x)) << 2);
    let i = 0;
    for (; i + 4 <= w; i += 4) {
      const o = (<usize>i) << 2;
      v128.store(b + o, f32x4.add(v128.load(a + o), v128.load(b + o)));
    }
    for (; i < w; i++) {
      const o = (<usize>i) << 2;
      store<f32>(b + o, load<f32>(a + o) + load<f32>(b + o));
    }
  }
}
