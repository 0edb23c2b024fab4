import { cutGrid } from "../numeric/gridCut";

/** How borders may move. */
export interface BorderMoves {
  /** how far from where the areas have them, samples */
  band: number;
  /** cost of leaving one's area by a sample, so that borders move for a reason only */
  stray: number;
}

/** Those of regions that were found along what they hold. */
const OF_REGIONS: BorderMoves = { band: 7, stray: 0.004 };
const LENGTH = 0.01;
const SURE = 1e6;

/**
 * Moves the borders between areas that are taken from different frames to where they show least: where the frames agree, or along edges that
 * both have. Frames come in one after the other, the one with the largest area first.
 * @param wanted frame of each sample, or `none` @param frames encoded planes of each frame, 0..1
 * @see Kwatra et al. 2003, "Graphcut textures", equation 6
 */
export function findBorders(wanted: Uint8Array, none: number, frames: Float32Array[][], width: number, height: number, moves = OF_REGIONS): Uint8Array {
  const areas = new Map<number, number>();
  for (const f of wanted) areas.set(f, (areas.get(f) ?? 0) + 1);
  const order = [...areas.keys()].filter((f) => f !== none).sort((a, b) => areas.get(b)! - areas.get(a)! || a - b);
  if (areas.size < 2) return wanted.slice();
  const [first, ...rest] = areas.has(none) ? [none, ...order] : order;
  const shownOf = (f: number) => frames[f === none ? order[0] : f];
  const result = new Uint8Array(wanted.length).fill(first);
  for (const f of rest) bringIn(result, wanted, f, shownOf, width, height, moves);
  return result;
}

function bringIn(
  result: Uint8Array,
  wanted: Uint8Array,
  f: number,
  shownOf: (f: number) => Float32Array[],
  width: number,
  height: number,
  { band, stray }: BorderMoves,
): void {
  const n = width * height;
  const inside = Uint8Array.from(wanted, (v) => (v === f ? 1 : 0));
  const depth = distances(inside, width, height);
  const terminal = Float32Array.from(depth, (d) => (Math.abs(d) > band ? -Math.sign(d) * SURE : -Math.sign(d) * stray * Math.abs(d)));
  const right = new Float32Array(n);
  const down = new Float32Array(n);
  const next = shownOf(f);
  const apart = (i: number) => {
    const there = shownOf(result[i]);
    return Math.abs(next[0][i] - there[0][i]) + Math.abs(next[1][i] - there[1][i]) + Math.abs(next[2][i] - there[2][i]);
  };
  const step = (planes: Float32Array[], i: number, j: number) =>
    Math.abs(planes[0][i] - planes[0][j]) + Math.abs(planes[1][i] - planes[1][j]) + Math.abs(planes[2][i] - planes[2][j]);
  const cost = (i: number, j: number) => {
    const there = shownOf(result[i]);
    // along an edge that both frames have, a seam hides
    return (apart(i) + apart(j)) / (0.1 + step(next, i, j) + step(there, i, j)) / 20 + LENGTH;
  };
  for (let i = 0; i < n; i++) {
    if (Math.abs(depth[i]) > band + 1) continue;
    if ((i % width) + 1 < width) right[i] = cost(i, i + 1);
    if (i + width < n) down[i] = cost(i, i + width);
  }
  const stays = cutGrid({ width, height, terminal, right, down });
  for (let i = 0; i < n; i++) if (!stays[i]) result[i] = f;
}

/** City-block distance to the border: positive inside, 1 next to it, negative outside. */
function distances(inside: Uint8Array, width: number, height: number): Int16Array {
  const n = width * height;
  const far = Int16Array.from({ length: n }, () => 10_000);
  const meet = (i: number, j: number) => {
    if (inside[i] !== inside[j]) far[i] = 1;
    else if (far[j] + 1 < far[i]) far[i] = far[j] + 1;
  };
  for (let i = 0; i < n; i++) {
    if (i % width > 0) meet(i, i - 1);
    if (i >= width) meet(i, i - width);
  }
  for (let i = n - 1; i >= 0; i--) {
    if (i % width < width - 1) meet(i, i + 1);
    if (i + width < n) meet(i, i + width);
  }
  return far.map((d, i) => (inside[i] ? d : -d));
}
