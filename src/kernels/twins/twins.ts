import { composite, LINEAR_MODES, type BlendIn, type BlendMode, type Rgb } from "../../core/blend/blendModes";
import { transform } from "../../core/geometry/matrix3";
import { decodeSrgb, encodeSrgb } from "../../core/color/srgbCurve";

/**
 * Plain forms of the kernels, in double precision and one sample at a time: what each kernel is meant to compute. They are the
 * oracle in tests; nothing of the application runs them.
 */

const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** Catmull-Rom weights, written as the spline's four polynomials (Keys 1981, a = −1/2). */
export function catmullRom(t: number): number[] {
  return [-0.5 * t + t * t - 0.5 * t ** 3, 1 - 2.5 * t * t + 1.5 * t ** 3, 0.5 * t + 2 * t * t - 1.5 * t ** 3, -0.5 * t * t + 0.5 * t ** 3];
}

/** Bicubic sample of a plane with its border repeated. */
export function sampleCubic(at: (x: number, y: number) => number, w: number, h: number, u: number, v: number): number {
  const [ui, vi] = [Math.floor(u), Math.floor(v)];
  const [wx, wy] = [catmullRom(u - ui), catmullRom(v - vi)];
  let sum = 0;
  for (let k = 0; k < 4; k++) for (let m = 0; m < 4; m++) sum += wy[k] * wx[m] * at(clamp(ui - 1 + m, 0, w - 1), clamp(vi - 1 + k, 0, h - 1));
  return sum;
}

/** The four px around a place, the border repeated. */
function around(at: (x: number, y: number) => number, w: number, h: number, u: number, v: number): number[] {
  const [ui, vi] = [Math.floor(u), Math.floor(v)];
  return [0, 1, 2, 3].map((i) => at(clamp(ui + (i & 1), 0, w - 1), clamp(vi + (i >> 1), 0, h - 1)));
}

/**
 * The same of codes of 16 bit: at least 0.9 of the least of the four px around where that is up to 64 of 255, and less the brighter it is up to 128; and over 240 no more than
 * the largest of them.
 */
export function sampleCode(at: (x: number, y: number) => number, w: number, h: number, u: number, v: number): number {
  const four = around(at, w, h, u, v);
  const least = Math.min(...four);
  return clamp(sampleCubic(at, w, h, u, v), Math.max(0, 0.9 * Math.min(least, 32896 - least)), Math.max(61680, ...four));
}

/** The same of light: at least 0.9 of the least of the four px around; where some are below zero, not below the least it is made of. */
export function sampleLight(at: (x: number, y: number) => number, w: number, h: number, u: number, v: number): number {
  let least = 0;
  const sum = sampleCubic((x, y) => ((least = Math.min(least, at(x, y))), at(x, y)), w, h, u, v);
  return Math.max(least < 0 ? least : 0.9 * Math.min(...around(at, w, h, u, v)), sum);
}

/** A row in which what is not a number lies on a line between the nearest numbers, at the ends on the level of the one; zero in runs longer than `reach`. */
export function filled(row: ArrayLike<number>, reach: number): number[] {
  const known = Array.from(row, (v, x) => (Number.isNaN(v) ? -1 : x)).filter((x) => x >= 0);
  return Array.from(row, (v, x) => {
    if (!Number.isNaN(v)) return v;
    const left = known.findLast((k) => k < x);
    const right = known.find((k) => k > x);
    const run = (right ?? row.length) - (left ?? -1) - 1;
    if (run > reach || (left === undefined && right === undefined)) return 0;
    const [a, b] = [row[left ?? right!], row[right ?? left!]];
    return a + ((b - a) * (x - (left ?? -1))) / (run + 1);
  });
}

export const halve = (src: ArrayLike<number>, w: number, h: number, x: number, y: number): number => {
  const at = (i: number, j: number) => src[Math.min(j, h - 1) * w + Math.min(i, w - 1)];
  return (at(2 * x, 2 * y) + at(2 * x + 1, 2 * y) + at(2 * x, 2 * y + 1) + at(2 * x + 1, 2 * y + 1)) / 4;
};

/** The same of whole numbers, rounded. */
export const halveInteger = (src: ArrayLike<number>, w: number, h: number, x: number, y: number): number => Math.floor(halve(src, w, h, x, y) + 0.5);

/** What a cell of three planes shows: sums, extremes of the largest channel and of light, and whether all of it is covered. */
export function cellOf(planes: ArrayLike<number>[], coverage: ArrayLike<number>, w: number, h: number, size: number, column: number, row: number): number[] {
  const inside: number[] = [];
  for (let y = row * size; y < Math.min(h, (row + 1) * size); y++)
    for (let x = column * size; x < Math.min(w, (column + 1) * size); x++) inside.push(y * w + x);
  const [r, g, b] = planes;
  const light = inside.map((i) => (r[i] + 2 * g[i] + b[i]) / 4);
  const largest = inside.map((i) => Math.max(r[i], g[i], b[i]));
  const sums = planes.map((p) => inside.reduce((sum, i) => sum + p[i], 0));
  return [...sums, Math.max(...largest), Math.min(...largest), Math.min(...light), Math.max(...light), inside.every((i) => coverage[i] > 0) ? 1 : 0];
}

const BINOMIAL = [1, 4, 6, 4, 1];

/** Five-tap reduce with the border mirrored about its last sample. */
export function reduce(src: ArrayLike<number>, w: number, h: number, x: number, y: number): number {
  const mirror = (i: number, n: number): number => (n === 1 ? 0 : i < 0 ? mirror(-i, n) : i >= n ? mirror(2 * n - 2 - i, n) : i);
  let sum = 0;
  for (let j = 0; j < 5; j++) for (let i = 0; i < 5; i++) sum += BINOMIAL[j] * BINOMIAL[i] * src[mirror(2 * y + j - 2, h) * w + mirror(2 * x + i - 2, w)];
  return sum / 256;
}

/** Convolution down and across with symmetric weights, the middle one first; the border repeats. */
export function convolve(src: ArrayLike<number>, w: number, h: number, weights: number[], x: number, y: number): number {
  const inside = (i: number, n: number) => Math.min(n - 1, Math.max(0, i));
  const r = weights.length - 1;
  let sum = 0;
  for (let j = -r; j <= r; j++) {
    for (let i = -r; i <= r; i++) sum += weights[Math.abs(j)] * weights[Math.abs(i)] * src[inside(y + j, h) * w + inside(x + i, w)];
  }
  return sum;
}

/** Expand: zeros between the samples, five taps, gain 4; the sample before the first is the second, the one behind the last is the last. */
export function expand(src: ArrayLike<number>, w: number, h: number, x: number, y: number): number {
  const taps = (i: number, n: number): [index: number, weight: number][] => {
    const k = i >> 1;
    const inside = (j: number) => (j < 0 ? Math.min(1, n - 1) : Math.min(j, n - 1));
    return i % 2
      ? [
          [inside(k), 4],
          [inside(k + 1), 4],
        ]
      : [
          [inside(k - 1), 1],
          [inside(k), 6],
          [inside(k + 1), 1],
        ];
  };
  let sum = 0;
  for (const [j, wj] of taps(y, h)) for (const [i, wi] of taps(x, w)) sum += wj * wi * src[j * w + i];
  return sum / 64;
}

/** Mertens, Kautz, Van Reeth 2007: contrast × saturation × well-exposedness of one pixel, from its grey neighbours. */
export function fusionWeight(rgb: number[], greys: { centre: number; around: number[] }, exponents: number[]): number {
  const contrast = Math.abs(greys.around.reduce((a, b) => a + b, 0) - 4 * greys.centre);
  const mean = (rgb[0] + rgb[1] + rgb[2]) / 3;
  const saturation = Math.sqrt(rgb.reduce((s, v) => s + (v - mean) ** 2, 0));
  const exposedness = rgb.reduce((p, v) => p * Math.exp(-((v - 0.5) ** 2) / 0.08), 1);
  return contrast ** exponents[0] * saturation ** exponents[1] * exposedness ** exponents[2] + 1e-12;
}

export const unclipped = (x: number): number => {
  const t = clamp((0.985 - x) / 0.085, 0, 1);
  return t * t * (3 - 2 * t);
};

/** One sample of one channel over all frames. validities as judgeRows gives them. @param brightest largest channel of each frame */
export function radiance(
  values: number[],
  validities: number[],
  exposures: number[],
  shot: number,
  readSquared: number,
  brightest: number[],
): { value: number; index: number; shares: number[] } {
  const sum = (f: (k: number) => number) => values.reduce((s, _, k) => s + f(k), 0);
  const covered = exposures
    .map((t, k) => ({ t, k }))
    .filter(({ k }) => validities[k] > 0)
    .sort((a, b) => a.t - b.t);
  if (covered.length === 0) return { value: NaN, index: 0, shares: [] };
  const shortest = covered[0].k;
  const clipped = sum((k) => validities[k]) <= 1e-4;
  if (clipped && covered[0].t > 1.2 * Math.min(...exposures)) return { value: brightest[shortest] / covered[0].t, index: 255, shares: values.map(() => 0) };
  if (clipped) return { value: values[shortest] / covered[0].t, index: shortest, shares: values.map((_, k) => Number(k === shortest)) };
  const first = Math.max(0, sum((k) => validities[k] * values[k]) / sum((k) => validities[k] * exposures[k]));
  const weights = values.map((_, k) => (validities[k] * exposures[k] ** 2) / (shot * first * exposures[k] + readSquared));
  const all = weights.reduce((a, b) => a + b, 0);
  return {
    value: sum((k) => (weights[k] * values[k]) / exposures[k]) / all,
    index: weights.indexOf(Math.max(...weights)),
    shares: weights.map((w) => w / all),
  };
}

export function grade([r, g, b]: number[], contrast: number, pivot: number, chroma: number): number[] {
  const light = 0.2627 * r + 0.678 * g + 0.0593 * b;
  const f = contrast === 1 ? 1 : Math.max(light / pivot, 1e-6) ** (contrast - 1);
  return [r, g, b].map((v) => Math.max(0, light * f + chroma * (v * f - light * f)));
}

/** The tone response on the largest channel of the working or the narrow primaries. */
export function tone(rgb: number[], response: (light: number) => number, narrow: readonly number[]): number[] {
  const m = Math.max(...rgb, ...transform(narrow, rgb), 0);
  return rgb.map((v) => (m > 0 ? (v * response(m)) / m : v));
}

/** A coarse plane at a fractional place, linear between samples. */
export function coarse(plane: ArrayLike<number>, w: number, h: number, u: number, v: number): number {
  const [x, y] = [Math.min(w - 1, Math.max(0, u)), Math.min(h - 1, Math.max(0, v))];
  const at = (i: number, j: number) => plane[Math.min(h - 1, j) * w + Math.min(w - 1, i)];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const row = (k: number) => at(i, k) + (at(i + 1, k) - at(i, k)) * (x - i);
  return row(j) + (row(j + 1) - row(j)) * (y - j);
}

/** @param coefficient 0 the slope, 1 the offset @param parameters as the kernel's */
export function localTone(rgb: number[], coefficient: (k: 0 | 1) => number, parameters: number[]): number[] {
  const [wr, wg, wb, strength, pivot, floor, ceiling, darkest] = parameters;
  const light = Math.log2(Math.max(darkest, wr * rgb[0] + wg * rgb[1] + wb * rgb[2]));
  const base = Math.min(ceiling, Math.max(floor, coefficient(0) * light + coefficient(1)));
  return rgb.map((v) => v * 2 ** ((pivot - base) * strength));
}

/** Light laid over light: encoded for the formula where the mode wants that and nothing else is said. */
export function layOver(mode: BlendMode, blendIn: BlendIn, base: number[], below: number, top: number[], alpha: number): { light: number[]; alpha: number } {
  if (alpha === 0) return { light: base, alpha: below };
  const linear = blendIn === "light" || LINEAR_MODES.includes(mode);
  const into = (light: number[]) => light.map((v) => (linear ? v : encodeSrgb(Math.max(0, v)))) as unknown as Rgb;
  const { color, alpha: out } = composite(mode, into(base), below, into(top), alpha);
  return { light: color.map((v) => (linear ? v : decodeSrgb(Math.max(0, v)))), alpha: out };
}

export function stamp(acc: number, distance: number, radius: number, hard: number, flow: number): number {
  if (distance >= radius) return acc;
  const t = Math.min(1, (radius - distance) / Math.max(radius - hard, 1e-3));
  return acc + (1 - acc) * flow * t * t * (3 - 2 * t);
}

/** One sample of repeated frames; `mode` 0 mean, 1 median, 2 mean near the median. See assembly/repeats.ts. */
export function repeats(
  values: number[],
  covered: boolean[],
  mode: 0 | 1 | 2,
  kappa: number,
  shot: number,
  readSquared: number,
): { value: number; index: number; shares: number[] } {
  const known = values.filter((_, k) => covered[k]).sort((a, b) => a - b);
  const mean = (list: number[]) => list.reduce((sum, v) => sum + v, 0) / Math.max(1, list.length);
  const at = (share: number) => {
    const place = share * (known.length - 1);
    const k = Math.floor(place);
    return known[k] + (place > k ? (known[k + 1] - known[k]) * (place - k) : 0);
  };
  let value = mean(known);
  let given = values.map((_, k) => covered[k]);
  if (mode !== 0 && known.length > 0) {
    value = at(0.5);
    const model = Math.sqrt(shot * Math.max(value, 0) + readSquared);
    const width = kappa * Math.min(Math.max((at(0.8333) - at(0.1667)) / 2 / 0.967, model), 2 * model);
    for (let pass = 0; mode === 2 && pass < 2; pass++) {
      given = values.map((v, k) => covered[k] && Math.abs(v - value) <= width);
      const inliers = values.filter((_, k) => given[k]);
      if (inliers.length > 0) value = mean(inliers);
    }
  }
  let index = 0;
  let least = Infinity;
  values.forEach((v, k) => {
    if (covered[k] && Math.abs(v - value) < least) [least, index] = [Math.abs(v - value), k];
  });
  const parts = given.filter(Boolean).length;
  return { value, index, shares: values.map((_, k) => (mode === 1 || parts === 0 ? Number(k === index) : Number(given[k]) / parts)) };
}

/** 2 where the brightest of the 5×5 around a sample is more than `steep` times the darkest, 1 where it is at most `even` times, else 0. */
export function edgeKind(light: ArrayLike<number>, w: number, h: number, x: number, y: number, steep: number, even: number): number {
  const near: number[] = [];
  for (let v = Math.max(0, y - 2); v <= Math.min(h - 1, y + 2); v++)
    for (let u = Math.max(0, x - 2); u <= Math.min(w - 1, x + 2); u++) near.push(light[v * w + u]);
  const [most, least] = [Math.max(...near), Math.min(...near)];
  return most > Math.fround(least * Math.fround(steep)) ? 2 : most <= Math.fround(least * Math.fround(even)) ? 1 : 0;
}
