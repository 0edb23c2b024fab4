/** A place where a mask runs beyond an edge of the picture that its border follows elsewhere. */
export interface Spill {
  x: number;
  y: number;
  /** how far beyond the edge, samples */
  depth: number;
  /** samples of the border that are as far out, in this place's neighbourhood */
  count: number;
}

export interface SpillField {
  width: number;
  height: number;
  mask: Float32Array;
  /** log2 light of the picture beneath, whose edges the mask ought to follow */
  light: Float32Array;
  /** EV that the layer changes there where it is revealed */
  change: Float32Array;
}

/** How far to either side of a border an edge is looked for, samples. */
const REACH = 14;
/** A border as near as this to an edge is on it. */
const ON_EDGE = 2;
/** An edge over three samples, EV; a border less steep than this is meant to be soft; a change that shows. Common practice, no source. */
const EDGE_EV = 0.5;
const STEEP = 0.12;
const VISIBLE_EV = 0.15;
/** Share of the border that has to lie on edges before the rest counts as spilled. */
const FOLLOWS = 0.4;
const CELL = 48;
const LEAST_COUNT = 12;

/**
 * Walks the border of a mask (its crossing of a half) and looks across it for the nearest edge of the picture that runs along it. Where most
 * of the border lies on edges, stretches that lie outside of one are spilled over. The longest stretches first.
 */
export function findSpill({ width, height, mask, light, change }: SpillField): Spill[] {
  const columns = Math.ceil(width / CELL);
  const cells = new Map<number, { count: number; sum: number; x: number; y: number }>();
  let [onEdge, border] = [0, 0];
  const margin = REACH + 2;
  for (let y = margin; y < height - margin; y++) {
    for (let x = margin; x < width - margin; x++) {
      const i = y * width + x;
      if (mask[i] < 0.5 || Math.min(mask[i - 1], mask[i + 1], mask[i - width], mask[i + width]) >= 0.5) continue;
      const [gx, gy] = [(mask[i + 1] - mask[i - 1]) / 2, (mask[i + width] - mask[i - width]) / 2];
      const steepness = Math.sqrt(gx * gx + gy * gy);
      if (steepness < STEEP) continue;
      border++;
      const [nx, ny] = [gx / steepness, gy / steepness];
      const inward = edgeAlong(light, width, x, y, nx, ny);
      const outward = edgeAlong(light, width, x, y, -nx, -ny);
      if (Math.min(inward, outward) <= ON_EDGE) {
        onEdge++;
        continue;
      }
      if (inward > REACH || outward <= inward) continue;
      // half way between the border and the edge the layer has to do something
      const between = Math.round(y + (ny * inward) / 2) * width + Math.round(x + (nx * inward) / 2);
      if (Math.abs(change[between]) < VISIBLE_EV) continue;
      const key = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
      const cell = cells.get(key) ?? { count: 0, sum: 0, x, y };
      cell.count++;
      cell.sum += inward;
      cells.set(key, cell);
    }
  }
  if (border === 0 || onEdge / border < FOLLOWS) return [];
  return [...cells.values()]
    .filter((c) => c.count >= LEAST_COUNT)
    .map(({ x, y, sum, count }) => ({ x, y, depth: sum / count, count }))
    .sort((a, b) => b.count * b.depth - a.count * a.depth);
}

/** Samples to the nearest edge across a direction; beyond REACH where there is none. */
function edgeAlong(light: Float32Array, width: number, x: number, y: number, nx: number, ny: number): number {
  const at = (t: number) => light[Math.round(y + ny * t) * width + Math.round(x + nx * t)];
  for (let t = 0; t <= REACH; t++) if (Math.abs(at(t + 1.5) - at(t - 1.5)) > EDGE_EV) return t;
  return REACH + 1;
}
