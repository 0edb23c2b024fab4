import { applyStroke, placeDabs, strokeBounds } from "../../../core/masks/placeDabs";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { remember } from "../../../core/numeric/remember";
import type { StrokeRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { hashOf, hashOfFixed } from "../../graph/keys";

const TILE = 256;
const SAMPLES = TILE * TILE;

/** Strokes that keep to their side of an edge: how much of one each place of a tile takes, 0..1, and the key of what that is measured in. */
export interface EdgeLimit {
  key: string;
  of(stroke: StrokeRecord, tile: Rectangle): Float32Array;
}

/** What strokes, one after the other, make of a base, 0..1, in a rectangle at a display level (row length = rect.width). */
export function strokePlane(ctx: EngineContext, ground: 0 | 1, strokes: StrokeRecord[], level: number, rect: Rectangle, limit: EdgeLimit): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  if (ground) out.fill(1);
  for (let ty = Math.floor(rect.y / TILE); ty * TILE < rect.y + rect.height; ty++) {
    for (let tx = Math.floor(rect.x / TILE); tx * TILE < rect.x + rect.width; tx++) {
      const tile = { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE };
      const touching = strokes.filter((s) => touches(s, tile, level));
      if (touching.length === 0) continue;
      new StrokeTile(ctx, ground, level, tile, limit).put(touching, out, rect);
    }
  }
  return out;
}

/** Points of a stroke that are looked at together. */
const BLOCK = 16;

/** A part of a stroke: where its dabs lie, px of the full size, and the key of the stroke up to its end. */
interface Block {
  box: ReturnType<typeof strokeBounds>;
  key: string;
}

const blocksOf = remember((stroke: StrokeRecord): Block[] => {
  const { points, ...brush } = stroke;
  const blocks: Block[] = [];
  let key = hashOf(brush);
  for (let from = 0; from < points.length; from += BLOCK * 3) {
    const to = from + BLOCK * 3;
    key = hashOf([key, points.slice(from, to)]);
    // dabs lie on the way from the point before, too
    blocks.push({ box: strokeBounds(points.slice(Math.max(0, from - 3), to), stroke.diameterPx), key });
  }
  return blocks;
});

/** Whether dabs within a box may change anything in a rectangle of a display level. @param around px of the full size that they reach farther */
function reaches(box: Block["box"], rect: Rectangle, level: number, around: number): boolean {
  const s = 2 ** level;
  // a disc is wider by half a sample of the level than it is at full size
  const by = around + s;
  return box.x1 + by >= rect.x * s && box.y1 + by >= rect.y * s && box.x0 - by <= (rect.x + rect.width) * s && box.y0 - by <= (rect.y + rect.height) * s;
}

/** Whether a stroke may change anything in a rectangle of a display level. @param around px of the full size that it reaches farther */
export const touches = (stroke: StrokeRecord, rect: Rectangle, level: number, around = 0): boolean =>
  blocksOf(stroke).some(({ box }) => reaches(box, rect, level, around));

/** Key of what a stroke does in a rectangle of a display level, or null where it does nothing there: the same while it goes on elsewhere. */
export const keyThere = (stroke: StrokeRecord, rect: Rectangle, level: number, around: number): string | null =>
  blocksOf(stroke).findLast(({ box }) => reaches(box, rect, level, around))?.key ?? null;

/** Coverage of a stroke that may still grow, with the points it was made of. */
interface Growing {
  points: readonly number[];
  dabs: number;
  coverage: Float32Array;
  limit: Float32Array | null;
}

/** One tile of what strokes make. What all strokes but the last make is kept by what they are, so that going back and on finds it again. */
class StrokeTile {
  private readonly name: string;

  constructor(
    private readonly ctx: EngineContext,
    private readonly ground: 0 | 1,
    private readonly level: number,
    private readonly tile: Rectangle,
    private readonly limit: EdgeLimit,
  ) {
    this.name = `strokes/${level}/${tile.x}/${tile.y}`;
  }

  /** Puts what strokes make into a plane of a rectangle, as far as it lies in this tile. */
  put(strokes: StrokeRecord[], out: Float32Array, rect: Rectangle): void {
    const { tile } = this;
    const { values, key } = this.before(strokes);
    const last = strokes[strokes.length - 1];
    const { coverage, limit } = this.grown(last, key);
    const [x0, x1] = [Math.max(rect.x, tile.x), Math.min(rect.x + rect.width, tile.x + TILE)];
    for (let y = Math.max(rect.y, tile.y); y < Math.min(rect.y + rect.height, tile.y + TILE); y++) {
      const [from, to] = [(y - tile.y) * TILE - tile.x + x0, (y - tile.y) * TILE - tile.x + x1];
      const row = out.subarray((y - rect.y) * rect.width + x0 - rect.x, (y - rect.y) * rect.width + x1 - rect.x);
      row.set(values.subarray(from, to));
      applyStroke(row, coverage.subarray(from, to), last.opacity, last.reveal, limit?.subarray(from, to));
    }
  }

  /** What all strokes but the last make, and its key. */
  private before(strokes: StrokeRecord[]): { values: Float32Array; key: string } {
    const keys = [String(this.ground)];
    for (const stroke of strokes.slice(0, -1)) keys.push(hashOf([keys[keys.length - 1], this.keyOf(stroke)]));
    let laid = keys.length - 1;
    let base = this.tileOf(keys[laid]);
    while (!base && laid > 0) base = this.tileOf(keys[--laid]);
    let values = base ?? new Float32Array(SAMPLES).fill(this.ground);
    for (; laid < keys.length - 1; laid++) {
      values = this.laidOver(values, strokes[laid], keys[laid]);
      this.ctx.cache.set(`${this.name}/${keys[laid + 1]}`, values, values.byteLength);
    }
    return { values, key: keys[laid] };
  }

  private tileOf(key: string): Float32Array | undefined {
    return this.ctx.cache.get(`${this.name}/${key}`);
  }

  private keyOf(stroke: StrokeRecord): string {
    return stroke.edgeTolerance > 0 ? `${hashOfFixed(stroke)}/${this.limit.key}` : hashOfFixed(stroke);
  }

  private laidOver(below: Float32Array, stroke: StrokeRecord, belowKey: string): Float32Array {
    const { coverage, limit } = this.grown(stroke, belowKey);
    const result = below.slice();
    applyStroke(result, coverage, stroke.opacity, stroke.reveal, limit);
    return result;
  }

  /** Coverage of a stroke; of one that only grew since it was last asked for, the dabs that are new are added. */
  private grown(stroke: StrokeRecord, belowKey: string): Growing {
    const { points, ...brush } = stroke;
    const edge = brush.edgeTolerance > 0 ? this.limit.key : "";
    const key = `${this.name}/grows/${hashOf([belowKey, brush, points[0], points[1], edge])}`;
    const known = this.ctx.cache.get<Growing>(key);
    const state: Growing =
      known && begins(points, known.points)
        ? known
        : { points: [], dabs: 0, coverage: new Float32Array(SAMPLES), limit: edge ? this.limit.of(stroke, this.tile) : null };
    this.stamp(state, stroke);
    state.points = points;
    this.ctx.cache.set(key, state, state.coverage.byteLength * (state.limit ? 2 : 1));
    return state;
  }

  /** Adds the dabs of a stroke that are not in its coverage yet. */
  private stamp(state: Growing, stroke: StrokeRecord): void {
    const { kernels } = this.ctx;
    const { x, y } = this.tile;
    const s = 2 ** this.level;
    const dabs = placeDabs(stroke.points, stroke.diameterPx, stroke.spacing);
    if (state.dabs * 3 >= dabs.length) return;
    const radius = stroke.diameterPx / 2 / s + 0.5;
    const hard = Math.max(0, Math.min(radius - 1, (stroke.diameterPx / 2 / s) * (1 - stroke.softness) - 0.5));
    kernels.withScope((scope) => {
      const at = scope.floats(SAMPLES + 16);
      const view = kernels.f32(at, SAMPLES);
      view.set(state.coverage);
      for (let i = state.dabs * 3; i < dabs.length; i += 3) {
        const [cx, cy] = [(dabs[i] + 0.5) / s - 0.5 - x, (dabs[i + 1] + 0.5) / s - 0.5 - y];
        if (cx < -radius || cy < -radius || cx > TILE + radius || cy > TILE + radius) continue;
        kernels.stampDisc(at, TILE, TILE, cx, cy, radius, hard, stroke.flow * dabs[i + 2]);
      }
      state.coverage.set(view);
    });
    state.dabs = dabs.length / 3;
  }
}

/** Whether a list begins with all of another. */
function begins(all: readonly number[], first: readonly number[]): boolean {
  if (all === first) return true;
  if (first.length > all.length) return false;
  for (let i = 0; i < first.length; i++) if (all[i] !== first[i]) return false;
  return true;
}
