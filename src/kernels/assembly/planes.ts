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
