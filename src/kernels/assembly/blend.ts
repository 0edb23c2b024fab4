import { decodeSrgb4, encodeSrgb4 } from "./elementary";

// The order of core/blend/blendModes.ts.
const NORMAL = 0, MULTIPLY = 1, SCREEN = 2, OVERLAY = 3, DARKEN = 4, LIGHTEN = 5, DODGE = 6, BURN = 7, HARD = 8, SOFT = 9, DIFFERENCE = 10;
const EXCLUSION = 11, HUE = 12, SATURATION = 13, COLOR = 14, LUMINOSITY = 15, ADD = 16, SUBTRACT = 17;

// @ts-ignore: decorator
@inline
function one(): v128 {
  return f32x4.splat(1);
}

// @ts-ignore: decorator
@inline
function screen(b: v128, s: v128): v128 {
  return f32x4.sub(f32x4.add(b, s), f32x4.mul(b, s));
}

// @ts-ignore: decorator
@inline
function hardLight(b: v128, s: v128): v128 {
  const twice = f32x4.add(s, s);
  return v128.bitselect(f32x4.mul(b, twice), screen(b, f32x4.sub(twice, one())), f32x4.le(s, f32x4.splat(0.5)));
}

// @ts-ignore: decorator
@inline
function softLight(b: v128, s: v128): v128 {
  const slope = f32x4.sub(f32x4.add(s, s), one());
  const dark = f32x4.add(b, f32x4.mul(slope, f32x4.mul(b, f32x4.sub(one(), b))));
  const cubic = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.splat(16), b), f32x4.splat(12)), b), f32x4.splat(4)), b);
  const d = v128.bitselect(cubic, f32x4.sqrt(b), f32x4.le(b, f32x4.splat(0.25)));
  return v128.bitselect(dark, f32x4.add(b, f32x4.mul(slope, f32x4.sub(d, b))), f32x4.le(s, f32x4.splat(0.5)));
}

// @ts-ignore: decorator
@inline
function dodge(b: v128, s: v128): v128 {
  const full = v128.bitselect(one(), f32x4.pmin(f32x4.div(b, f32x4.sub(one(), s)), one()), f32x4.ge(s, one()));
  return v128.bitselect(f32x4.splat(0), full, f32x4.le(b, f32x4.splat(0)));
}

// @ts-ignore: decorator
@inline
function burn(b: v128, s: v128): v128 {
  const left = f32x4.sub(one(), f32x4.pmin(f32x4.div(f32x4.sub(one(), b), s), one()));
  const some = v128.bitselect(f32x4.splat(0), left, f32x4.le(s, f32x4.splat(0)));
  return v128.bitselect(one(), some, f32x4.ge(b, one()));
}

/** B(cb, cs) of a separable mode on encoded values. */
function separable(mode: i32, b: v128, s: v128): v128 {
  if (mode == MULTIPLY) return f32x4.mul(b, s);
  if (mode == SCREEN) return screen(b, s);
  if (mode == OVERLAY) return hardLight(s, b);
  if (mode == DARKEN) return f32x4.pmin(b, s);
  if (mode == LIGHTEN) return f32x4.pmax(b, s);
  if (mode == DODGE) return dodge(b, s);
  if (mode == BURN) return burn(b, s);
  if (mode == HARD) return hardLight(b, s);
  if (mode == SOFT) return softLight(b, s);
  if (mode == DIFFERENCE) return f32x4.abs(f32x4.sub(b, s));
  if (mode == EXCLUSION) return f32x4.sub(f32x4.add(b, s), f32x4.mul(f32x4.splat(2), f32x4.mul(b, s)));
  return s;
}

function linear(mode: i32, b: v128, s: v128): v128 {
  if (mode == ADD) return f32x4.add(b, s);
  if (mode == SUBTRACT) return f32x4.pmax(f32x4.sub(b, s), f32x4.splat(0));
  return f32x4.div(b, f32x4.pmax(s, f32x4.splat(1e-4)));
}

// @ts-ignore: decorator
@inline
function lum(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(0.3)), f32x4.mul(g, f32x4.splat(0.59))), f32x4.mul(b, f32x4.splat(0.11)));
}

// @ts-ignore: decorator
@inline
function least(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmin(f32x4.pmin(r, g), b);
}

// @ts-ignore: decorator
@inline
function most(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmax(f32x4.pmax(r, g), b);
}

/** Puts the luminosity `target` on a colour and holds it to 0..1; three vectors to out. */
function setLum(r: v128, g: v128, b: v128, target: v128, out: usize): void {
  const d = f32x4.sub(target, lum(r, g, b));
  let p = f32x4.add(r, d), q = f32x4.add(g, d), t = f32x4.add(b, d);
  const l = lum(p, q, t), n = least(p, q, t), x = most(p, q, t);
  const zero = f32x4.splat(0);
  const under = f32x4.lt(n, zero), over = f32x4.gt(x, one());
  const up = v128.bitselect(f32x4.div(l, f32x4.sub(l, n)), one(), under);
  p = f32x4.add(l, f32x4.mul(f32x4.sub(p, l), up));
  q = f32x4.add(l, f32x4.mul(f32x4.sub(q, l), up));
  t = f32x4.add(l, f32x4.mul(f32x4.sub(t, l), up));
  const down = v128.bitselect(f32x4.div(f32x4.sub(one(), l), f32x4.sub(x, l)), one(), over);
  v128.store(out, f32x4.add(l, f32x4.mul(f32x4.sub(p, l), down)));
  v128.store(out, f32x4.add(l, f32x4.mul(f32x4.sub(q, l), down)), 16);
  v128.store(out, f32x4.add(l, f32x4.mul(f32x4.sub(t, l), down)), 32);
}

/** Gives the colour (r, g, b) the saturation `wanted` and then the luminosity `target`. */
function setSatLum(r: v128, g: v128, b: v128, wanted: v128, target: v128, out: usize): void {
  const n = least(r, g, b), range = f32x4.sub(most(r, g, b), n);
  const some = f32x4.gt(range, f32x4.splat(0));
  const scale = v128.and(f32x4.div(wanted, range), some);
  setLum(f32x4.mul(f32x4.sub(r, n), scale), f32x4.mul(f32x4.sub(g, n), scale), f32x4.mul(f32x4.sub(b, n), scale), target, out);
}

function inseparable(mode: i32, br: v128, bg: v128, bb: v128, sr: v128, sg: v128, sb: v128, out: usize): void {
  if (mode == HUE) setSatLum(sr, sg, sb, f32x4.sub(most(br, bg, bb), least(br, bg, bb)), lum(br, bg, bb), out);
  else if (mode == SATURATION) setSatLum(br, bg, bb, f32x4.sub(most(sr, sg, sb), least(sr, sg, sb)), lum(br, bg, bb), out);
  else if (mode == COLOR) setLum(sr, sg, sb, lum(br, bg, bb), out);
  else setLum(br, bg, bb, lum(sr, sg, sb), out);
}

/** The colour that simple alpha compositing gives, not multiplied by alpha. */
// @ts-ignore: decorator
@inline
function over(b: v128, s: v128, mixed: v128, onlySource: v128, onlyBackdrop: v128, both: v128, out: v128): v128 {
  const sum = f32x4.add(f32x4.add(f32x4.mul(onlySource, s), f32x4.mul(onlyBackdrop, b)), f32x4.mul(both, mixed));
  return f32x4.div(sum, out);
}

// @ts-ignore: decorator
@inline
function encodedOr(light: v128, isLight: i32): v128 {
  return isLight ? light : encodeSrgb4(light);
}

// @ts-ignore: decorator
@inline
function decodedOr(value: v128, isLight: i32): v128 {
  return isLight ? value : decodeSrgb4(value);
}

/**
 * Lays the light r, g, b, covering by alpha · opacity, over base planes; modes by number, on encoded values or, where isLight, on light. below: alpha of the base, changed with it, or
 * 0 where the base covers all. Samples y0 to y1, a multiple of 4; scratch holds three vectors.
 * @see W3C Compositing and Blending Level 1
 */
export function layOver(
  baseR: usize, baseG: usize, baseB: usize, below: usize, r: usize, g: usize, b: usize, alpha: usize, opacity: f32, mode: i32, isLight: i32,
  y0: i32, y1: i32, scratch: usize,
): void {
  const strength = f32x4.splat(opacity), zero = f32x4.splat(0);
  const bounded = mode != NORMAL && mode != MULTIPLY && mode != DARKEN && mode != LIGHTEN && mode != DIFFERENCE;
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const a = f32x4.mul(v128.load(alpha + o), strength);
    const some = f32x4.gt(a, zero);
    if (!v128.any_true(some)) continue;
    if (mode == NORMAL && i32x4.all_true(f32x4.ge(a, one()))) {
      // all of the source: nothing is mixed
      v128.store(baseR + o, v128.load(r + o));
      v128.store(baseG + o, v128.load(g + o));
      v128.store(baseB + o, v128.load(b + o));
      if (below) v128.store(below + o, one());
      continue;
    }
    const under = below ? v128.load(below + o) : one();
    const both = f32x4.mul(a, under);
    const onlySource = f32x4.sub(a, both), onlyBackdrop = f32x4.sub(under, both);
    const out = f32x4.add(onlySource, under);
    const lr = v128.load(baseR + o), lg = v128.load(baseG + o), lb = v128.load(baseB + o);
    let p = v128.load(r + o), q = v128.load(g + o), t = v128.load(b + o);
    if (mode >= ADD) {
      p = over(lr, p, linear(mode, lr, p), onlySource, onlyBackdrop, both, out);
      q = over(lg, q, linear(mode, lg, q), onlySource, onlyBackdrop, both, out);
      t = over(lb, t, linear(mode, lb, t), onlySource, onlyBackdrop, both, out);
    } else {
      const er = encodedOr(lr, isLight), eg = encodedOr(lg, isLight), eb = encodedOr(lb, isLight);
      const sr = encodedOr(p, isLight), sg = encodedOr(q, isLight), sb = encodedOr(t, isLight);
      const top = bounded ? one() : f32x4.splat(3.4e38);
      const hr = f32x4.pmin(er, top), hg = f32x4.pmin(eg, top), hb = f32x4.pmin(eb, top);
      const tr = f32x4.pmin(sr, top), tg = f32x4.pmin(sg, top), tb = f32x4.pmin(sb, top);
      if (mode >= HUE) inseparable(mode, hr, hg, hb, tr, tg, tb, scratch);
      else {
        v128.store(scratch, separable(mode, hr, tr));
        v128.store(scratch, separable(mode, hg, tg), 16);
        v128.store(scratch, separable(mode, hb, tb), 32);
      }
      p = decodedOr(over(er, sr, v128.load(scratch), onlySource, onlyBackdrop, both, out), isLight);
      q = decodedOr(over(eg, sg, v128.load(scratch, 16), onlySource, onlyBackdrop, both, out), isLight);
      t = decodedOr(over(eb, sb, v128.load(scratch, 32), onlySource, onlyBackdrop, both, out), isLight);
    }
    v128.store(baseR + o, v128.bitselect(p, lr, some));
    v128.store(baseG + o, v128.bitselect(q, lg, some));
    v128.store(baseB + o, v128.bitselect(t, lb, some));
    if (below) v128.store(below + o, out);
  }
}

/** out = plane · factor plane, in place on the first; samples y0 to y1, a multiple of 4. */
export function multiplySamples(plane: usize, factor: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(plane + o, f32x4.mul(v128.load(plane + o), v128.load(factor + o)));
  }
}
