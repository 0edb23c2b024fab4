import { NOBODY } from "../merge/frameShares";
import { cutGrid } from "../numeric/gridCut";

/** A frame on the grid of the picture: three planes of light evened out to the eye, 0..1, and where it can be seen. */
export interface SeamFrame {
  /** the rectangle of the grid that it is given on */
  x: number;
  y: number;
  width: number;
  height: number;
  planes: [Float32Array, Float32Array, Float32Array];
  /** 0 not seen, 1 at its border, 2 well inside */
  seen: Uint8Array;
}

/** Cost of a px of seam where frames agree wholly, so that seams are short. */
const LENGTH = 0.004;
/** Cost of a px of seam next to a frame's border, where its corners are worst. */
const BORDER = 0.02;
const SURE = 1e6;

/**
 * Which frame each px of the grid is taken from. Frames come in one after the other; where a frame overlaps what is there already, the
 * seam runs where both look most alike, round things that moved rather than through them.
 * @param order in which the frames come in, each next to one before
 * @see Kwatra et al. 2003, "Graphcut textures: image and video synthesis using graph cuts"
 */
export async function findSeams(
  width: number,
  height: number,
  frames: (SeamFrame | null)[],
  order: number[],
  step: (done: number) => Promise<void>,
): Promise<Uint8Array> {
  const label = new Uint8Array(width * height).fill(NOBODY);
  const shown = [0, 1, 2].map(() => new Float32Array(width * height));
  const rank = new Uint8Array(width * height);
  for (const [k, index] of order.entries()) {
    await step(k / order.length);
    const frame = frames[index];
    if (frame) bringIn(label, shown, rank, width, frame, index);
  }
  return label;
}

function bringIn(label: Uint8Array, shown: Float32Array[], rank: Uint8Array, width: number, frame: SeamFrame, index: number): void {
  const { x, y, width: w, height: h, planes, seen } = frame;
  const n = w * h;
  const at = (i: number) => (y + Math.floor(i / w)) * width + x + (i % w);
  // 1 only what is there, 2 only the new frame, 3 both
  const who = new Uint8Array(n);
  let both = false;
  for (let i = 0; i < n; i++) {
    const g = at(i);
    const there = label[g] !== NOBODY;
    if (!seen[i]) who[i] = there ? 1 : 0;
    else if (!there) who[i] = 2;
    // a border that another frame covers well is not needed
    else if (seen[i] === 1 && rank[g] === 2) who[i] = 1;
    else if (seen[i] === 2 && rank[g] === 1) who[i] = 2;
    else {
      who[i] = 3;
      both = true;
    }
  }
  const difference = new Float32Array(n);
  if (both) {
    for (let i = 0; i < n; i++) {
      if (who[i] === 0 || !seen[i] || label[at(i)] === NOBODY) continue;
      const g = at(i);
      difference[i] =
        Math.abs(planes[0][i] - shown[0][g]) + Math.abs(planes[1][i] - shown[1][g]) + Math.abs(planes[2][i] - shown[2][g]) + (seen[i] === 1 ? BORDER : 0);
    }
    const terminal = Float32Array.from(who, (v) => (v === 1 ? SURE : v === 2 ? -SURE : 0));
    const right = new Float32Array(n);
    const down = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      if (!who[i]) continue;
      if ((i % w) + 1 < w && who[i + 1]) right[i] = difference[i] + difference[i + 1] + LENGTH;
      if (i + w < n && who[i + w]) down[i] = difference[i] + difference[i + w] + LENGTH;
    }
    const stays = cutGrid({ width: w, height: h, terminal, right, down });
    for (let i = 0; i < n; i++) if (who[i] === 3) who[i] = stays[i] ? 1 : 2;
  }
  for (let i = 0; i < n; i++) {
    if (who[i] !== 2) continue;
    const g = at(i);
    label[g] = index;
    rank[g] = seen[i];
    for (let c = 0; c < 3; c++) shown[c][g] = planes[c][i];
  }
}

/** Labels carried over to px that nobody sees, from the nearest that somebody does, so that blending has no rim there. */
export function spreadLabels(label: Uint8Array, width: number, height: number): Uint8Array {
  const out = label.slice();
  const queue: number[] = [];
  out.forEach((v, i) => v !== NOBODY && queue.push(i));
  for (const i of queue) {
    const x = i % width;
    for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= width * height || out[j] !== NOBODY) continue;
      out[j] = out[i];
      queue.push(j);
    }
  }
  return out;
}
