/** Values of a descriptor. */
const LENGTH = 128;
const ROW_BYTES: usize = 256;

/** The sums of four vectors of whole numbers, each in its lane. */
// @ts-ignore: decorator
@inline
function fourSums(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = i32x4.add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7));
  const cd = i32x4.add(v128.shuffle<i32>(c, d, 0, 4, 1, 5), v128.shuffle<i32>(c, d, 2, 6, 3, 7));
  return i32x4.add(v128.shuffle<i64>(ab, cd, 0, 2), v128.shuffle<i64>(ab, cd, 1, 3));
}

/**
 * Products of descriptors: out[y · count + j] is row y of a times row j of b times `scale`. Rows of 128 i16 values, whose products fit
 * into 31 bit; b has at least four rows.
 */
export function productRows(a: usize, b: usize, count: i32, scale: f32, out: usize, y0: i32, y1: i32, scratch: usize): void {
  const scales = f32x4.splat(scale);
  for (let y = y0; y < y1; y++) {
    const row = a + ((<usize>(y * LENGTH)) << 1);
    const line = out + ((<usize>(y * count)) << 2);
    for (let at = 0; at < count; at += 4) {
      // the last four overlap those before them where there are no four left
      const j = min(at, count - 4);
      let p = b + ((<usize>(j * LENGTH)) << 1);
      let first = i32x4.splat(0), second = first, third = first, fourth = first;
      for (const end = p + ROW_BYTES, q = row - p; p < end; p += 16) {
        const own = v128.load(q + p);
        first = i32x4.add(first, i32x4.dot_i16x8_s(own, v128.load(p)));
        second = i32x4.add(second, i32x4.dot_i16x8_s(own, v128.load(p, 256)));
        third = i32x4.add(third, i32x4.dot_i16x8_s(own, v128.load(p, 512)));
        fourth = i32x4.add(fourth, i32x4.dot_i16x8_s(own, v128.load(p, 768)));
      }
      v128.store(line + ((<usize>j) << 2), f32x4.mul(f32x4.convert_i32x4_s(fourSums(first, second, third, fourth)), scales));
    }
  }
}
