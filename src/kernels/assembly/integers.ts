// Planes of whole numbers.

/** Means of 2×2 bytes, rounded: output rows y0 to y1 of a plane half as large; an odd last row or column is repeated. */
export function halveBytes(src: usize, w: i32, h: i32, dst: usize, dw: i32, y0: i32, y1: i32, scratch: usize): void {
  const two = i16x8.splat(2);
  for (let y = y0; y < y1; y++) {
    const upper = src + <usize>(2 * y) * w;
    const lower = src + <usize>min(2 * y + 1, h - 1) * w;
    const out = dst + <usize>y * dw;
    let x = 0;
    for (; x + 8 <= dw && 2 * x + 16 <= w; x += 8) {
      const o = (<usize>x) << 1;
      const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(upper + o)), i16x8.extadd_pairwise_i8x16_u(v128.load(lower + o)));
      const mean = i16x8.shr_u(i16x8.add(sum, two), 2);
      v128.store64_lane(out + x, i8x16.narrow_i16x8_u(mean, mean), 0);
    }
    for (; x < dw; x++) {
      const p = <usize>(2 * x), q = <usize>min(2 * x + 1, w - 1);
      const sum = <u32>load<u8>(upper + p) + load<u8>(upper + q) + load<u8>(lower + p) + load<u8>(lower + q);
      store<u8>(out + x, <u8>((sum + 2) >> 2));
    }
  }
}

/** The same of 16-bit samples. */
export function halveSamples(src: usize, w: i32, h: i32, dst: usize, dw: i32, y0: i32, y1: i32, scratch: usize): void {
  const two = i32x4.splat(2);
  for (let y = y0; y < y1; y++) {
    const upper = src + ((<usize>(2 * y) * w) << 1);
    const lower = src + ((<usize>min(2 * y + 1, h - 1) * w) << 1);
    const out = dst + ((<usize>y * dw) << 1);
    let x = 0;
    for (; x + 4 <= dw && 2 * x + 8 <= w; x += 4) {
      const o = (<usize>x) << 2;
      const sum = i32x4.add(i32x4.extadd_pairwise_i16x8_u(v128.load(upper + o)), i32x4.extadd_pairwise_i16x8_u(v128.load(lower + o)));
      const mean = i32x4.shr_u(i32x4.add(sum, two), 2);
      v128.store64_lane(out + ((<usize>x) << 1), i16x8.narrow_i32x4_u(mean, mean), 0);
    }
    for (; x < dw; x++) {
      const p = (<usize>(2 * x)) << 1, q = (<usize>min(2 * x + 1, w - 1)) << 1;
      const sum = <u32>load<u16>(upper + p) + load<u16>(upper + q) + load<u16>(lower + p) + load<u16>(lower + q);
      store<u16>(out + ((<usize>x) << 1), <u16>((sum + 2) >> 2));
    }
  }
}
