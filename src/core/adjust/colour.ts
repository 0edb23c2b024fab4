import { fromOklab, toOklab } from "../color/oklab";
import { LUMINANCE } from "../color/primaries";
import { whiteBalanceMatrix } from "../color/whiteBalance";
import { transform } from "../geometry/matrix3";
import { cosine, exp2, log2, sine } from "../numeric/elementary";
import { remember } from "../numeric/remember";

type Planes = readonly [Float32Array, Float32Array, Float32Array];

const radians = (deg: number) => (deg * Math.PI) / 180;
const lab = new Float64Array(3);
const rgb = new Float64Array(3);

/** Chroma (Oklch) from which a colour counts as strong. Common practice, no source. */
const STRONG_CHROMA = 0.25;

/** Chroma of Oklab planes times a factor, in place; where it is strong already the factor nears 1 by `protect`. */
export function scaleChroma([, a, b]: Planes, { factor, protect }: Record<string, number>): void {
  for (let i = 0; i < a.length; i++) {
    const chroma = Math.sqrt(a[i] * a[i] + b[i] * b[i]);
    const t = Math.min(1, chroma / STRONG_CHROMA);
    const k = factor > 1 ? 1 + (factor - 1) * (1 - protect * t * t * (3 - 2 * t)) : factor;
    a[i] *= k;
    b[i] *= k;
  }
}

function put(L: number, a: number, bb: number, r: Float32Array, g: Float32Array, b: Float32Array, i: number): void {
  fromOklab(L, a, bb, rgb);
  r[i] = Math.max(0, rgb[0]);
  g[i] = Math.max(0, rgb[1]);
  b[i] = Math.max(0, rgb[2]);
}

/** Chroma (Oklch) below which a colour has no hue to speak of. Common practice, no source. */
const COLOURLESS = 0.02;

/**
 * How far a colour, a and b of Oklab, lies in a band of hues, 0..1: full in its inner half, none at its ends, less where there is
 * hardly any chroma.
 */
export function hueBand(hueDeg: number, widthDeg: number, leastChroma = COLOURLESS): (a: number, b: number) => number {
  const [ca, cb] = [cosine(radians(hueDeg)), sine(radians(hueDeg))];
  const none = cosine(radians(widthDeg / 2));
  const span = Math.max(1e-6, cosine(radians(widthDeg / 4)) - none);
  const least = Math.max(1e-6, leastChroma);
  return (a, b) => {
    const chroma = Math.sqrt(a * a + b * b);
    if (chroma < 1e-6) return 0;
    const t = Math.min(1, Math.max(0, ((a * ca + b * cb) / chroma - none) / span));
    const c = Math.min(1, Math.max(0, chroma / least - 0.5));
    return t * t * (3 - 2 * t) * c * c * (3 - 2 * c);
  };
}

/** Cosine and sine of a share of an angle, and what light is multiplied by, at 256 steps of the share. */
const bandTables = remember(({ shiftDeg, lightEv }: Record<string, number>) => {
  const at = (of: (share: number) => number) => Float64Array.from({ length: 257 }, (_, k) => of(k / 256));
  const cosines = at((t) => cosine(radians(shiftDeg * t)));
  const sines = at((t) => sine(radians(shiftDeg * t)));
  // L of Oklab is a cube root of light
  return { cosines, sines, lights: at((t) => exp2((lightEv * t) / 3)) };
});

/** Turns, strengthens and brightens one band of hues of Oklab planes, in place. */
export function adjustHueBand([L, a, b]: Planes, values: Record<string, number>): void {
  const { hueDeg, widthDeg, factor } = values;
  const { cosines, sines, lights } = bandTables(values);
  const shareOf = hueBand(hueDeg, widthDeg);
  for (let i = 0; i < L.length; i++) {
    const p = a[i];
    const q = b[i];
    const share = shareOf(p, q);
    if (share === 0) continue;
    const step = Math.round(share * 256);
    const k = (1 + (factor - 1) * share) * lights[step];
    L[i] *= lights[step];
    a[i] = (p * cosines[step] - q * sines[step]) * k;
    b[i] = (p * sines[step] + q * cosines[step]) * k;
  }
}

/** Most places of a tint. */
export const MOST_TINTS = 8;
/** Chroma (Oklab) that full strength adds to mid grey. Common practice, no source. */
const TINT_CHROMA = 0.12;
const TINT_STEPS = 512;

/** Adds colour at places along the tone scale, in place; luminance stays. */
export function tintByTone([r, g, b]: Planes, v: Record<string, number>): void {
  const places = Array.from({ length: v.points }, (_, i) => {
    const [hue, chroma] = [radians(v[`hue${i}`]), v[`strength${i}`] * TINT_CHROMA];
    return { ev: v[`ev${i}`], a: chroma * cosine(hue), b: chroma * sine(hue) };
  }).sort((p, q) => p.ev - q.ev);
  const darkEv = places[0].ev;
  const span = Math.max(0.1, places[places.length - 1].ev - darkEv);
  const shift = Array.from({ length: TINT_STEPS + 1 }, (_, k) => {
    const ev = darkEv + (k / TINT_STEPS) * span;
    let j = 0;
    while (j < places.length - 2 && ev > places[j + 1].ev) j++;
    const [p, q] = [places[j], places[j + 1]];
    const t = Math.min(1, Math.max(0, (ev - p.ev) / Math.max(1e-3, q.ev - p.ev)));
    const s = t * t * (3 - 2 * t);
    return [p.a + (q.a - p.a) * s, p.b + (q.b - p.b) * s];
  });
  for (let i = 0; i < r.length; i++) {
    const light = LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i];
    if (!(light > 1e-7)) continue;
    const at = Math.min(1, Math.max(0, (log2(light) - darkEv) / span));
    const [da, db] = shift[Math.round(at * TINT_STEPS)];
    if (da === 0 && db === 0) continue;
    toOklab(r[i], g[i], b[i], lab);
    // as much of a dark colour's own lightness as of mid grey's
    const k = lab[0] / 0.57;
    put(lab[0], lab[1] + da * k, lab[2] + db * k, r, g, b, i);
    const now = LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i];
    const gain = now > 0 ? light / now : 1;
    r[i] *= gain;
    g[i] *= gain;
    b[i] *= gain;
  }
}

/** Light against white that counts as dark, middle and light for the balance, EV. Common practice, no source. */
const BALANCE_EV = [-7, -3, 0];
const BALANCE_STEPS = 256;

/** Another light for three ranges of tone in place, mixed between their centres. */
export function balanceByTone([r, g, b]: Planes, v: Record<string, number>): void {
  const lights = (["dark", "middle", "light"] as const).map((of) => whiteBalanceMatrix(v[`${of}Mired`], v[`${of}Duv`]));
  const span = BALANCE_EV[2] - BALANCE_EV[0];
  const table = Array.from({ length: BALANCE_STEPS + 1 }, (_, k) => {
    const ev = BALANCE_EV[0] + (span * k) / BALANCE_STEPS;
    const j = ev < BALANCE_EV[1] ? 0 : 1;
    const t = (ev - BALANCE_EV[j]) / (BALANCE_EV[j + 1] - BALANCE_EV[j]);
    const s = t * t * (3 - 2 * t);
    return lights[j].map((m, i) => m + (lights[j + 1][i] - m) * s);
  });
  for (let i = 0; i < r.length; i++) {
    const light = LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i];
    const at = light > 1e-7 ? Math.min(1, Math.max(0, (log2(light) - BALANCE_EV[0]) / span)) : 0;
    const m = table[Math.round(at * BALANCE_STEPS)];
    const [x, y, z] = [r[i], g[i], b[i]];
    r[i] = Math.max(0, m[0] * x + m[1] * y + m[2] * z);
    g[i] = Math.max(0, m[3] * x + m[4] * y + m[5] * z);
    b[i] = Math.max(0, m[6] * x + m[7] * y + m[8] * z);
  }
}

/** An even veil of light taken away (a share of it that is positive) or laid on, in place. @see Koschmieder 1924 */
export function veil(planes: Planes, { amount, veilEv, mired }: Record<string, number>): void {
  const color = transform(whiteBalanceMatrix(mired, 0), [1, 1, 1]).map((c) => c * exp2(veilEv));
  planes.forEach((plane, c) => {
    const a = Math.abs(amount);
    if (amount >= 0) plane.forEach((v, i) => (plane[i] = Math.max(0, v - a * color[c]) / (1 - a)));
    else plane.forEach((v, i) => (plane[i] = v + a * (color[c] - v)));
  });
}

/** One grey from three channels, mixed in by an amount, in place. */
export function monoMix([r, g, b]: Planes, { amount, red, green, blue }: Record<string, number>): void {
  for (let i = 0; i < r.length; i++) {
    const grey = Math.max(0, red * r[i] + green * g[i] + blue * b[i]);
    r[i] += amount * (grey - r[i]);
    g[i] += amount * (grey - g[i]);
    b[i] += amount * (grey - b[i]);
  }
}
