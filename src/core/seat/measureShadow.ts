import { proposeWhiteBalance } from "../color/whiteBalance";
import type { Rectangle } from "../geometry/rectangle";
import { quantile } from "../numeric/statistics";
import type { Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";
import type { ShadowMark } from "./lightFromShadows";

/** What the shadow of a thing on even ground tells of the light. */
export interface ShadowFigures {
  /** width of the source as seen from there, degrees */
  sourceDeg: number;
  /** light beside the shadow over light within it, EV, and how far other widths that explain it as well would have it otherwise */
  ratioEv: number;
  ratioSpreadEv: number;
  /** by how much light within it is warmer, mired; negative is cooler */
  shadowMired: number;
  /** half the width of what throws it, metres */
  halfWidthM: number;
  /** share of what varies across it that it explains, 0..1 */
  explained: number;
}

/** A light and a thing that are tried: by how much they miss. */
interface Trial {
  cost: number;
  sourceDeg: number;
  blur: number;
  width: number;
}

/** Cuts across the shadow, from near its foot to near its tip, shares of its length. */
const CUTS = Array.from({ length: 12 }, (_, i) => 0.18 + (0.64 * i) / 11);
/** Samples across a cut to each side, and how far they reach, widths of the shadow's length. */
const SAMPLES = 40;
const REACH = 0.3;
const MOST_REACH_M = 1.2;
/** Samples along the shadow that make one of a cut, and how far apart, shares of its length. */
const ALONG = 5;
const ALONG_SHARE = 0.012;
/** Widths of sources that are tried, degrees, blurs of the picture, px, and half widths of things, shares of the reach. */
const SOURCES = [0.3, 0.5, 0.75, 1.1, 1.6, 2.3, 3.3, 4.8, 7];
const BLURS = [0.5, 0.8, 1.2, 1.8, 2.7, 4];
const WIDTHS = [0.04, 0.06, 0.09, 0.13, 0.18, 0.25, 0.35, 0.5];
const SHIFTS = [-0.12, -0.06, 0, 0.06, 0.12];
/** Width of the sun's disc, degrees, and by how much another has to fit better. @see any almanac, recalled from memory */
export const SUN_DEG = 0.53;
const TELLS_APART = 1.04;
/** Widths and blurs that are tried in place of those that fit best, shares of them. */
const OTHER_WIDTHS = [0.35, 0.5, 0.7, 0.85, 1.2, 1.4, 1.7, 2.2];
const OTHER_BLURS = [0.6, 0.8, 1, 1.25, 1.6];
/** A shadow that explains less is not seen. */
const LEAST_EXPLAINED = 0.2;

/**
 * Width of the light, its strength against the sky's, and the colour of the shade, by cuts across the shadow of something upright, such as a post: its border grows softer with
 * the distance of what throws it, as wide as the source is seen from there.
 * @param light towards it @param lightAt linear light of the plate at a place in px: red, green, blue; null outside
 * @returns null where no shadow is seen there
 */
export function measureShadow(
  camera: GroundCamera,
  mark: ShadowMark,
  light: Vector3,
  lightAt: (x: number, y: number) => readonly number[] | null,
): ShadowFigures | null {
  const base = mark.foot && camera.placeAt(...mark.foot);
  const tip = camera.placeAt(...mark.tip);
  if (!base || !tip) return null;
  const [dx, dz] = [tip[0] - base[0], tip[2] - base[2]];
  const length = Math.hypot(dx, dz);
  if (!(length > 0)) return null;
  const reach = Math.min(MOST_REACH_M, REACH * length);
  const elevation = Math.asin(light[1]);
  const cuts = CUTS.flatMap((share) => cutAt(share) ?? []);
  if (cuts.length < CUTS.length / 2) return null;

  let best = null as Trial | null;
  const rate = (sourceDeg: number, blur: number, width: number) => {
    const cost = cuts.reduce((sum, cut) => sum + bestShift(cut, sourceDeg, blur, width).cost, 0);
    if (!best || cost < best.cost) best = { cost, sourceDeg, blur, width };
  };
  for (const sourceDeg of SOURCES) for (const blur of BLURS) for (const width of WIDTHS) rate(sourceDeg, blur, width * reach);
  for (const step of [1.25, 1.1, 1.04]) {
    const { sourceDeg, blur, width } = best!;
    for (const a of [1 / step, 1, step]) for (const b of [1 / step, 1, step]) for (const c of [1 / step, 1, step]) rate(sourceDeg * a, blur * b, width * c);
  }
  // what the picture is too coarse to tell is taken as the sun's own width
  const measured = best!;
  best = null;
  for (const by of [0.6, 0.8, 1, 1.25, 1.6]) for (const wide of [0.85, 0.92, 1, 1.08, 1.15]) rate(SUN_DEG, measured.blur * by, measured.width * wide);
  const { sourceDeg, blur, width, cost } = best!.cost < TELLS_APART * measured.cost ? best! : measured;
  const whole = cuts.reduce((sum, cut) => sum + fit(cut.grey, cut.u, null).cost, 0);
  const explained = whole > 0 ? 1 - cost / whole : 0;
  if (explained < LEAST_EXPLAINED) return null;
  const shade = shadeBy(sourceDeg, blur, width);
  if (!shade) return null;
  const ratioEv = greyEv(shade);
  // a shadow of few px may as well be wider and lighter
  const others = OTHER_WIDTHS.flatMap((by) => {
    const rated = OTHER_BLURS.map((b) => ({ b, miss: cuts.reduce((sum, cut) => sum + bestShift(cut, sourceDeg, blur * b, width * by).cost, 0) }));
    const { b, miss } = rated.reduce((least, r) => (r.miss < least.miss ? r : least));
    const other = miss < TELLS_APART * cost ? shadeBy(sourceDeg, blur * b, width * by) : null;
    return other ? [greyEv(other)] : [];
  });
  const ratioSpreadEv = others.reduce((most, ev) => Math.max(most, Math.abs(ev - ratioEv)), 0);
  return { sourceDeg, ratioEv, ratioSpreadEv, shadowMired: -(proposeWhiteBalance(shade)?.mired ?? 0), halfWidthM: width, explained };

  /** Share of each channel's light that reaches the shade, as cuts tell it; null where it does not get darker. */
  function shadeBy(degrees: number, soft: number, half: number): number[] | null {
    const fits = cuts.map((cut) => {
      const { shape } = bestShift(cut, degrees, soft, half);
      return { weight: shape.reduce((s, g) => s + g * g, 0), depths: cut.channels.map((values) => fit(values, cut.u, shape).depth) };
    });
    const weights = fits.reduce((s, f) => s + f.weight, 0);
    const shares = [0, 1, 2].map((c) => 1 - Math.min(0.995, fits.reduce((s, f) => s + f.weight * f.depths[c], 0) / weights));
    return shares.some((v) => v >= 1) ? null : shares;
  }

  function cutAt(share: number) {
    const middle: Vector3 = [base![0] + share * dx, 0, base![2] + share * dz];
    const px = pxSize(middle);
    if (px === null) return null;
    const u: number[] = [];
    const channels: number[][] = [[], [], []];
    for (let i = -SAMPLES; i <= SAMPLES; i++) {
      const side = (i / SAMPLES) * reach;
      const sum = [0, 0, 0];
      let count = 0;
      for (let k = 0; k < ALONG; k++) {
        const along = (k - (ALONG - 1) / 2) * ALONG_SHARE;
        const at = camera.pixelOf([middle[0] + along * dx + (side * dz) / length, 0, middle[2] + along * dz - (side * dx) / length]);
        const values = at && lightAt(...at);
        if (!values) continue;
        values.forEach((v, c) => (sum[c] += v));
        count++;
      }
      if (count < ALONG) continue;
      u.push(side);
      channels.forEach((list, c) => list.push(sum[c] / count));
    }
    if (u.length < SAMPLES) return null;
    const grey = channels[1].map((g, i) => 0.2627 * channels[0][i] + 0.678 * g + 0.0593 * channels[2][i]);
    // how far the light travels from what throws the middle of this cut
    const distance = (share * length) / Math.cos(elevation);
    const level = quantile(Float64Array.from(grey).sort(), 0.5) || 1;
    return { u, grey: grey.map((v) => v / level), channels: channels.map((list) => list.map((v) => v / level)), distance, px };
  }

  /** Side of a px across the shadow, metres. */
  function pxSize(at: Vector3): number | null {
    const [p, q] = [camera.pixelOf(at), camera.pixelOf([at[0] + (0.01 * dz) / length, 0, at[2] - (0.01 * dx) / length])];
    return p && q ? 0.01 / Math.max(1e-9, Math.hypot(q[0] - p[0], q[1] - p[1])) : null;
  }

  function bestShift(cut: NonNullable<ReturnType<typeof cutAt>>, sourceDeg: number, blur: number, width: number) {
    // a disc casts its own projection as a border: its standard deviation is a quarter of its width
    const soft = Math.hypot(blur * cut.px, (cut.distance * Math.tan((sourceDeg * Math.PI) / 360)) / 2);
    let found: { cost: number; shape: number[] } | null = null;
    for (const shift of SHIFTS) {
      const middle = shift * reach;
      const shape = cut.u.map((u) => normal((u - middle + width) / soft) - normal((u - middle - width) / soft));
      const { cost } = fit(cut.grey, cut.u, shape);
      if (!found || cost < found.cost) found = { cost, shape };
    }
    return found!;
  }
}

const greyEv = ([r, g, b]: readonly number[]): number => -Math.log2(0.2627 * r + 0.678 * g + 0.0593 * b);

/** What the shadows of a plate tell of its light; strength and colour are null where no shadow is wide enough to tell them. */
export interface LightFigures {
  sourceDeg: number;
  ratioEv: number | null;
  ratioSpreadEv: number | null;
  shadowMired: number | null;
}

/** A shadow that would be as likely with another strength tells none, EV; nor is any strength surer than that. */
const MOST_SPREAD_EV = 2;
const LEAST_SPREAD_EV = 0.05;

/** What several shadows tell together, each as far as it is seen; null where none is. */
export function combineShadows(shadows: readonly (ShadowFigures | null)[]): LightFigures | null {
  const seen = shadows.flatMap((s) => s ?? []);
  if (seen.length === 0) return null;
  const mean = (of: readonly ShadowFigures[], weigh: (s: ShadowFigures) => number, value: (s: ShadowFigures) => number) =>
    of.reduce((sum, s) => sum + weigh(s) * value(s), 0) / of.reduce((sum, s) => sum + weigh(s), 0);
  const sourceDeg = Math.exp(
    mean(
      seen,
      (s) => s.explained,
      (s) => Math.log(s.sourceDeg),
    ),
  );
  const sure = seen.filter((s) => s.ratioSpreadEv <= MOST_SPREAD_EV);
  if (sure.length === 0) return { sourceDeg, ratioEv: null, ratioSpreadEv: null, shadowMired: null };
  const weigh = (s: ShadowFigures) => s.explained / (LEAST_SPREAD_EV + s.ratioSpreadEv) ** 2;
  return {
    sourceDeg,
    ratioEv: mean(sure, weigh, (s) => s.ratioEv),
    ratioSpreadEv: mean(sure, weigh, (s) => s.ratioSpreadEv),
    shadowMired: mean(sure, weigh, (s) => s.shadowMired),
  };
}

/** What of a picture is looked at for a mark, px: its shadow with what lies around; null where it lies on no ground. */
export function shadowReach(camera: GroundCamera, mark: ShadowMark): Rectangle | null {
  const base = mark.foot && camera.placeAt(...mark.foot);
  const tip = camera.placeAt(...mark.tip);
  if (!base || !tip) return null;
  const reach = Math.min(MOST_REACH_M, REACH * Math.hypot(tip[0] - base[0], tip[2] - base[2]));
  const corners = [base, tip].flatMap(([x, , z]) => [-1, 1].flatMap((a) => [-1, 1].map((b) => camera.pixelOf([x + a * reach, 0, z + b * reach]))));
  const [xs, ys] = [0, 1].map((k) => corners.flatMap((c) => c?.[k] ?? []));
  if (xs.length < corners.length) return null;
  const [x, y] = [Math.floor(Math.min(...xs)) - 1, Math.floor(Math.min(...ys)) - 1];
  return { x, y, width: Math.ceil(Math.max(...xs)) + 2 - x, height: Math.ceil(Math.max(...ys)) + 2 - y };
}

/** Samples of a rectangle of a picture between its px, bilinearly; null outside. @param planes one each of the channels */
export function samplerOf(planes: readonly Float32Array[], { x: x0, y: y0, width, height }: Rectangle): (x: number, y: number) => number[] | null {
  return (x, y) => {
    const [i, k] = [Math.floor(x - x0), Math.floor(y - y0)];
    if (i < 0 || k < 0 || i + 1 >= width || k + 1 >= height) return null;
    const [u, v] = [x - x0 - i, y - y0 - k];
    const at = k * width + i;
    return planes.map((p) => (p[at] * (1 - u) + p[at + 1] * u) * (1 - v) + (p[at + width] * (1 - u) + p[at + width + 1] * u) * v);
  };
}

/** Least squares of light across a cut: even or sloping ground, darkened by a share of a shape. */
function fit(values: readonly number[], u: readonly number[], shape: readonly number[] | null): { cost: number; depth: number } {
  const columns = [u.map(() => 1), [...u], ...(shape ? [shape.map((g) => -g)] : [])];
  const n = columns.length;
  const a = columns.map((p) => columns.map((q) => p.reduce((s, v, i) => s + v * q[i], 0)));
  const b = columns.map((p) => p.reduce((s, v, i) => s + v * values[i], 0));
  for (let i = 0; i < n; i++) {
    const pivot = a[i][i] || 1e-12;
    for (let k = i + 1; k < n; k++) {
      const f = a[k][i] / pivot;
      for (let j = i; j < n; j++) a[k][j] -= f * a[i][j];
      b[k] -= f * b[i];
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) x[i] = (b[i] - a[i].reduce((s, v, j) => (j > i ? s + v * x[j] : s), 0)) / (a[i][i] || 1e-12);
  const cost = values.reduce((s, v, i) => s + (v - columns.reduce((t, column, k) => t + x[k] * column[i], 0)) ** 2, 0);
  // no shadow brightens
  return n === 3 && x[2] <= 0 ? { cost: fit(values, u, null).cost, depth: 0 } : { cost, depth: n === 3 ? x[2] / Math.max(1e-9, x[0]) : 0 };
}

/** The share of a normal distribution below z. @see Abramowitz and Stegun 7.1.26, recalled from memory */
function normal(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const erf = 1 - t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) * Math.exp(-x * x);
  return z < 0 ? (1 - erf) / 2 : (1 + erf) / 2;
}
