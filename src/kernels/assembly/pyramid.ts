// Burt and Adelson 1983: five-tap reduce and expand on even samples. Borders as in the common convention:
// the sample before the first mirrors about it, the one behind the last repeats it when expanding.

// @ts-ignore: decorator
@inline
function mirror(i: i32, n: i32): i32 {
  if (n == 1) return 0;
  while (i < 0 || i >= n) i = i < 0 ? -i : 2 * n - 2 - i;
  return i;
}

/** Output rows y0 to y1 of a plane of ((w+1)/2)×((h+1)/2); scratch holds w + 16 samples. */
export function reduceRows(src: usize, w: i32, h: i32, dst: usize, dw: i32, y0: i32, y1: i32, scratch: usize): void {
  const line = scratch + 16;
  const four = f32x4.splat(4), six = f32x4.splat(6), scale = f32x4.splat(1.0 / 256.0);
  for (let y = y0; y < y1; y++) {
    const r0 = src + ((<usize>mirror(2 * y - 2, h) * w) << 2), r1 = src + ((<usize>mirror(2 * y - 1, h) * w) << 2);
    const r2 = src + ((<usize>(2 * y) * w) << 2);
    const r3 = src + ((<usize>mirror(2 * y + 1, h) * w) << 2), r4 = src + ((<usize>mirror(2 * y + 2, h) * w) << 2);
    let x = 0;
    for (; x + 4 <= w; x += 4) {
      const o = (<usize>x) << 2;
      const outer = f32x4.add(v128.load(r0 + o), v128.load(r4 + o));
      const inner = f32x4.mul(f32x4.add(v128.load(r1 + o), v128.load(r3 + o)), four);
      v128.store(line + o, f32x4.add(f32x4.add(outer, inner), f32x4.mul(v128.load(r2 + o), six)));
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      const outer = load<f32>(r0 + o) + load<f32>(r4 + o);
      const inner = (load<f32>(r1 + o) + load<f32>(r3 + o)) * 4;
      store<f32>(line + o, outer + inner + load<f32>(r2 + o) * 6);
    }
    store<f32>(line - 8, load<f32>(line + ((<usize>mirror(-2, w)) << 2)));
    store<f32>(line - 4, load<f32>(line + ((<usize>mirror(-1, w)) << 2)));
    store<f32>(line + ((<usize>w) << 2), load<f32>(line + ((<usize>mirror(w, w)) << 2)));
    store<f32>(line + ((<usize>(w + 1)) << 2), load<f32>(line + ((<usize>mirror(w + 1, w)) << 2)));
    const out = dst + ((<usize>y * dw) << 2);
    x = 0;
    for (; x + 4 <= dw && 2 * x + 9 < w; x += 4) {
      const p = line + ((<usize>x) << 3);
      const a0 = v128.load(p - 8), a1 = v128.load(p + 8), a2 = v128.load(p + 24);
      const em = v128.shuffle<f32>(a0, a1, 0, 2, 4, 6), om = v128.shuffle<f32>(a0, a1, 1, 3, 5, 7);
      const en = v128.shuffle<f32>(v128.load(p + 8), a2, 0, 2, 4, 6);
      const ec = v128.shuffle<f32>(v128.load(p), v128.load(p + 16), 0, 2, 4, 6);
      const op = v128.shuffle<f32>(v128.load(p), v128.load(p + 16), 1, 3, 5, 7);
      const sum = f32x4.add(f32x4.add(f32x4.add(em, en), f32x4.mul(f32x4.add(om, op), four)), f32x4.mul(ec, six));
      v128.store(out + ((<usize>x) << 2), f32x4.mul(sum, scale));
    }
    for (; x < dw; x++) {
      const p = line + ((<usize>x) << 3);
      const outer = load<f32>(p - 8) + load<f32>(p + 8);
      const inner = (load<f32>(p - 4) + load<f32>(p + 4)) * 4;
      store<f32>(out + ((<usize>x) << 2), (outer + inner + load<f32>(p) * 6) * (1.0 / 256.0));
    }
  }
}

/** One expanded row y of the finer plane (fw samples) into out; line is scratch of cw + 8 samples. */
// @ts-ignore: decorator
@inline
function expandRow(coarse: usize, cw: i32, ch: i32, y: i32, fw: i32, line: usize, out: usize): void {
  const k = y >> 1;
  const middle = coarse + ((<usize>k * cw) << 2);
  const below = coarse + ((<usize>min(k + 1, ch - 1) * cw) << 2);
  let x = 0;
  if (y & 1) {
    for (; x + 4 <= cw; x += 4) {
      const o = (<usize>x) << 2;
      v128.store(line + o, f32x4.mul(f32x4.add(v128.load(middle + o), v128.load(below + o)), f32x4.splat(4)));
    }
    for (; x < cw; x++) {
      const o = (<usize>x) << 2;
      store<f32>(line + o, (load<f32>(middle + o) + load<f32>(below + o)) * 4);
    }
  } else {
    const above = coarse + ((<usize>(k > 0 ? k - 1 : min(1, ch - 1)) * cw) << 2);
    for (; x + 4 <= cw; x += 4) {
      const o = (<usize>x) << 2;
      const outer = f32x4.add(v128.load(above + o), v128.load(below + o));
      v128.store(line + o, f32x4.add(outer, f32x4.mul(v128.load(middle + o), f32x4.splat(6))));
    }
    for (; x < cw; x++) {
      const o = (<usize>x) << 2;
      store<f32>(line + o, load<f32>(above + o) + load<f32>(below + o) + load<f32>(middle + o) * 6);
    }
  }
  store<f32>(line - 4, load<f32>(line + (cw > 1 ? 4 : 0)));
  store<f32>(line + ((<usize>cw) << 2), load<f32>(line + ((<usize>(cw - 1)) << 2)));
  const scale = f32x4.splat(1.0 / 64.0);
  x = 0;
  for (; x + 4 <= cw && 2 * x + 8 <= fw; x += 4) {
    const p = line + ((<usize>x) << 2);
    const left = v128.load(p - 4), centre = v128.load(p), right = v128.load(p + 4);
    const even = f32x4.mul(f32x4.add(f32x4.add(left, right), f32x4.mul(centre, f32x4.splat(6))), scale);
    const odd = f32x4.mul(f32x4.mul(f32x4.add(centre, right), f32x4.splat(4)), scale);
    const o = out + ((<usize>x) << 3);
    v128.store(o, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    v128.store(o, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), 16);
  }
  for (let fx = 2 * x; fx < fw; fx++) {
    const p = line + ((<usize>min(fx >> 1, cw - 1)) << 2);
    const value = fx & 1
      ? (load<f32>(p) + load<f32>(p + 4)) * 4
      : load<f32>(p - 4) + load<f32>(p + 4) + load<f32>(p) * 6;
    store<f32>(out + ((<usize>fx) << 2), value * (1.0 / 64.0));
  }
}

/** acc += weight · (fine − expand(coarse)) on rows y0 to y1 of the finer plane. */
export function accumulateBand(
  fine: usize, fw: i32, fh: i32, coarse: usize, cw: i32, ch: i32, weight: usize, acc: usize, y0: i32, y1: i32, scratch: usize,
): void {
  const line = scratch + 16, up = scratch + ((<usize>(cw + 16)) << 2);
  for (let y = y0; y < y1; y++) {
    expandRow(coarse, cw, ch, y, fw, line, up);
    const row = (<usize>y * fw) << 2;
    let x = 0;
    for (; x + 4 <= fw; x += 4) {
      const o = row + ((<usize>x) << 2);
      const band = f32x4.sub(v128.load(fine + o), v128.load(up + ((<usize>x) << 2)));
      v128.store(acc + o, f32x4.add(v128.load(acc + o), f32x4.mul(v128.load(weight + o), band)));
    }
    for (; x < fw; x++) {
      const o = row + ((<usize>x) << 2);
      store<f32>(acc + o, load<f32>(acc + o) + load<f32>(weight + o) * (load<f32>(fine + o) - load<f32>(up + ((<usize>x) << 2))));
    }
  }
}

/** fine += expand(coarse) on rows y0 to y1 of the finer plane. */
export function collapseRows(
  fine: usize, fw: i32, fh: i32, coarse: usize, cw: i32, ch: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const line = scratch + 16, up = scratch + ((<usize>(cw + 16)) << 2);
  for (let y = y0; y < y1; y++) {
    expandRow(coarse, cw, ch, y, fw, line, up);
    const row = fine + ((<usize>y * fw) << 2);
    let x = 0;
    for (; x + 4 <= fw; x += 4) {
      const o = (<usize>x) << 2;
      v128.store(row + o, f32x4.add(v128.load(row + o), v128.load(up + o)));
    }
    for (; x < fw; x++) {
      const o = (<usize>x) << 2;
      store<f32>(row + o, load<f32>(row + o) + load<f32>(up + o));
    }
  }
}

/** acc += weight · value, samples y0 to y1. */
export function accumulateProduct(value: usize, weight: usize, acc: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    const o = (<usize>i) << 2;
    store<f32>(acc + o, load<f32>(acc + o) + load<f32>(weight + o) * load<f32>(value + o));
  }
}
