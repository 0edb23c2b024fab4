/** Values of a descriptor. */
const LENGTH = 128;
const ROW_BYTES: usize = 512;

/**
 * Products of descriptors: out[y · count + j] is row y of a times row j of b. Rows of 128 f32 values.
 */
export function productRows(a: usize, b: usize, count: i32, out: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let y = y0; y < y1; y++) {
    const row = a + ((<usize>(y * LENGTH)) << 2);
    const line = out + ((<usize>(y * count)) << 2);
    for (let j = 0; j < count; j++) {
      const other = b + ((<usize>(j * LENGTH)) << 2);
      let even = f32x4.splat(0), odd = f32x4.splat(0);
      for (let k: usize = 0; k < ROW_BYTES; k += 32) {
        even = f32x4.add(even, f32x4.mul(v128.load(row + k), v128.load(other + k)));
        odd = f32x4.add(odd, f32x4.mul(v128.load(row + k, 16), v128.load(other + k, 16)));
      }
      const sum = f32x4.add(even, odd);
      const left = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
      store<f32>(line + ((<usize>j) << 2), left + f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3));
    }
  }
}
