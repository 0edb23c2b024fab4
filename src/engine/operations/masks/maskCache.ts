import { applyStroke, placeDabs, strokeBounds } from "../../../core/masks/placeDabs";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { copyShared, cutOut } from "../../../core/raster/planeParts";
import type { StrokeRecord } from "../../../document/records/types";
import type { Kernels } from "../../../kernels/Kernels";

export const MASK_TILE = 256;
const MAX_TILES = 600;

/** How much of a stroke that keeps to its side of an edge each place of a tile takes, 0..1. */
export type LimitOf = (stroke: StrokeRecord, tile: Rectangle) => Float32Array;

interface Entry {
  /** ids of the strokes laid into `base` */
  laid: string[];
  base: Float32Array;
  /** the newest stroke may still grow; its coverage is kept apart */
  last: { id: string; dabs: number; coverage: Float32Array; limit: Float32Array | null } | null;
}

/** Side of a tile of a mask without strokes, samples; all of them that are kept. */
const STILL_TILE = 64;
const MOST_SAMPLES = 16 << 20;

/** Tiles of the painted parts of masks at any display level, replayed from strokes and kept while the strokes only grow. */
export class MaskCache {
  private readonly tiles = new Map<string, Entry>();
  private readonly stills = new Map<string, Map<number, Float32Array>>();
  private held = 0;

  constructor(private readonly kernels: Kernels) {}

  /**
   * A mask that nothing painted is part of, in a rectangle: kept in tiles, so that what is looked at next, a little aside, is not made again.
   * @param key of the mask and its level @param size of the level @param make computes any rectangle of it
   */
  still(key: string, size: { width: number; height: number }, rect: Rectangle, make: (part: Rectangle) => Float32Array): Float32Array {
    const tiles = this.stills.get(key) ?? new Map<number, Float32Array>();
    this.stills.delete(key);
    this.stills.set(key, tiles);
    const columns = Math.ceil(size.width / STILL_TILE);
    const covering = tilesOver(rect, columns);
    const missing = covering.filter((t) => !tiles.has(t)).map((t) => tileAt(t, columns, size));
    if (missing.length > 0) {
      const all = bounding(missing);
      const made = make(all);
      for (const tile of missing) {
        this.held += tile.width * tile.height;
        tiles.set((tile.y / STILL_TILE) * columns + tile.x / STILL_TILE, cutOut(made, all, tile).slice());
      }
    }
    const out = new Float32Array(rect.width * rect.height);
    for (const t of covering) copyShared(out, rect, tiles.get(t)!, tileAt(t, columns, size));
    this.forget();
    return out;
  }

  /** Lets go of the masks looked at longest ago; of the one in use too, where it alone is too much. */
  private forget(): void {
    while (this.held > MOST_SAMPLES) {
      const [oldest, tiles] = this.stills.entries().next().value!;
      for (const tile of tiles.values()) this.held -= tile.length;
      this.stills.delete(oldest);
    }
  }

  /** What strokes, known by a name of their own, make of a ground, 0..1, in a rectangle at a display level (row length = rect.width). */
  read(name: string, ground: 0 | 1, strokes: StrokeRecord[], level: number, rect: Rectangle, out: Float32Array, limitOf: LimitOf): void {
    for (let ty = Math.floor(rect.y / MASK_TILE); ty * MASK_TILE < rect.y + rect.height; ty++) {
      for (let tx = Math.floor(rect.x / MASK_TILE); tx * MASK_TILE < rect.x + rect.width; tx++) {
        const tile = this.tile(name, ground, strokes, level, tx, ty, limitOf);
        const x0 = Math.max(rect.x, tx * MASK_TILE);
        const x1 = Math.min(rect.x + rect.width, (tx + 1) * MASK_TILE);
        for (let y = Math.max(rect.y, ty * MASK_TILE); y < Math.min(rect.y + rect.height, (ty + 1) * MASK_TILE); y++) {
          const from = (y - ty * MASK_TILE) * MASK_TILE + x0 - tx * MASK_TILE;
          const to = (y - rect.y) * rect.width + x0 - rect.x;
          for (let k = 0; k < x1 - x0; k++) out[to + k] = tile[from + k];
        }
      }
    }
  }

  private tile(name: string, ground: 0 | 1, strokes: StrokeRecord[], level: number, tx: number, ty: number, limitOf: LimitOf): Float32Array {
    const key = `${name}/${ground}/${level}/${tx}/${ty}`;
    let entry = this.tiles.get(key);
    const earlier = strokes.slice(0, -1);
    const last = strokes[strokes.length - 1];
    if (entry && !continues(entry, earlier, last)) entry = undefined;
    if (!entry) entry = { laid: [], base: new Float32Array(MASK_TILE * MASK_TILE).fill(ground), last: null };
    this.tiles.delete(key);
    this.tiles.set(key, entry);
    if (this.tiles.size > MAX_TILES) this.tiles.delete(this.tiles.keys().next().value!);

    for (const stroke of strokes.slice(entry.laid.length)) {
      if (entry.last && entry.last.id !== stroke.id) throw new Error("A mask tile lost its order of strokes.");
      const limit = () => (stroke.edgeTolerance > 0 ? limitOf(stroke, { x: tx * MASK_TILE, y: ty * MASK_TILE, width: MASK_TILE, height: MASK_TILE }) : null);
      entry.last ??= { id: stroke.id, dabs: 0, coverage: new Float32Array(MASK_TILE * MASK_TILE), limit: limit() };
      this.stamp(entry.last, stroke, level, tx, ty);
      if (stroke === last) break;
      applyStroke(entry.base, entry.last.coverage, stroke.opacity, stroke.reveal, entry.last.limit);
      entry.laid.push(stroke.id);
      entry.last = null;
    }
    const result = entry.base.slice();
    applyStroke(result, entry.last!.coverage, last.opacity, last.reveal, entry.last!.limit);
    return result;
  }

  /** Adds the dabs of a stroke that are not in its coverage yet. */
  private stamp(state: { dabs: number; coverage: Float32Array }, stroke: StrokeRecord, level: number, tx: number, ty: number): void {
    const s = 2 ** level;
    const x0 = tx * MASK_TILE;
    const y0 = ty * MASK_TILE;
    const bounds = strokeBounds(stroke.points, stroke.diameterPx);
    if (bounds.x1 < x0 * s || bounds.y1 < y0 * s || bounds.x0 > (x0 + MASK_TILE) * s || bounds.y0 > (y0 + MASK_TILE) * s) return;
    const dabs = placeDabs(stroke.points, stroke.diameterPx, stroke.spacing);
    if (state.dabs * 3 >= dabs.length) return;
    const radius = stroke.diameterPx / 2 / s + 0.5;
    const hard = Math.max(0, Math.min(radius - 1, (stroke.diameterPx / 2 / s) * (1 - stroke.softness) - 0.5));
    this.kernels.withScope((scope) => {
      const at = scope.floats(MASK_TILE * MASK_TILE + 16);
      const view = this.kernels.f32(at, MASK_TILE * MASK_TILE);
      view.set(state.coverage);
      for (let i = state.dabs * 3; i < dabs.length; i += 3) {
        const cx = (dabs[i] + 0.5) / s - 0.5 - x0;
        const cy = (dabs[i + 1] + 0.5) / s - 0.5 - y0;
        if (cx < -radius || cy < -radius || cx > MASK_TILE + radius || cy > MASK_TILE + radius) continue;
        this.kernels.stampDisc(at, MASK_TILE, MASK_TILE, cx, cy, radius, hard, stroke.flow * dabs[i + 2]);
      }
      state.coverage.set(view);
    });
    state.dabs = dabs.length / 3;
  }
}

/** Whether a cached tile is a beginning of what is asked for. */
function continues(entry: Entry, earlier: StrokeRecord[], last: StrokeRecord): boolean {
  if (entry.laid.length > earlier.length) return false;
  if (entry.laid.some((id, i) => id !== earlier[i].id)) return false;
  const next = earlier[entry.laid.length] ?? last;
  return entry.last === null || entry.last.id === next.id;
}

/** Numbers of the tiles that a rectangle lies on. */
function tilesOver({ x, y, width, height }: Rectangle, columns: number): number[] {
  const out: number[] = [];
  for (let j = Math.floor(y / STILL_TILE); j * STILL_TILE < y + height; j++) {
    for (let i = Math.floor(x / STILL_TILE); i * STILL_TILE < x + width; i++) out.push(j * columns + i);
  }
  return out;
}

function tileAt(tile: number, columns: number, size: { width: number; height: number }): Rectangle {
  const [x, y] = [(tile % columns) * STILL_TILE, Math.floor(tile / columns) * STILL_TILE];
  return { x, y, width: Math.min(STILL_TILE, size.width - x), height: Math.min(STILL_TILE, size.height - y) };
}

function bounding(list: Rectangle[]): Rectangle {
  const [x, y] = [Math.min(...list.map((r) => r.x)), Math.min(...list.map((r) => r.y))];
  return { x, y, width: Math.max(...list.map((r) => r.x + r.width)) - x, height: Math.max(...list.map((r) => r.y + r.height)) - y };
}
