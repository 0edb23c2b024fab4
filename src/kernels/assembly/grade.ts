import { decodeSrgb4, encodeSrgb4, pow4 } from "./elementary";

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
      const f = pow4(f32x4.max(f32x4.mul(light, inverse), f32x4.splat(1e-6)), contrast - 1);
      x = f32x4.mul(x, f); y = f32x4.mul(y, f); z = f32x4.mul(z, f); light = f32x4.mul(light, f);
    }
    v128.store(r + o, f32x4.max(zero, f32x4.add(light, f32x4.mul(k, f32x4.sub(x, light)))));
    v128.store(g + o, f32x4.max(zero, f32x4.add(light, f32x4.mul(k, f32x4.sub(y, light)))));
    v128.store(b + o, f32x4.max(zero, f32x4.add(light, f32x4.mul(k, f32x4.sub(z, light)))));
  }
}

/**
 * In place: Reinhard et al. 2002, equation 4, on the largest channel in the working and in the narrow primaries, so that hue stays
 * and no channel of either clips below the white. white: the scene value that becomes 1; narrow: nine f32, working → narrow.
 */
export function toneSamples(r: usize, g: usize, b: usize, white: f32, narrow: usize, y0: i32, y1: i32, scratch: usize): void {
  const one = f32x4.splat(1), inverse = f32x4.splat(1 / (white * white));
  const m0 = v128.load32_splat(narrow), m1 = v128.load32_splat(narrow, 4), m2 = v128.load32_splat(narrow, 8);
  const m3 = v128.load32_splat(narrow, 12), m4 = v128.load32_splat(narrow, 16), m5 = v128.load32_splat(narrow, 20);
  const m6 = v128.load32_splat(narrow, 24), m7 = v128.load32_splat(narrow, 28), m8 = v128.load32_splat(narrow, 32);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o);
    const p = f32x4.add(f32x4.add(f32x4.mul(m0, x), f32x4.mul(m1, y)), f32x4.mul(m2, z));
    const q = f32x4.add(f32x4.add(f32x4.mul(m3, x), f32x4.mul(m4, y)), f32x4.mul(m5, z));
    const t = f32x4.add(f32x4.add(f32x4.mul(m6, x), f32x4.mul(m7, y)), f32x4.mul(m8, z));
    const widest = f32x4.max(f32x4.max(x, y), f32x4.max(z, f32x4.splat(0)));
    const m = f32x4.max(widest, f32x4.max(f32x4.max(p, q), t));
    const s = f32x4.div(f32x4.add(one, f32x4.mul(m, inverse)), f32x4.add(one, m));
    v128.store(r + o, f32x4.mul(x, s));
    v128.store(g + o, f32x4.mul(y, s));
    v128.store(b + o, f32x4.mul(z, s));
  }
}

/**
 * base = mix(base, blend(base, top), alpha) in the sRGB-encoded blend space, one channel; mode 0 normal, 1 lighten
 * (W3C Compositing and Blending Level 1). Above 1 both work on the extended curve. Samples y0 to y1, multiple of 4.
 */
export function blendSamples(base: usize, top: usize, alpha: usize, opacity: f32, mode: i32, y0: i32, y1: i32, scratch: usize): void {
  const strength = f32x4.splat(opacity), zero = f32x4.splat(0);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const a = f32x4.mul(v128.load(alpha + o), strength);
    if (!v128.any_true(f32x4.gt(a, zero))) continue;
    const below = v128.load(base + o);
    const b = encodeSrgb4(below), t = encodeSrgb4(v128.load(top + o));
    const s = mode == 1 ? f32x4.max(b, t) : t;
    const mixed = decodeSrgb4(f32x4.add(b, f32x4.mul(a, f32x4.sub(s, b))));
    v128.store(base + o, v128.bitselect(mixed, below, f32x4.gt(a, zero)));
  }
}

/**
 * Working planes → 8-bit RGBA with an ordered 8×8 dither that depends on the position only.
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
      const ri = i32x4.trunc_sat_f32x4_s(f32x4.min(f32x4.max(f32x4.add(f32x4.mul(red, scale), noise), zero), top));
      const gi = i32x4.trunc_sat_f32x4_s(f32x4.min(f32x4.max(f32x4.add(f32x4.mul(green, scale), noise), zero), top));
      const bi = i32x4.trunc_sat_f32x4_s(f32x4.min(f32x4.max(f32x4.add(f32x4.mul(blue, scale), noise), zero), top));
      const rgba = v128.or(v128.or(ri, i32x4.shl(gi, 8)), v128.or(i32x4.shl(bi, 16), i32x4.splat(<i32>0xff000000)));
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
    v128.store(dst + o, f32x4.nearest(f32x4.min(f32x4.max(v, zero), top)));
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
