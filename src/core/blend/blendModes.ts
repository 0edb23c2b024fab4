import type { PlainCode } from "../../messages/message";
/** How a layer is laid over what is below it; the place in this list is the number the kernels know a mode by. */
export const BLEND_MODES = [
  "normal",
  "multiply",
  "screen",
  "overlay",
  "darken",
  "lighten",
  "colorDodge",
  "colorBurn",
  "hardLight",
  "softLight",
  "difference",
  "exclusion",
  "hue",
  "saturation",
  "color",
  "luminosity",
  "add",
  "subtract",
  "divide",
] as const;

export type BlendMode = (typeof BLEND_MODES)[number];

/** In what a layer blends: in light itself, or in values encoded by the sRGB curve. */
export const BLEND_INS = ["light", "encoded"] as const;
export type BlendIn = (typeof BLEND_INS)[number];

/** Modes that work on light whatever is said. */
export const LINEAR_MODES: readonly BlendMode[] = ["add", "subtract", "divide"];
/** Modes whose formula holds above white too; the others hold what they are given to white first. */
export const UNBOUNDED_MODES: readonly BlendMode[] = ["normal", "multiply", "darken", "lighten", "difference", ...LINEAR_MODES];

/** What a mode works on. */
export function blendNote(mode: BlendMode, blendIn: BlendIn): PlainCode {
  if (LINEAR_MODES.includes(mode)) return "blend.linear";
  if (blendIn === "light") return UNBOUNDED_MODES.includes(mode) ? "blend.light" : "blend.lightHeld";
  return UNBOUNDED_MODES.includes(mode) ? "blend.encoded" : "blend.held";
}

export type Rgb = readonly [number, number, number];

const lum = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Rgb) => Math.max(...c) - Math.min(...c);

function clipColor(c: Rgb): Rgb {
  const l = lum(c);
  const [n, x] = [Math.min(...c), Math.max(...c)];
  const low = n < 0 ? c.map((v) => l + ((v - l) * l) / (l - n)) : c;
  return low.map((v) => (x > 1 ? l + ((v - l) * (1 - l)) / (x - l) : v)) as unknown as Rgb;
}

function setLum(c: Rgb, l: number): Rgb {
  const d = l - lum(c);
  return clipColor(c.map((v) => v + d) as unknown as Rgb);
}

function setSat(c: Rgb, s: number): Rgb {
  const [n, x] = [Math.min(...c), Math.max(...c)];
  return c.map((v) => (x > n ? ((v - n) * s) / (x - n) : 0)) as unknown as Rgb;
}

const hardLight = (b: number, s: number) => (s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1));

function softLight(b: number, s: number): number {
  if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
  const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * s - 1) * (d - b);
}

const SEPARABLE: Partial<Record<BlendMode, (b: number, s: number) => number>> = {
  normal: (_, s) => s,
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  colorDodge: (b, s) => (b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
  colorBurn: (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  hardLight,
  softLight,
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
  add: (b, s) => b + s,
  subtract: (b, s) => Math.max(0, b - s),
  divide: (b, s) => b / Math.max(s, LEAST_DIVISOR),
};

/** Darker light than this does not divide. */
export const LEAST_DIVISOR = 1e-4;

/**
 * The mixing formula B(cb, cs) of a mode. @see W3C Compositing and Blending Level 1, sections 10.1 and 10.2
 * @param backdrop @param source encoded 0..1, or linear light for LINEAR_MODES
 */
export function blend(mode: BlendMode, backdrop: Rgb, source: Rgb): Rgb {
  const held = (c: Rgb) => (UNBOUNDED_MODES.includes(mode) ? c : (c.map((v) => Math.min(1, v)) as unknown as Rgb));
  const [b, s] = [held(backdrop), held(source)];
  if (mode === "hue") return setLum(setSat(s, sat(b)), lum(b));
  if (mode === "saturation") return setLum(setSat(b, sat(s)), lum(b));
  if (mode === "color") return setLum(s, lum(b));
  if (mode === "luminosity") return setLum(b, lum(s));
  return b.map((v, i) => SEPARABLE[mode]!(v, s[i])) as unknown as Rgb;
}

/**
 * Lays a source over a backdrop. @see W3C Compositing and Blending Level 1, section 5 (simple alpha compositing with blending)
 * @returns colour, not multiplied by alpha, and alpha
 */
export function composite(mode: BlendMode, backdrop: Rgb, backdropAlpha: number, source: Rgb, alpha: number): { color: Rgb; alpha: number } {
  const out = alpha + backdropAlpha - alpha * backdropAlpha;
  if (out === 0) return { color: backdrop, alpha: 0 };
  const mixed = blend(mode, backdrop, source);
  const color = mixed.map(
    (m, i) => (alpha * (1 - backdropAlpha) * source[i] + backdropAlpha * (1 - alpha) * backdrop[i] + alpha * backdropAlpha * m) / out,
  ) as unknown as Rgb;
  return { color, alpha: out };
}
