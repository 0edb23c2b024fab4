import { toOklab } from "../../../core/color/oklab";
import { intersect, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { smooth } from "../../../core/masks/shapes";
import type { StrokeRecord } from "../../../document/records/types";
import { strokesOf } from "../../../document/selectors";
import type { MaskSite } from "./MaskSite";
import { strokePlane } from "./strokeTiles";

/** Radius of the patch whose colour a stroke begins on, px. */
const SEED = 2;

/** What the strokes of a part make of a base in a rectangle; null where there are none. */
export function coveredBy(on: MaskSite, part: { id: string }, base: 0 | 1, rect: Rectangle): Float32Array | null {
  const strokes = strokesOf(on.job.records, on.layer.id).filter((s) => s.partId === part.id);
  if (strokes.length === 0) return null;
  // what keeps to its side of an edge holds for this merge only
  const limit = { key: on.job.merge.key, of: (stroke: StrokeRecord, tile: Rectangle) => edgeLimit(on, stroke, tile) };
  return strokePlane(on.ctx, base, strokes, on.level, rect, limit);
}

/** Paints over values in place: strokes carry m to k·m + c, which two bases tell. @param read what they make of a base; null where there are none */
export function paintOver(values: Float32Array, read: (base: 0 | 1) => Float32Array | null): void {
  const even = evenly(values);
  if (even !== null) {
    const painted = read(even);
    if (painted) values.set(painted);
    return;
  }
  const [black, white] = [read(0), read(1)];
  if (!black || !white) return;
  for (let i = 0; i < values.length; i++) values[i] = black[i] + values[i] * (white[i] - black[i]);
}

/** What all values are, where that is black or white. */
function evenly(values: Float32Array): 0 | 1 | null {
  const first = values[0];
  if (first !== 0 && first !== 1) return null;
  for (let i = 1; i < values.length; i++) if (values[i] !== first) return null;
  return first;
}

/** All where the merge has the colour that the stroke began on, falling to nothing over half the tolerance beyond it. */
function edgeLimit(on: MaskSite, { points, edgeTolerance }: StrokeRecord, tile: Rectangle): Float32Array {
  const { width, height } = on.job.inputs;
  const [sx, sy] = [Math.round(points[0]), Math.round(points[1])];
  const seed = new Float64Array(3);
  const around = intersect({ x: sx - SEED, y: sy - SEED, width: 2 * SEED + 1, height: 2 * SEED + 1 }, { x: 0, y: 0, width, height });
  const out = new Float32Array(tile.width * tile.height);
  if (around.width <= 0 || around.height <= 0) return out;
  // the seed is read at full size, so that it is the same at every level
  const [r, g, b] = on.light(null, around, false, 0).map((p) => p.reduce((sum, v) => sum + v, 0) / p.length);
  toOklab(r, g, b, seed);
  const inside = intersect(tile, { x: 0, y: 0, ...sizeAtLevel(width, height, on.level) });
  const [L, A, B] = on.oklab(null, inside);
  for (let y = 0, i = 0; y < inside.height; y++) {
    for (let x = 0; x < inside.width; x++, i++) {
      const apart = 100 * Math.sqrt((L[i] - seed[0]) ** 2 + (A[i] - seed[1]) ** 2 + (B[i] - seed[2]) ** 2);
      out[(inside.y - tile.y + y) * tile.width + inside.x - tile.x + x] = smooth(3 - (2 * apart) / edgeTolerance);
    }
  }
  return out;
}
