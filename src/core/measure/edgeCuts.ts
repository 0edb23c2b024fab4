import { median, quantile } from "../numeric/statistics";

/** Light along one side of a picture: `depth` rows of `length` cells, the outermost first. NaN where nothing is known. */
export interface SideBand {
  /** log2 of light */
  light: Float32Array;
  length: number;
  depth: number;
}

/** Something that the side cuts, in cells along it. */
export interface EdgeCut {
  from: number;
  /** behind its end */
  to: number;
  /** against what lies on either side of it, EV */
  ev: number;
}

/** A thing stands out by this much, is cut off clearly at its ends, and takes no more of the side than this. Common practice, no source. */
const BRIGHTER_EV = 1.5;
const DARKER_EV = 2.5;
const SHARE = { least: 0.015, most: 0.45 };
/** Share of the side that is looked at on either side of a place, more than the largest thing; and the share of it that is the ground at least. */
const BESIDE = 0.6;
const GROUND = 0.2;
/** Of its contrast: how far the light steps within a few cells at each end, and how much of it there still is further in. */
const STEP = 0.5;
const STEP_CELLS = 3;
const INWARDS = 0.5;

/** Things with a clear outline that one side of the picture cuts: a bright window, a strong dark shape. The most conspicuous first. */
export function findEdgeCuts({ light, length, depth }: SideBand): EdgeCut[] {
  const outer = profileOf(light, length, 0, Math.max(1, depth >> 2));
  const inner = profileOf(light, length, depth >> 1, depth);
  const known = outer.filter((v) => !Number.isNaN(v));
  if (known.length < length / 2) return [];
  const cuts: EdgeCut[] = [];
  // against both neighbourhoods, so that neither a gradient nor a horizon stands out
  const reach = Math.round(length * BESIDE);
  const sidesOf = Array.from(outer, (_, i) =>
    [outer.subarray(Math.max(0, i - reach), i), outer.subarray(i + 1, i + 1 + reach)]
      .map((side) => side.filter((v) => !Number.isNaN(v)).sort())
      .filter((side) => side.length >= reach / 8),
  );
  for (const [sign, leastEv] of [
    [1, BRIGHTER_EV],
    [-1, DARKER_EV],
  ]) {
    // where much of a side is as bright nothing of it stands out
    const most = quantile(known, sign > 0 ? 1 - SHARE.most : SHARE.most);
    // the ground on either side, of which the thing itself may be the larger part; of both what is nearer to the thing
    const ground = sign > 0 ? GROUND : 1 - GROUND;
    const base = Float32Array.from(
      sidesOf,
      (sides) => sign * Math.max(...[most, ...sides.map((side) => side[Math.round(ground * (side.length - 1))])].map((v) => sign * v)),
    );
    const above = (i: number) => sign * (outer[i] - base[i]);
    for (let from = 0; from < length; from++) {
      if (!(above(from) > leastEv / 2)) continue;
      let to = from;
      while (to < length && above(to) > leastEv / 2) to++;
      const cut = describe(outer, inner, base, from, to);
      if (cut && sign * cut.ev > leastEv) cuts.push(cut);
      from = to;
    }
  }
  return cuts.sort((a, b) => Math.abs(b.ev) * (b.to - b.from) - Math.abs(a.ev) * (a.to - a.from));
}

/** A run as a thing, null where it is too small or large, fades out, or ends at once further in. */
function describe(outer: Float32Array, inner: Float32Array, base: Float32Array, from: number, to: number): EdgeCut | null {
  const length = outer.length;
  const share = (to - from) / length;
  // what reaches into a corner goes on along the other side
  if (share < SHARE.least || share > SHARE.most || from === 0 || to === length) return null;
  const middle = (plane: Float32Array) => {
    const some = plane.subarray(from, to).filter((v) => !Number.isNaN(v));
    return some.length ? median(some) : NaN;
  };
  const ground = middle(base);
  const ev = middle(outer) - ground;
  const step = (inside: number, outside: number) => {
    const [a, b] = [outer[Math.min(to - 1, Math.max(from, inside))], outer[Math.min(length - 1, Math.max(0, outside))]];
    return (a - b) / ev;
  };
  const clear = step(from + 1, from - STEP_CELLS) > STEP && step(to - 2, to - 1 + STEP_CELLS) > STEP;
  return clear && (middle(inner) - ground) / ev > INWARDS ? { from, to, ev } : null;
}

/** Median over some rows of a band, cell by cell. */
function profileOf(light: Float32Array, length: number, top: number, bottom: number): Float32Array {
  return Float32Array.from({ length }, (_, i) => {
    const column: number[] = [];
    for (let y = top; y < bottom; y++) if (!Number.isNaN(light[y * length + i])) column.push(light[y * length + i]);
    return column.length ? median(column) : NaN;
  });
}
