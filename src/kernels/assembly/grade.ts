import { decodeSrgb4, encodeSrgb4, exp2x4, log2x4, pow4 } from "./elementary";

// @ts-ignore: decorator
@inline
function luminance(r: v128, g: v128, b: v128): v128 {
  // ITU-R BT.2020 luminance coefficients
  const rg = f32x4.add(f32x4.mul(r, f32x4.splat(0.2627)), f32x4.mul(g, f32x4.splat(0.678)));
  return f32x4.add(rg, f32x4.mul(b, f32x4.splat(0.0593)));
}

/** In place: luminance to a power around a pivot, then chroma. Negative results become 0. Samples y0 to y1, multiple of 4. */
export function gradeSamples(
  r: usize, g: usize, b: usize, contrast: f32, pivot: f32, chroma: f32, y0: i32, y1: i32, scratch: usize,
): void {
  const zero = f32x4.splat(0), inverse = f32x4.splat(1 / pivot), k = f32x4.splat(chroma);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o);
    let light = luminance(x, y, z);
    if (contrast != 1) {
      const f = pow4(f32x4.pmax(f32x4.mul(light, inverse), f32x4.splat(1e-6)), contrast - 1);
      x = f32x4.mul(x, f); y = f32x4.mul(y, f); z = f32x4.mul(z, f); light = f32x4.mul(light, f);
    }
    v128.store(r + o, f32x4.pmax(f32x4.add(light, f32x4.mul(k, f32x4.sub(x, light))), zero));
    v128.store(g + o, f32x4.pmax(f32x4.add(light, f32x4.mul(k, f32x4.sub(y, light))), zero));
    v128.store(b + o, f32x4.pmax(f32x4.add(light, f32x4.mul(k, f32x4.sub(z, light))), zero));
  }
}

/** Linear interpolation in a table of `nodes` a octave from 2^lowest, by the bits of a positive float. */
// @ts-ignore: decorator
@inline
function tableAt(table: usize, lowest: i32, octaves: i32, m: f32): f32 {
  const bits = reinterpret<i32>(m);
  const octave = (bits >> 23) - 127 - lowest;
  if (octave < 0) return load<f32>(table);
  if (octave >= octaves) return load<f32>(table + ((<usize>(octaves << 8)) << 2));
  const at = table + ((<usize>((octave << 8) | ((bits >> 15) & 255))) << 2);
  const t = <f32>(bits & 0x7fff) * <f32>(1.0 / 32768.0);
  const a = load<f32>(at);
  return a + (load<f32>(at + 4) - a) * t;
}

/**
 * In place: the tone response as a factor on light, found by the largest channel in the working and in the narrow primaries, so that
 * hue stays and no channel of either clips below the white. table: factors by octaves of light, 256 nodes each and one more, from
 * 2^lowest; narrow: nine f32, working → narrow. Samples y0 to y1, multiple of 4.
 */
export function toneSamples(
  r: usize, g: usize, b: usize, table: usize, lowest: i32, octaves: i32, narrow: usize, y0: i32, y1: i32, scratch: usize,
): void {
  const m0 = v128.load32_splat(narrow), m1 = v128.load32_splat(narrow, 4), m2 = v128.load32_splat(narrow, 8);
  const m3 = v128.load32_splat(narrow, 12), m4 = v128.load32_splat(narrow, 16), m5 = v128.load32_splat(narrow, 20);
  const m6 = v128.load32_splat(narrow, 24), m7 = v128.load32_splat(narrow, 28), m8 = v128.load32_splat(narrow, 32);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o);
    const p = f32x4.add(f32x4.add(f32x4.mul(m0, x), f32x4.mul(m1, y)), f32x4.mul(m2, z));
    const q = f32x4.add(f32x4.add(f32x4.mul(m3, x), f32x4.mul(m4, y)), f32x4.mul(m5, z));
    const t = f32x4.add(f32x4.add(f32x4.mul(m6, x), f32x4.mul(m7, y)), f32x4.mul(m8, z));
    const widest = f32x4.pmax(f32x4.pmax(x, y), f32x4.pmax(z, f32x4.splat(0)));
    const m = f32x4.pmax(widest, f32x4.pmax(f32x4.pmax(p, q), t));
    let s = f32x4.splat(tableAt(table, lowest, octaves, f32x4.extract_lane(m, 0)));
    s = f32x4.replace_lane(s, 1, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 1)));
    s = f32x4.replace_lane(s, 2, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 2)));
    s = f32x4.replace_lane(s, 3, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 3)));
    v128.store(r + o, f32x4.mul(x, s));
    v128.store(g + o, f32x4.mul(y, s));
    v128.store(b + o, f32x4.mul(z, s));
  }
}

/** Four values of a coarse plane at fractional columns of one row, between rows and columns linear. */
// @ts-ignore: decorator
@inline
function coarseAt(plane: usize, w: i32, upper: i32, lower: i32, t: f32, u: f32): f32 {
  const c = min(max(u, 0), <f32>(w - 1));
  const k = <i32>c;
  const l = min(k + 1, w - 1);
  const s = c - <f32>k;
  const a = load<f32>(plane + ((<usize>(upper * w + k)) << 2)), b = load<f32>(plane + ((<usize>(upper * w + l)) << 2));
  const p = load<f32>(plane + ((<usize>(lower * w + k)) << 2)), q = load<f32>(plane + ((<usize>(lower * w + l)) << 2));
  const above = a + (b - a) * s, below = p + (q - p) * s;
  return above + (below - above) * t;
}

/**
 * In place: log2 light is parted into base = slope · log2 light + offset and detail; the base moves towards a pivot by a share, held
 * between floor and ceiling. Rows of w samples at x0, top of a level; slope, offset: planes of cw × ch. parameters: three weights of
 * luminance, strength, pivot, floor, ceiling (EV), darkest light, size of a sample in samples of the coarse planes. Rows y0 to y1.
 */
export function localToneRows(
  r: usize, g: usize, b: usize, w: i32, x0: i32, top: i32, slope: usize, offset: usize, cw: i32, ch: i32, parameters: usize,
  y0: i32, y1: i32, scratch: usize,
): void {
  const wr = v128.load32_splat(parameters), wg = v128.load32_splat(parameters, 4), wb = v128.load32_splat(parameters, 8);
  const strength = v128.load32_splat(parameters, 12), pivot = v128.load32_splat(parameters, 16);
  const floor = v128.load32_splat(parameters, 20), ceiling = v128.load32_splat(parameters, 24), darkest = v128.load32_splat(parameters, 28);
  const step = load<f32>(parameters, 32);
  for (let y = y0; y < y1; y++) {
    const v = min(max((<f32>(y + top) + <f32>0.5) * step - <f32>0.5, 0), <f32>(ch - 1));
    const upper = <i32>v, lower = min(upper + 1, ch - 1);
    const t = v - <f32>upper;
    for (let x = 0; x < w; x += 4) {
      const o = (<usize>(y * w + x)) << 2;
      const p = v128.load(r + o), q = v128.load(g + o), s = v128.load(b + o);
      const light = log2x4(f32x4.pmax(f32x4.add(f32x4.add(f32x4.mul(wr, p), f32x4.mul(wg, q)), f32x4.mul(wb, s)), darkest));
      let a = f32x4.splat(0), c = f32x4.splat(0);
      for (let k = 0; k < 4; k++) {
        const u = (<f32>(x + k + x0) + <f32>0.5) * step - <f32>0.5;
        store<f32>(scratch + ((<usize>k) << 2), coarseAt(slope, cw, upper, lower, t, u));
        store<f32>(scratch + 16 + ((<usize>k) << 2), coarseAt(offset, cw, upper, lower, t, u));
      }
      a = v128.load(scratch);
      c = v128.load(scratch, 16);
      const base = f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(a, light), c), floor), ceiling);
      const gain = exp2x4(f32x4.mul(f32x4.sub(pivot, base), strength));
      const left = w - x;
      if (left >= 4) {
        v128.store(r + o, f32x4.mul(p, gain));
        v128.store(g + o, f32x4.mul(q, gain));
        v128.store(b + o, f32x4.mul(s, gain));
      } else {
        // the last samples of a row stand before the first of the next, which must not be changed twice
        v128.store(scratch, f32x4.mul(p, gain));
        v128.store(scratch, f32x4.mul(q, gain), 16);
        v128.store(scratch, f32x4.mul(s, gain), 32);
        for (let k = 0; k < left; k++) {
          const n = (<usize>k) << 2;
          store<f32>(r + o + n, load<f32>(scratch + n));
          store<f32>(g + o + n, load<f32>(scratch + 16 + n));
          store<f32>(b + o + n, load<f32>(scratch + 32 + n));
        }
      }
    }
  }
}

/**
 * In place: light times a factor by its luminance. table: factors as of toneSamples, 256 nodes an octave from 2^lowest. Samples y0 to y1,
 * multiple of 4.
 */
export function lightSamples(r: usize, g: usize, b: usize, table: usize, lowest: i32, octaves: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o);
    const m = f32x4.pmax(luminance(x, y, z), f32x4.splat(0));
    let s = f32x4.splat(tableAt(table, lowest, octaves, f32x4.extract_lane(m, 0)));
    s = f32x4.replace_lane(s, 1, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 1)));
    s = f32x4.replace_lane(s, 2, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 2)));
    s = f32x4.replace_lane(s, 3, tableAt(table, lowest, octaves, f32x4.extract_lane(m, 3)));
    v128.store(r + o, f32x4.mul(x, s));
    v128.store(g + o, f32x4.mul(y, s));
    v128.store(b + o, f32x4.mul(z, s));
  }
}

/** log2 of BT.2020 luminance, not below log2 of `darkest`. Samples y0 to y1, multiple of 4. */
export function logLightSamples(r: usize, g: usize, b: usize, out: usize, darkest: f32, y0: i32, y1: i32, scratch: usize): void {
  const least = f32x4.splat(darkest);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(out + o, log2x4(f32x4.pmax(luminance(v128.load(r + o), v128.load(g + o), v128.load(b + o)), least)));
  }
}

/** In place: light times 2 to the power of a plane of EV. Samples y0 to y1, multiple of 4. */
export function brightenSamples(r: usize, g: usize, b: usize, ev: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const gain = exp2x4(v128.load(ev + o));
    v128.store(r + o, f32x4.mul(v128.load(r + o), gain));
    v128.store(g + o, f32x4.mul(v128.load(g + o), gain));
    v128.store(b + o, f32x4.mul(v128.load(b + o), gain));
  }
}

// @ts-ignore: decorator
@inline
function row(m: usize, at: usize, x: v128, y: v128, z: v128): v128 {
  const sum = f32x4.add(f32x4.mul(v128.load32_splat(m + at), x), f32x4.mul(v128.load32_splat(m + at, 4), y));
  return f32x4.add(sum, f32x4.mul(v128.load32_splat(m + at, 8), z));
}

// @ts-ignore: decorator
@inline
function cubeRoot(v: v128): v128 {
  const size = f32x4.abs(v);
  const root = v128.bitselect(pow4(size, 0.333333333), f32x4.splat(0), f32x4.gt(size, f32x4.splat(1e-30)));
  return v128.or(root, v128.and(v, i32x4.splat(0x80000000)));
}

/** In place: working light → Oklab. into: nine f32 to cone responses, out: nine from their cube roots. Samples y0 to y1, multiple of 4. */
export function oklabSamples(r: usize, g: usize, b: usize, into: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o);
    const l = cubeRoot(row(into, 0, x, y, z)), m = cubeRoot(row(into, 12, x, y, z)), s = cubeRoot(row(into, 24, x, y, z));
    v128.store(r + o, row(out, 0, l, m, s));
    v128.store(g + o, row(out, 12, l, m, s));
    v128.store(b + o, row(out, 24, l, m, s));
  }
}

// @ts-ignore: decorator
@inline
function cube(v: v128): v128 {
  return f32x4.mul(v, f32x4.mul(v, v));
}

/** Undoes oklabSamples; negative light becomes 0. into: nine f32 to cube roots of cone responses, out: nine to working light. */
export function lightOfOklab(L: usize, a: usize, b: usize, into: usize, out: usize, y0: i32, y1: i32, scratch: usize): void {
  const zero = f32x4.splat(0);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(L + o), y = v128.load(a + o), z = v128.load(b + o);
    const l = cube(row(into, 0, x, y, z)), m = cube(row(into, 12, x, y, z)), s = cube(row(into, 24, x, y, z));
    v128.store(L + o, f32x4.pmax(row(out, 0, l, m, s), zero));
    v128.store(a + o, f32x4.pmax(row(out, 12, l, m, s), zero));
    v128.store(b + o, f32x4.pmax(row(out, 24, l, m, s), zero));
  }
}

/** In place: one channel through a table of what light becomes, 256 nodes an octave from 2^lowest. Samples y0 to y1. */
export function tableSamples(plane: usize, table: usize, lowest: i32, octaves: i32, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i++) {
    const at = plane + ((<usize>i) << 2);
    store<f32>(at, tableAt(table, lowest, octaves, max<f32>(load<f32>(at), 0)));
  }
}

/**
 * Working planes → 8-bit RGBA with an ordered 8×8 dither that depends on the position only; transparent where green is no number, which is where nothing is.
 * matrix: nine f32 (working → output primaries). Rows of length w; rows y0 to y1; (x0, yOrigin) place the pattern.
 */
export function encodeRows8(
  r: usize, g: usize, b: usize, matrix: usize, bayer: usize, dst: usize, w: i32, x0: i32, yOrigin: i32, y0: i32, y1: i32, scratch: usize,
): void {
  const m0 = v128.load32_splat(matrix), m1 = v128.load32_splat(matrix, 4), m2 = v128.load32_splat(matrix, 8);
  const m3 = v128.load32_splat(matrix, 12), m4 = v128.load32_splat(matrix, 16), m5 = v128.load32_splat(matrix, 20);
  const m6 = v128.load32_splat(matrix, 24), m7 = v128.load32_splat(matrix, 28), m8 = v128.load32_splat(matrix, 32);
  const scale = f32x4.splat(255), top = f32x4.splat(255), zero = f32x4.splat(0);
  for (let y = y0; y < y1; y++) {
    const pattern = bayer + ((<usize>((y + yOrigin) & 7)) << 6);
    for (let x = 0; x < w; x += 4) {
      const o = ((<usize>y * w) + x) << 2;
      const p = v128.load(r + o), q = v128.load(g + o), s = v128.load(b + o);
      const noise = v128.load(pattern + ((<usize>((x + x0) & 7)) << 2));
      const red = encodeSrgb4(f32x4.add(f32x4.add(f32x4.mul(m0, p), f32x4.mul(m1, q)), f32x4.mul(m2, s)));
      const green = encodeSrgb4(f32x4.add(f32x4.add(f32x4.mul(m3, p), f32x4.mul(m4, q)), f32x4.mul(m5, s)));
      const blue = encodeSrgb4(f32x4.add(f32x4.add(f32x4.mul(m6, p), f32x4.mul(m7, q)), f32x4.mul(m8, s)));
      const ri = i32x4.trunc_sat_f32x4_s(f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(red, scale), noise), zero), top));
      const gi = i32x4.trunc_sat_f32x4_s(f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(green, scale), noise), zero), top));
      const bi = i32x4.trunc_sat_f32x4_s(f32x4.pmin(f32x4.pmax(f32x4.add(f32x4.mul(blue, scale), noise), zero), top));
      const rgba = v128.and(v128.or(v128.or(ri, i32x4.shl(gi, 8)), v128.or(i32x4.shl(bi, 16), i32x4.splat(<i32>0xff000000))), f32x4.eq(q, q));
      const count = min(4, w - x);
      if (count == 4) v128.store(dst + o, rgba);
      else {
        store<u32>(dst + o, i32x4.extract_lane(rgba, 0));
        if (count > 1) store<u32>(dst + o + 4, i32x4.extract_lane(rgba, 1));
        if (count > 2) store<u32>(dst + o + 8, i32x4.extract_lane(rgba, 2));
      }
    }
  }
}

/** One linear channel → sRGB-encoded 0..scale, rounded, as f32. Samples y0 to y1, multiple of 4. */
export function encodeSamples(src: usize, dst: usize, scale: f32, y0: i32, y1: i32, scratch: usize): void {
  const top = f32x4.splat(scale), zero = f32x4.splat(0);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const v = f32x4.mul(encodeSrgb4(v128.load(src + o)), top);
    v128.store(dst + o, f32x4.nearest(f32x4.pmin(f32x4.pmax(v, zero), top)));
  }
}

/** acc = 1 − (1 − acc)(1 − flow · profile) for one soft disc; profile 1 up to the hard radius, smooth to 0 at the radius. */
export function stampDisc(
  acc: usize, w: i32, h: i32, cx: f32, cy: f32, radius: f32, hard: f32, flow: f32,
): void {
  const xa = max(0, <i32>Mathf.floor(cx - radius)), xb = min(w - 1, <i32>Mathf.ceil(cx + radius));
  const ya = max(0, <i32>Mathf.floor(cy - radius)), yb = min(h - 1, <i32>Mathf.ceil(cy + radius));
  const span = max<f32>(radius - hard, 1e-3);
  for (let y = ya; y <= yb; y++) {
    const dy = <f32>y - cy;
    let p = acc + (((<usize>y * w) + xa) << 2);
    for (let x = xa; x <= xb; x++, p += 4) {
      const dx = <f32>x - cx;
      const distance = Mathf.sqrt(dx * dx + dy * dy);
      if (distance >= radius) continue;
      const t = min<f32>((radius - distance) / span, 1);
      const share = flow * t * t * (3 - 2 * t);
      const a = load<f32>(p);
      store<f32>(p, a + (1 - a) * share);
    }
  }
}

/** sRGB-encoded → linear, negatives become 0. Samples y0 to y1, multiple of 4; src may be dst. */
export function decodeSamples(src: usize, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(dst + o, decodeSrgb4(v128.load(src + o)));
  }
}

/** Square root of light with its sign kept, in place. Samples y0 to y1, a multiple of 4. */
export function rootSamples(plane: usize, y0: i32, y1: i32, scratch: usize): void {
  const sign = i32x4.splat(0x80000000);
  for (let i = y0; i < y1; i += 4) {
    const at = plane + ((<usize>i) << 2);
    const v = v128.load(at);
    v128.store(at, v128.or(f32x4.sqrt(f32x4.abs(v)), v128.and(v, sign)));
  }
}

/** Undoes rootSamples, in place. Samples y0 to y1, a multiple of 4. */
export function squareSamples(plane: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const at = plane + ((<usize>i) << 2);
    const v = v128.load(at);
    v128.store(at, f32x4.mul(v, f32x4.abs(v)));
  }
}
