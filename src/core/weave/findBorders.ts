import { cutGrid } from "../numeric/gridCut";

/** How far a border may move from where the regions have it, samples. */
const BAND = 7;
/** Cost of leaving one's region by a sample, so that borders move for a reason only. */
const STRAY = 0.004;
const LENGTH = 0.01;
/** More than any border costs. */
export const SURE = 1e6;

/**
 * Moves the borders between areas that are taken from different frames to where they show least: where the frames agree, or along edges that
 * both have. Frames come in one after the other, the one with the largest area first.
 * @param wanted frame of each sample, or `none` @param frames encoded planes of each frame, 0..1
 * @see Kwatra et al. 2003, "Graphcut textures", equation 6
 */
export function findBorders(wanted: Uint8Array, none: number, frames: Float32Array[][], width: number, height: number): Uint8Array {
  const areas = new Map<number, number>();
  for (const f of wanted) areas.set(f, (areas.get(f) ?? 0) + 1);
  const order = [...areas.keys()].filter((f) => f !== none).sort((a, b) => areas.get(b)! - areas.get(a)! || a - b);
  if (areas.size < 2) return wanted.slice();
  const [first, ...rest] = areas.has(none) ? [none, ...order] : order;
  const shownOf = (f: number) => frames[f === none ? order[0] : f];
  const result = new Uint8Array(wanted.length).fill(first);
  for (const f of rest) bringIn(result, wanted, f, shownOf, width, height);
  return result;
}

function bringIn(result: Uint8Array, wanted: Uint8Array, f: number, shownOf: (f: number) => Float32Array[], width: number, height: number): void {
  const inside = Uint8Array.from(wanted, (v) => (v === f ? 1 : 0));
  const depth = distances(inside, width, height);
  const wants = Float32Array.from(depth, (d) => (Math.abs(d) > BAND ? Math.sign(d) * SURE : Math.sign(d) * STRAY * Math.abs(d)));
  const taken = cutBetween(
    wants,
    shownOf(f),
    (i) => shownOf(result[i]),
    (i) => Math.abs(depth[i]) <= BAND + 1,
    width,
    height,
  );
  for (let i = 0; i < taken.length; i++) if (taken[i]) result[i] = f;
}

/**
 * Where one picture gives way to another so that it shows least.
 * @param wants how much a sample is to be taken from `above`, negative: from below; SURE where it has to be @param above encoded planes @param below those under a sample
 * @param isOpen where a border may run @returns 1 where it is taken from above @see Kwatra et al. 2003, "Graphcut textures", equation 6
 */
export function cutBetween(
  wants: Float32Array,
  above: Float32Array[],
  below: (i: number) => Float32Array[],
  isOpen: (i: number) => boolean,
  width: number,
  height: number,
): Uint8Array {
  const n = width * height;
  const right = new Float32Array(n);
  const down = new Float32Array(n);
  const apart = (i: number) => {
    const there = below(i);
    return Math.abs(above[0][i] - there[0][i]) + Math.abs(above[1][i] - there[1][i]) + Math.abs(above[2][i] - there[2][i]);
  };
  const step = (planes: Float32Array[], i: number, j: number) =>
    Math.abs(planes[0][i] - planes[0][j]) + Math.abs(planes[1][i] - planes[1][j]) + Math.abs(planes[2][i] - planes[2][j]);
  // along an edge that both have, a seam hides
  const cost = (i: number, j: number) => (apart(i) + apart(j)) / (0.1 + step(above, i, j) + step(below(i), i, j)) / 20 + LENGTH;
  for (let i = 0; i < n; i++) {
    if (!isOpen(i)) continue;
    if ((i % width) + 1 < width) right[i] = cost(i, i + 1);
    if (i + width < n) down[i] = cost(i, i + width);
  }
  return cutGrid({ width, height, terminal: wants.map((v) => -v), right, down }).map((stays) => (stays ? 0 : 1));
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
