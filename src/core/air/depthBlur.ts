import { discBlur } from "./defocus";

/** A lens in focus at a distance: the disc that a point infinitely far away becomes, px of the picture. */
export interface Lens {
  focusM: number;
  radiusPx: number;
}

/** What is nearer than a third of the way to the focus is as far out of it as there. */
const MOST = 2;

/**
 * Radius of the disc that a point becomes, px: positive behind the focus, negative before it. @param distanceM from the camera
 * @see the thin lens: the disc grows with 1 − focus / distance
 */
export const discAt = ({ focusM, radiusPx }: Lens, distanceM: number): number => radiusPx * Math.max(-MOST, 1 - focusM / Math.max(1e-6, distanceM));

/** Discs wider than that are laid on means of squares of samples: nobody sees their borders so finely. */
const FINE = 3;
const squareOf = (radius: number): number => 2 ** Math.max(0, Math.floor(Math.log2(radius / FINE)));

/** The widest disc that a lens makes, samples of a level. */
export const widestDisc = ({ radiusPx }: Pick<Lens, "radiusPx">, level: number): number => (MOST * radiusPx) / 2 ** level;

/** Samples around a place that are looked at, at a level. */
export function depthBlurReach(lens: Pick<Lens, "radiusPx">, level: number): number {
  const widest = widestDisc(lens, level);
  return 2 * Math.ceil(widest) + 3 * squareOf(widest) + 2;
}

/** Discs from sharp to the widest, each a little wider than the last; the step is small beside what an eye tells of a disc. */
export function discSteps(widest: number): number[] {
  const steps = [0];
  for (let r = 0.5; steps[steps.length - 1] < widest; r += Math.max(0.5, 0.22 * r)) steps.push(r);
  return steps;
}

/** What a share of each sample shows, with the disc that it becomes: samples of a rectangle. */
export interface DepthShare {
  /** 0..1; all shares of a sample make 1 */
  share: Float32Array;
  /** signed radius, samples, behind the focus positive */
  disc: Float32Array;
}

/** What lies behind a blurred border is taken from around it: within so much of the widest disc, nearest first. */
const AROUND = [0.25, 1];
/** So much of a blurred border, times that, opens all behind it. */
const OPENS = 8;
/** Less of it around tells nothing. */
const LEAST = 0.02;

/**
 * Spreads each sample over the disc of its distance, from the farthest to the nearest: what is near lies over what is far, and what is sharp takes nothing of what is blurred behind it. In place.
 * @param planes linear light @param shares what each sample shows, by distance @param widest disc that there may be, samples @param x0 @param y0 place of the rectangle, that every rectangle spreads alike
 */
export function depthBlur(
  planes: readonly Float32Array[],
  shares: readonly DepthShare[],
  width: number,
  height: number,
  widest: number,
  x0: number,
  y0: number,
): void {
  const n = width * height;
  const steps = discSteps(widest);
  const sum = planes.map(() => new Float32Array(n));
  const covered = new Float32Array(n);
  const weight = new Float32Array(n);
  const near = new Float32Array(n);
  const spans = shares.map((share) => rowSpans(share, width, height));
  let back: Float32Array[] | null = null;
  const most = steps.length - 1;
  for (let s = most; s >= -most; s--) {
    const here = steps[Math.abs(s)];
    const rows = weigh(weight, shares, spans, steps, s, width);
    if (!rows) continue;
    if (s < 0 && !back) back = [...sum.map((plane) => plane.slice()), covered.slice()];
    // what lies at one distance is a few rows of a plate
    const around = Math.ceil(here) + 2 * squareOf(here) + 1;
    const [top, bottom] = here === 0 ? rows : [Math.max(0, rows[0] - around), Math.min(height, rows[1] + around)];
    const [from, to] = [top * width, bottom * width];
    const light = [...planes.map((plane) => times(plane, weight, from, to)), weight.slice(from, to)];
    const spread = here === 0 ? light : light.map((plane) => wideDisc(plane, width, bottom - top, x0, y0 + top, here));
    const cover = spread[planes.length];
    for (let i = from; i < to; i++) {
      // what is next to it is not hidden by it, as far as both have room
      const own = cover[i - from];
      const left = covered[i] > 0 ? Math.min(1, Math.max(0, 1 - own) / covered[i]) : 0;
      covered[i] = covered[i] * left + own;
      if (s < 0) near[i] += own;
      for (let c = 0; c < planes.length; c++) sum[c][i] = sum[c][i] * left + spread[c][i - from];
    }
  }
  const around = (back ? AROUND : []).map((share) => back!.map((plane) => wideDisc(plane.slice(), width, height, x0, y0, share * widest)));
  for (let i = 0; i < n; i++) {
    const open = 1 - covered[i];
    if (covered[i] < 1e-6 || open <= 0) {
      if (covered[i] > 0) for (let c = 0; c < planes.length; c++) planes[c][i] = sum[c][i] / covered[i];
      continue;
    }
    // only what a blurred border opens is taken from behind it
    const opened = Math.min(1, OPENS * near[i]);
    const behind = opened > 0 ? around.find((a) => a[planes.length][i] > LEAST) : undefined;
    for (let c = 0; c < planes.length; c++) {
      const alone = sum[c][i] / covered[i];
      planes[c][i] = behind ? alone + opened * (sum[c][i] + (open * behind[c][i]) / behind[planes.length][i] - alone) : alone;
    }
  }
}

function times(plane: Float32Array, weight: Float32Array, from: number, to: number): Float32Array {
  const out = new Float32Array(to - from);
  for (let i = from; i < to; i++) out[i - from] = plane[i] * weight[i];
  return out;
}

/** The least and the most disc in each row. */
function rowSpans({ share, disc }: DepthShare, width: number, height: number): Float32Array {
  const spans = new Float32Array(2 * height);
  for (let y = 0; y < height; y++) {
    let [least, most] = [Infinity, -Infinity];
    for (let i = y * width; i < (y + 1) * width; i++) {
      if (share[i] === 0) continue;
      if (disc[i] < least) least = disc[i];
      if (disc[i] > most) most = disc[i];
    }
    spans[2 * y] = least;
    spans[2 * y + 1] = most;
  }
  return spans;
}

/** How much of each sample is spread by a step of discs: between two steps by both. @returns the first and past the last row of which any is, or null */
function weigh(
  weight: Float32Array,
  shares: readonly DepthShare[],
  spans: readonly Float32Array[],
  steps: readonly number[],
  s: number,
  width: number,
): [number, number] | null {
  const [sign, at] = [s < 0 ? -1 : 1, Math.abs(s)];
  const here = steps[at];
  const below = at === 0 ? -Infinity : steps[at - 1];
  const above = at + 1 < steps.length ? steps[at + 1] : Infinity;
  // what is sharp belongs to both sides
  const [low, high] = at === 0 ? [-above, above] : sign > 0 ? [below, above] : [-above, -below];
  weight.fill(0);
  let [first, last] = [Infinity, -1];
  for (let k = 0; k < shares.length; k++) {
    const { share, disc } = shares[k];
    for (let y = 0; y < share.length / width; y++) {
      if (spans[k][2 * y] >= high || spans[k][2 * y + 1] <= low) continue;
      if (y < first) first = y;
      if (y > last) last = y;
      for (let i = y * width; i < (y + 1) * width; i++) {
        const r = at === 0 ? Math.abs(disc[i]) : disc[i] * sign;
        if (share[i] === 0 || r <= below || r >= above) continue;
        weight[i] += share[i] * (r < here ? (r - below) / (here - below) : above === Infinity ? 1 : (above - r) / (above - here));
      }
    }
  }
  return last < 0 ? null : [first, last + 1];
}

/** Spreads over a disc; a wide one on means of squares that lie in every rectangle alike. */
function wideDisc(plane: Float32Array, width: number, height: number, x0: number, y0: number, radius: number): Float32Array {
  const side = squareOf(radius);
  if (side === 1) {
    discBlur(plane, width, height, radius);
    return plane;
  }
  const [left, top] = [Math.floor(x0 / side), Math.floor(y0 / side)];
  const w = Math.floor((x0 + width - 1) / side) - left + 1;
  const h = Math.floor((y0 + height - 1) / side) - top + 1;
  const column = Int32Array.from({ length: width }, (_, x) => Math.floor((x0 + x) / side) - left);
  const means = new Float32Array(w * h);
  for (let y = 0; y < height; y++) {
    const row = (Math.floor((y0 + y) / side) - top) * w;
    for (let x = 0; x < width; x++) means[row + column[x]] += plane[y * width + x];
  }
  const area = side * side;
  for (let k = 0; k < means.length; k++) means[k] /= area;
  discBlur(means, w, h, radius / side);
  // back between the middles of the squares
  const at = Int32Array.from({ length: width }, (_, x) => within(Math.floor((x0 + x + 0.5) / side - 0.5) - left, w));
  const share = Float32Array.from({ length: width }, (_, x) => Math.min(1, Math.max(0, (x0 + x + 0.5) / side - 0.5 - left - at[x])));
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = (y0 + y + 0.5) / side - 0.5 - top;
    const j = within(Math.floor(v), h);
    const [upper, lower] = [j * w, within(j + 1, h) * w];
    const b = Math.min(1, Math.max(0, v - j));
    for (let x = 0; x < width; x++) {
      const i = at[x];
      const right = i + 1 < w ? i + 1 : i;
      const a = share[x];
      const above = means[upper + i] * (1 - a) + means[upper + right] * a;
      out[y * width + x] = above * (1 - b) + (means[lower + i] * (1 - a) + means[lower + right] * a) * b;
    }
  }
  return out;
}

const within = (place: number, count: number): number => Math.min(count - 1, Math.max(0, place));
