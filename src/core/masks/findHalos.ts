/** A place where what is joined along a border of a mask is brighter or darker than on both of its sides. */
export interface Halo {
  x: number;
  y: number;
  /** beyond what both pictures show there by themselves, EV; positive: brighter */
  excessEv: number;
  /** samples of the border that are as far out, in this place's neighbourhood */
  count: number;
}

export interface HaloField {
  width: number;
  height: number;
  mask: Float32Array;
  /** log2 light of the joined picture, of what lies below, and of the layer alone */
  joined: Float32Array;
  below: Float32Array;
  above: Float32Array;
}

/** Samples to either side at which a border is compared with its sides. */
const ASIDE = 8;
/** Excess that can be seen along an edge, EV. Common practice, no source. */
const VISIBLE_EV = 0.35;
/** Side of a neighbourhood, samples. */
const CELL = 48;
const LEAST_COUNT = 24;

/**
 * Along the borders of a mask the joined picture is compared with what lies ASIDE samples to either side, across the border; what goes
 * beyond both sides counts as far as neither picture does the same by itself. The strongest neighbourhoods first.
 */
export function findHalos({ width, height, mask, joined, below, above }: HaloField): Halo[] {
  const columns = Math.ceil(width / CELL);
  const cells = new Map<number, { count: number; sum: number; x: number; y: number; most: number }>();
  for (let y = ASIDE + 1; y < height - ASIDE - 1; y++) {
    for (let x = ASIDE + 1; x < width - ASIDE - 1; x++) {
      const i = y * width + x;
      if (mask[i] < 0.1 || mask[i] > 0.9) continue;
      const [gx, gy] = [mask[i + 1] - mask[i - 1], mask[i + width] - mask[i - width]];
      const length = Math.sqrt(gx * gx + gy * gy);
      if (length < 0.02) continue;
      const step = Math.round((ASIDE * gy) / length) * width + Math.round((ASIDE * gx) / length);
      const own = beyond(joined, i, step);
      const natural = [beyond(below, i, step), beyond(above, i, step)];
      const excess = own > 0 ? own - Math.max(0, ...natural) : own - Math.min(0, ...natural);
      if (own === 0 || Math.sign(excess) !== Math.sign(own) || Math.abs(excess) < VISIBLE_EV) continue;
      const key = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
      const cell = cells.get(key) ?? { count: 0, sum: 0, x, y, most: 0 };
      cell.count++;
      cell.sum += excess;
      if (Math.abs(excess) > cell.most) Object.assign(cell, { most: Math.abs(excess), x, y });
      cells.set(key, cell);
    }
  }
  return [...cells.values()]
    .filter((c) => c.count >= LEAST_COUNT)
    .map(({ x, y, sum, count }) => ({ x, y, excessEv: sum / count, count }))
    .sort((a, b) => Math.abs(b.excessEv) * b.count - Math.abs(a.excessEv) * a.count);
}

/** How far a sample is brighter (positive) or darker than both of its sides. */
function beyond(plane: Float32Array, i: number, step: number): number {
  const [a, b] = [plane[i - step], plane[i + step]];
  return plane[i] > Math.max(a, b) ? plane[i] - Math.max(a, b) : plane[i] < Math.min(a, b) ? plane[i] - Math.min(a, b) : 0;
}
