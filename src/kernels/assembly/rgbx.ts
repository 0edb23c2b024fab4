// Planes put beside each other as RGBX px, which is how frames are read for warping.

/** Three planes of u8 samples beside each other as RGBX codes of 16 bit less 32768, samples y0 to y1, a multiple of 16; blocks of 16 are read whole. */
export function interleaveBytes(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  bytesToRgbx(r, g, b, out, y0, y1, i16x8.splat(-32768));
}

/** The same as plain codes. */
export function rgbxOfBytes(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  bytesToRgbx(r, g, b, out, y0, y1, i16x8.splat(0));
}

// @ts-ignore: decorator
@inline
function bytesToRgbx(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, sign: v128): void {
  for (let i = y0; i < y1; i += 16) {
    const x = v128.load(r + <usize>i), y = v128.load(g + <usize>i), z = v128.load(b + <usize>i);
    for (let half = 0; half < 2; half++) {
      // a byte beside itself is 257 times the byte
      const rr = v128.xor(half ? v128.shuffle<u8>(x, x, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12, 13, 13, 14, 14, 15, 15) : v128.shuffle<u8>(x, x, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7), sign);
      const gg = v128.xor(half ? v128.shuffle<u8>(y, y, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12, 13, 13, 14, 14, 15, 15) : v128.shuffle<u8>(y, y, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7), sign);
      const bb = v128.xor(half ? v128.shuffle<u8>(z, z, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12, 13, 13, 14, 14, 15, 15) : v128.shuffle<u8>(z, z, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7), sign);
      storeRgbx(rr, gg, bb, out + ((<usize>(i + half * 8)) << 3));
    }
  }
}

/** The same of u16 samples, y0 to y1 a multiple of 8. */
export function interleaveSamples(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  samplesToRgbx(r, g, b, out, y0, y1, i16x8.splat(-32768));
}

/** The same as plain codes. */
export function rgbxOfSamples(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  samplesToRgbx(r, g, b, out, y0, y1, i16x8.splat(0));
}

// @ts-ignore: decorator
@inline
function samplesToRgbx(r: usize, g: usize, b: usize, out: usize, y0: i32, y1: i32, sign: v128): void {
  for (let i = y0; i < y1; i += 8) {
    const o = (<usize>i) << 1;
    storeRgbx(v128.xor(v128.load(r + o), sign), v128.xor(v128.load(g + o), sign), v128.xor(v128.load(b + o), sign), out + (o << 2));
  }
}

// @ts-ignore: decorator
@inline
function storeRgbx(r: v128, g: v128, b: v128, out: usize): void {
  const low = v128.shuffle<i16>(r, g, 0, 8, 1, 9, 2, 10, 3, 11), high = v128.shuffle<i16>(r, g, 4, 12, 5, 13, 6, 14, 7, 15);
  const zero = i16x8.splat(0);
  const lowB = v128.shuffle<i16>(b, zero, 0, 8, 1, 9, 2, 10, 3, 11), highB = v128.shuffle<i16>(b, zero, 4, 12, 5, 13, 6, 14, 7, 15);
  v128.store(out, v128.shuffle<i32>(low, lowB, 0, 4, 1, 5));
  v128.store(out, v128.shuffle<i32>(low, lowB, 2, 6, 3, 7), 16);
  v128.store(out, v128.shuffle<i32>(high, highB, 0, 4, 1, 5), 32);
  v128.store(out, v128.shuffle<i32>(high, highB, 2, 6, 3, 7), 48);
}
