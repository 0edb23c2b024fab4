import { constant } from "./elementary";

// Burt and Adelson 1983: five-tap reduce and expand on even samples. Borders as in the common convention:
// the sample before the first mirrors about it, the one behind the last repeats it when expanding.

// @ts-ignore: decorator
@inline
function mirror(i: i32, n: i32): i32 {
  if (n == 1) return 0;
  while (i < 0 || i >= n) i = i < 0 ? -i : 2 * n - 2 - i;
  return i;
}

const TAPS = memory.data<f32>([4, 6, 0.00390625, 0.125, 0.75, 0.5]);

/** Output rows y0 to y1 of a plane of ((w+1)/2)×((h+1)/2); scratch holds w + 32 samples. */
export function reduceRows(src: usize, w: i32, h: i32, dst: usize, dw: i32, y0: i32, y1: i32, scratch: usize): void {
  // columns of even and of odd number apart, so that four outputs take five loads
  const even = scratch + 16, odd = even + ((<usize>(dw + 8)) << 2);
  const four = constant(TAPS, 0), six = constant(TAPS, 1), scale = constant(TAPS, 2);
  for (let y = y0; y < y1; y++) {
    const r0 = src + ((<usize>mirror(2 * y - 2, h) * w) << 2), r1 = src + ((<usize>mirror(2 * y - 1, h) * w) << 2);
    const r2 = src + ((<usize>(2 * y) * w) << 2);
    const r3 = src + ((<usize>mirror(2 * y + 1, h) * w) << 2), r4 = src + ((<usize>mirror(2 * y + 2, h) * w) << 2);
    let x = 0;
    for (; x + 8 <= w; x += 8) {
      const o = (<usize>x) << 2;
      const outerA = f32x4.add(v128.load(r0 + o), v128.load(r4 + o)), outerB = f32x4.add(v128.load(r0 + o, 16), v128.load(r4 + o, 16));
      const innerA = f32x4.mul(f32x4.add(v128.load(r1 + o), v128.load(r3 + o)), four);
      const innerB = f32x4.mul(f32x4.add(v128.load(r1 + o, 16), v128.load(r3 + o, 16)), four);
      const a = f32x4.add(f32x4.add(outerA, innerA), f32x4.mul(v128.load(r2 + o), six));
      const b = f32x4.add(f32x4.add(outerB, innerB), f32x4.mul(v128.load(r2 + o, 16), six));
      v128.store(even + (o >> 1), v128.shuffle<f32>(a, b, 0, 2, 4, 6));
      v128.store(odd + (o >> 1), v128.shuffle<f32>(a, b, 1, 3, 5, 7));
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      const outer = load<f32>(r0 + o) + load<f32>(r4 + o);
      const inner = (load<f32>(r1 + o) + load<f32>(r3 + o)) * 4;
      store<f32>(column(even, odd, x), outer + inner + load<f32>(r2 + o) * 6);
    }
    for (let beyond = -2; beyond < 0; beyond++) {
      store<f32>(column(even, odd, beyond), load<f32>(column(even, odd, mirror(beyond, w))));
      store<f32>(column(even, odd, w - 1 - beyond), load<f32>(column(even, odd, mirror(w - 1 - beyond, w))));
    }
    const out = dst + ((<usize>y * dw) << 2);
    x = 0;
    for (; x + 4 <= dw; x += 4) {
      const o = (<usize>x) << 2;
      const outer = f32x4.add(v128.load(even + o - 4), v128.load(even + o + 4));
      const inner = f32x4.mul(f32x4.add(v128.load(odd + o - 4), v128.load(odd + o)), four);
      v128.store(out + o, f32x4.mul(f32x4.add(f32x4.add(outer, inner), f32x4.mul(v128.load(even + o), six)), scale));
    }
    for (; x < dw; x++) {
      const o = (<usize>x) << 2;
      const outer = load<f32>(even + o - 4) + load<f32>(even + o + 4);
      const inner = (load<f32>(odd + o - 4) + load<f32>(odd + o)) * 4;
      store<f32>(out + o, (outer + inner + load<f32>(even + o) * 6) * (1.0 / 256.0));
    }
  }
}

/** Where column x of a line is kept. */
// @ts-ignore: decorator
@inline
function column(even: usize, odd: usize, x: i32): usize {
  return (x & 1 ? odd : even) + ((x >> 1) << 2);
}

/** Row y of the finer plane between the rows of the coarser one, still of cw samples, with one sample more at either end. */
// @ts-ignore: decorator
@inline
function expandDown(coarse: usize, cw: i32, ch: i32, y: i32, line: usize): void {
  const k = y >> 1;
  const middle = coarse + ((<usize>k * cw) << 2);
  const below = coarse + ((<usize>min(k + 1, ch - 1) * cw) << 2);
  let x = 0;
  if (y & 1) {
    const half = constant(TAPS, 5);
    for (; x + 4 <= cw; x += 4) {
      const o = (<usize>x) << 2;
      v128.store(line + o, f32x4.mul(f32x4.add(v128.load(middle + o), v128.load(below + o)), half));
    }
    for (; x < cw; x++) {
      const o = (<usize>x) << 2;
      store<f32>(line + o, (load<f32>(middle + o) + load<f32>(below + o)) * 0.5);
    }
  } else {
    const above = coarse + ((<usize>(k > 0 ? k - 1 : min(1, ch - 1)) * cw) << 2);
    const outer = constant(TAPS, 3), inner = constant(TAPS, 4);
    for (; x + 4 <= cw; x += 4) {
      const o = (<usize>x) << 2;
      const sum = f32x4.mul(f32x4.add(v128.load(above + o), v128.load(below + o)), outer);
      v128.store(line + o, f32x4.add(sum, f32x4.mul(v128.load(middle + o), inner)));
    }
    for (; x < cw; x++) {
      const o = (<usize>x) << 2;
      store<f32>(line + o, (load<f32>(above + o) + load<f32>(below + o)) * 0.125 + load<f32>(middle + o) * 0.75);
    }
  }
  store<f32>(line - 4, load<f32>(line + (cw > 1 ? 4 : 0)));
  store<f32>(line + ((<usize>cw) << 2), load<f32>(line + ((<usize>(cw - 1)) << 2)));
}

/** Samples 2x and 2x + 2 .. and 2x + 1, 2x + 3 .. of a finer row from four of a line made by expandDown. */
// @ts-ignore: decorator
@inline
function evenColumns(line: usize, outer: v128, inner: v128): v128 {
  return f32x4.add(f32x4.mul(f32x4.add(v128.load(line - 4), v128.load(line + 4)), outer), f32x4.mul(v128.load(line), inner));
}

// @ts-ignore: decorator
@inline
function oddColumns(line: usize, half: v128): v128 {
  return f32x4.mul(f32x4.add(v128.load(line), v128.load(line + 4)), half);
}

/** Sample fx of a finer row from a line made by expandDown. */
// @ts-ignore: decorator
@inline
function expandedAt(line: usize, cw: i32, fx: i32): f32 {
  const p = line + ((<usize>min(fx >> 1, cw - 1)) << 2);
  return fx & 1 ? (load<f32>(p) + load<f32>(p + 4)) * 0.5 : (load<f32>(p - 4) + load<f32>(p + 4)) * 0.125 + load<f32>(p) * 0.75;
}

/** weight · (fine − expanded) of four samples. */
// @ts-ignore: decorator
@inline
function weighted(fine: usize, weight: usize, expanded: v128): v128 {
  return f32x4.mul(v128.load(weight), f32x4.sub(v128.load(fine), expanded));
}

/** acc, or nothing, + weight · (fine − expanded) of a row, whose coarser plane lies in a line made by expandDown. */
// @ts-ignore: decorator
@inline
function addBandRow(fine: usize, fw: i32, line: usize, cw: i32, weight: usize, acc: usize, fresh: bool): void {
  const outer = constant(TAPS, 3), inner = constant(TAPS, 4), half = constant(TAPS, 5);
  let x = 0;
  for (; x + 8 <= fw; x += 8) {
    const p = line + ((<usize>x) << 1), o = (<usize>x) << 2;
    const even = evenColumns(p, outer, inner), odd = oddColumns(p, half);
    const a = weighted(fine + o, weight + o, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    const b = weighted(fine + o + 16, weight + o + 16, v128.shuffle<f32>(even, odd, 2, 6, 3, 7));
    v128.store(acc + o, fresh ? a : f32x4.add(v128.load(acc + o), a));
    v128.store(acc + o, fresh ? b : f32x4.add(v128.load(acc + o, 16), b), 16);
  }
  for (; x < fw; x++) {
    const o = (<usize>x) << 2;
    const before = fresh ? <f32>0 : load<f32>(acc + o);
    store<f32>(acc + o, before + load<f32>(weight + o) * (load<f32>(fine + o) - expandedAt(line, cw, x)));
  }
}

/**
 * acc += Σ weight · (fine − expand(coarse)) of some pictures, on rows y0 to y1 of the finer plane; row by row, so that a row of acc is
 * fetched once for all pictures. bands: for each picture the addresses of fine, coarse and weight. fresh: 1 where nothing is in acc yet, else 0.
 */
export function accumulateBands(
  count: i32, bands: usize, fw: i32, fh: i32, cw: i32, ch: i32, acc: usize, fresh: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const line = scratch + 16;
  for (let y = y0; y < y1; y++) {
    const row = (<usize>y * fw) << 2;
    for (let k = 0; k < count; k++) {
      const band = bands + <usize>k * 12, fine = load<u32>(band) + row, weight = load<u32>(band, 8) + row;
      expandDown(load<u32>(band, 4), cw, ch, y, line);
      if (k == 0 && fresh) addBandRow(fine, fw, line, cw, weight, acc + row, true);
      else addBandRow(fine, fw, line, cw, weight, acc + row, false);
    }
  }
}

/** fine += expand(coarse) on rows y0 to y1 of the finer plane. */
export function collapseRows(
  fine: usize, fw: i32, fh: i32, coarse: usize, cw: i32, ch: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const line = scratch + 16;
  const outer = constant(TAPS, 3), inner = constant(TAPS, 4), half = constant(TAPS, 5);
  for (let y = y0; y < y1; y++) {
    expandDown(coarse, cw, ch, y, line);
    const row = fine + ((<usize>y * fw) << 2);
    let x = 0;
    for (; x + 8 <= fw; x += 8) {
      const p = line + ((<usize>x) << 1), o = row + ((<usize>x) << 2);
      const even = evenColumns(p, outer, inner), odd = oddColumns(p, half);
      v128.store(o, f32x4.add(v128.load(o), v128.shuffle<f32>(even, odd, 0, 4, 1, 5)));
      v128.store(o, f32x4.add(v128.load(o, 16), v128.shuffle<f32>(even, odd, 2, 6, 3, 7)), 16);
    }
    for (; x < fw; x++) {
      const o = row + ((<usize>x) << 2);
      store<f32>(o, load<f32>(o) + expandedAt(line, cw, x));
    }
  }
}

/** acc += weight · value, samples y0 to y1. fresh: as above. */
export function accumulateProduct(value: usize, weight: usize, acc: usize, fresh: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    const o = (<usize>i) << 2;
    const before = fresh ? <f32>0 : load<f32>(acc + o);
    store<f32>(acc + o, before + load<f32>(weight + o) * load<f32>(value + o));
  }
}
