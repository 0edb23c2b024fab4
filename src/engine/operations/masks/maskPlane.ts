import { hueBand } from "../../../core/adjust/colour";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { OKLAB, toOklab } from "../../../core/color/oklab";
import { CELL } from "../../../core/focus/sharpness";
import { intersect, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { aroundTransition } from "../../../core/masks/transition";
import { copyShared, cutOut, gridAround, sampleGrid } from "../../../core/raster/planeParts";
import { fillCells } from "../../../core/masks/cellRuns";
import { band, combine, ellipseMask, polygonMask, rampMask, smooth } from "../../../core/masks/shapes";
import type { Field } from "../../../core/raster/boxMean";
import type { Filters } from "../../../core/raster/filters";
import { blurReach } from "../../../core/raster/blur";
import { allParts, isPainted, type LayerRecord, type MaskGroup, type MaskPart } from "../../../document/records/layerTypes";
import type { StrokeRecord } from "../../../document/records/types";
import { layerOf, strokesOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { PreparedJob } from "../layers/PreparedJob";
import { maskKey } from "../layers/stackKeys";
import type { Scope } from "../../../kernels/Kernels";
import { each, type Planes } from "../frames/frameSamples";
import { readLayer, readMerge } from "../merge/readLayer";
import { findInMerge, foundMask } from "./foundMask";
import { stillMask } from "./stillMask";
import { strokePlane } from "./strokeTiles";

/** Variance of log2 light that counts as even where a mask follows edges, EV². Common practice, no source. */
const EVEN_VARIANCE = 0.02;
const DARKEST = 1e-6;
/** Sharpness is judged over so many times the size of the detail. Common practice, no source. */
const SHARPNESS_AROUND = 3;
/** Radius of the patch whose colour a stroke begins on, px. */
const SEED = 2;

/** The mask of a layer in a rectangle (inside the level), 0..1, row length rect.width. */
export function maskPlane(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, level: number, rect: Rectangle): Float32Array {
  return new MaskReader(ctx, job, level).layer(layer, rect);
}

const followEdges = (filters: Filters, guide: Field, mask: Float32Array, radius: number) =>
  filters.guidedFilter(guide, mask, radius, EVEN_VARIANCE).map((v) => Math.min(1, Math.max(0, v)));

/** Reads masks of one level; links are followed, and a link that leads back to where it came from adds nothing. */
class MaskReader {
  private readonly open = new Set<string>();

  constructor(
    private readonly ctx: EngineContext,
    private readonly job: PreparedJob,
    private readonly level: number,
  ) {}

  layer(layer: LayerRecord, rect: Rectangle): Float32Array {
    if (this.open.has(layer.id)) return new Float32Array(rect.width * rect.height);
    this.open.add(layer.id);
    try {
      const { mask } = layer;
      if (mask.parts.length === 0 || allParts(mask.parts).some(({ part }) => isPainted(part) || part.kind === "link")) return this.whole(layer, rect);
      const key = `still/${maskKey(this.job, layer, null)}/${this.level}`;
      const size = sizeAtLevel(this.job.inputs.width, this.job.inputs.height, this.level);
      return stillMask(this.ctx.cache, key, size, rect, (part) => this.whole(layer, part));
    } finally {
      this.open.delete(layer.id);
    }
  }

  private whole(layer: LayerRecord, rect: Rectangle): Float32Array {
    const { mask } = layer;
    const scale = 2 ** this.level;
    const sigma = mask.featherPx / scale;
    const radius = Math.round(mask.refinePx / scale);
    const result = this.widened(rect, blurReach(sigma) + 2 * radius, (wide) => {
      const values = this.parts(layer, mask.parts, mask.ground, wide);
      // what is even stays even, so only what surrounds a border is looked at
      this.nearBorders(values, wide, 2 * radius, (part, at) =>
        followEdges(this.ctx.filters, { width: at.width, height: at.height, data: this.logLight(null, at) }, part, radius),
      );
      this.nearBorders(values, wide, blurReach(sigma), (part, { width, height }) => this.ctx.filters.gaussianBlur({ width, height, data: part }, sigma));
      return values;
    });
    finishMask(result, mask);
    return result;
  }

  /** Parts one after the other on a ground. */
  private parts(layer: LayerRecord, parts: MaskPart[], ground: 0 | 1, rect: Rectangle): Float32Array {
    const values = new Float32Array(rect.width * rect.height).fill(ground);
    for (const [i, part] of parts.entries()) {
      if (part.kind === "painted") this.paint(layer, part, rect, values);
      else if (part.kind === "soften") this.soften(layer, part, rect, values, (wide) => this.parts(layer, parts.slice(0, i), ground, wide));
      else combine(values, this.part(layer, part, rect), part.combine);
    }
    return values;
  }

  /** Blurs a mask where strokes were painted. @param before gives the mask in a larger rectangle */
  private soften(
    layer: LayerRecord,
    part: MaskPart & { kind: "soften" },
    rect: Rectangle,
    values: Float32Array,
    before: (wide: Rectangle) => Float32Array,
  ): void {
    const strokes = this.strokesOn(layer, part);
    if (strokes.length === 0) return;
    const covered = this.painted(strokes, 0, rect);
    if (!covered.some((v) => v > 0)) return;
    const sigma = part.sigmaPx / 2 ** this.level;
    const blurred = this.widened(rect, blurReach(sigma), (wide) =>
      this.ctx.filters.gaussianBlur({ width: wide.width, height: wide.height, data: before(wide) }, sigma),
    );
    for (let i = 0; i < values.length; i++) values[i] += covered[i] * (blurred[i] - values[i]);
  }

  private strokesOn(layer: LayerRecord, part: MaskPart): StrokeRecord[] {
    return strokesOf(this.job.records, layer.id).filter((s) => s.partId === part.id);
  }

  /** What the strokes of a part make of a ground. */
  private painted(strokes: StrokeRecord[], ground: 0 | 1, rect: Rectangle): Float32Array {
    // what keeps to its side of an edge holds for this merge only
    const limit = { key: this.job.merge.key, of: (stroke: StrokeRecord, tile: Rectangle) => this.edgeLimit(stroke, tile) };
    return strokePlane(this.ctx, ground, strokes, this.level, rect, limit);
  }

  /** Strokes carry m to k·m + c, which two grounds tell. */
  private paint(layer: LayerRecord, part: MaskPart, rect: Rectangle, values: Float32Array): void {
    const strokes = this.strokesOn(layer, part);
    if (strokes.length === 0) return;
    const read = (ground: 0 | 1) => this.painted(strokes, ground, rect);
    const even = values.every((v) => v === values[0]) && (values[0] === 0 || values[0] === 1) ? (values[0] as 0 | 1) : null;
    if (even !== null) {
      values.set(read(even));
      return;
    }
    const [black, white] = [read(0), read(1)];
    for (let i = 0; i < values.length; i++) values[i] = black[i] + values[i] * (white[i] - black[i]);
  }

  /** All where the merge has the colour that the stroke began on, falling to nothing over half the tolerance beyond it. */
  private edgeLimit({ points, edgeTolerance }: StrokeRecord, tile: Rectangle): Float32Array {
    const { width, height } = this.job.inputs;
    const [sx, sy] = [Math.round(points[0]), Math.round(points[1])];
    const seed = new Float64Array(3);
    const around = intersect({ x: sx - SEED, y: sy - SEED, width: 2 * SEED + 1, height: 2 * SEED + 1 }, { x: 0, y: 0, width, height });
    const out = new Float32Array(tile.width * tile.height);
    if (around.width <= 0 || around.height <= 0) return out;
    // the seed is read at full size, so that it is the same at every level
    const [r, g, b] = this.light(null, around, false, 0).map((p) => p.reduce((sum, v) => sum + v, 0) / p.length);
    toOklab(r, g, b, seed);
    const inside = intersect(tile, { x: 0, y: 0, ...sizeAtLevel(width, height, this.level) });
    const [L, A, B] = this.oklab(null, inside);
    for (let y = 0, i = 0; y < inside.height; y++) {
      for (let x = 0; x < inside.width; x++, i++) {
        const apart = 100 * Math.sqrt((L[i] - seed[0]) ** 2 + (A[i] - seed[1]) ** 2 + (B[i] - seed[2]) ** 2);
        out[(inside.y - tile.y + y) * tile.width + inside.x - tile.x + x] = smooth(3 - (2 * apart) / edgeTolerance);
      }
    }
    return out;
  }

  private part(layer: LayerRecord, part: MaskPart, rect: Rectangle): Float32Array {
    const sigma = part.featherPx / 2 ** this.level;
    const values = this.widened(rect, blurReach(sigma), (wide) =>
      this.ctx.filters.gaussianBlur({ width: wide.width, height: wide.height, data: this.shape(layer, part, wide) }, sigma),
    );
    if (part.inverted) for (let i = 0; i < values.length; i++) values[i] = 1 - values[i];
    return values;
  }

  private shape(layer: LayerRecord, part: MaskPart, rect: Rectangle): Float32Array {
    const { level } = this;
    const out = new Float32Array(rect.width * rect.height);
    switch (part.kind) {
      case "ramp":
        rampMask([part.x0, part.y0], [part.x1, part.y1], level, rect, out);
        return out;
      case "ellipse":
        ellipseMask(part, level, rect, out);
        return out;
      case "polygon":
        polygonMask(part.points, level, rect, out);
        return out;
      case "light":
        return this.logLight(part.of, rect).map((v) => band(v, part.fromEv, part.toEv, part.softEv));
      case "hue": {
        const shareOf = hueBand(part.hueDeg, part.widthDeg, part.leastChroma);
        const [, a, b] = this.oklab(part.of, rect);
        return a.map((v, i) => shareOf(v, b[i]));
      }
      case "channel": {
        const plane = this.light(part.of, rect)[part.channel];
        const span = part.high - part.low || 1e-6;
        return plane.map((v) => smooth((encodeSrgb(Math.min(1, Math.max(0, v))) - part.low) / span));
      }
      case "difference": {
        const [a, b] = [part.aId, part.bId].map((id) => this.logLight(id, rect, true));
        return a.map((v, i) => smooth((Math.abs(v - b[i]) - part.fromEv) / Math.max(1e-6, part.softEv) + 1));
      }
      case "sharpness":
        return this.sharpness(part, rect);
      case "depth":
        return this.depth(part, rect);
      case "cells":
        return this.cells(part, rect);
      case "found":
        return foundMask(findInMerge(this.ctx, this.job, part), this.level, rect, this.logLight(null, rect));
      case "group":
        return this.parts(layer, part.parts, 0, rect);
      case "link": {
        const other = layerOf(this.job.records, part.layerId);
        return other ? this.layer(other, rect) : out;
      }
      case "painted":
      case "soften":
        return out;
    }
  }

  /** Light of the merge or of a placed frame; nothing where that frame is no longer placed. @param levelled at the reference's exposure */
  private light(of: string | null, rect: Rectangle, levelled = false, level = this.level): Float32Array[] {
    const n = rect.width * rect.height;
    const copies = (_scope: Scope, planes: Planes) => each(planes).map((at) => this.ctx.kernels.f32(at, n).slice());
    return this.planes(of, rect, levelled, level, copies, () => [0, 1, 2].map(() => new Float32Array(n)));
  }

  private planes<T>(of: string | null, rect: Rectangle, levelled: boolean, level: number, use: (scope: Scope, planes: Planes) => T, missing: () => T): T {
    const { inputs, merge } = this.job;
    const input = of === null ? null : inputs.frames.find((f) => f.frame.id === of);
    if (input === undefined) return missing();
    return this.ctx.kernels.withScope((scope) =>
      use(scope, input ? readLayer(scope, input, level, rect, levelled ? -input.relativeEv : 0) : readMerge(scope, merge, level, rect)),
    );
  }

  private oklab(of: string | null, rect: Rectangle): Float32Array[] {
    const n = rect.width * rect.height;
    const convert = (scope: Scope, planes: Planes) => {
      const { into, out } = OKLAB.in;
      this.ctx.kernels.run("oklabSamples", [...each(planes), scope.matrix(into), scope.matrix(out)], 0, planes.length, 16384);
      return each(planes).map((at) => this.ctx.kernels.f32(at, n).slice());
    };
    return this.planes(of, rect, false, this.level, convert, () => [0, 1, 2].map(() => new Float32Array(n)));
  }

  private logLight(of: string | null, rect: Rectangle, levelled = false): Float32Array {
    const n = rect.width * rect.height;
    return this.planes(
      of,
      rect,
      levelled,
      this.level,
      (scope, planes) => {
        const out = scope.floats(planes.length + 16);
        this.ctx.kernels.run("logLightSamples", [...each(planes), out, DARKEST], 0, planes.length, 16384);
        return this.ctx.kernels.f32(out, n).slice();
      },
      () => new Float32Array(n).fill(Math.log2(DARKEST)),
    );
  }

  /** Cells as they are, between their middles linear. */
  private cells({ cellPx, runs }: MaskPart & { kind: "cells" }, rect: Rectangle): Float32Array {
    const { width, height } = this.job.inputs;
    const grid = { x: 0, y: 0, width: Math.ceil(width / cellPx), height: Math.ceil(height / cellPx) };
    return sampleGrid(fillCells(runs, grid), grid.width, grid.height, 2 ** this.level / cellPx, rect);
  }

  /** Root mean square, around a place, of log light less its blur: detail up to a size. Judged at the level shown, but no finer than the size. */
  private sharpness(part: MaskPart & { kind: "sharpness" }, rect: Rectangle): Float32Array {
    const sigma = Math.max(0.5, part.sizePx / 2 ** this.level);
    const around = SHARPNESS_AROUND * sigma;
    return this.widened(rect, blurReach(sigma) + blurReach(around), (wide) => {
      const size = { width: wide.width, height: wide.height };
      const light = this.logLight(part.of, wide);
      const even = this.ctx.filters.gaussianBlur({ ...size, data: light }, sigma);
      const energy = this.ctx.filters.gaussianBlur({ ...size, data: light.map((v, i) => (v - even[i]) ** 2) }, around);
      return energy.map((v) => smooth((Math.sqrt(Math.max(0, v)) - part.fromEv) / Math.max(1e-6, part.softEv) + 1));
    });
  }

  /** Which frame of a focus merge is sharpest, between its cells linear; nothing where the merge has no depth. */
  private depth(part: MaskPart & { kind: "depth" }, rect: Rectangle): Float32Array {
    const { depth } = this.job.merge;
    if (!depth) return new Float32Array(rect.width * rect.height);
    const { width, height } = depth.spec;
    const step = 2 ** this.level / CELL;
    const held = gridAround(depth.spec, step, rect);
    const index = new Float32Array(held.width * held.height);
    depth.read(0, 0, held.x, held.y, held.width, held.height, index);
    return sampleGrid(index, width, height, step, rect, held).map((v) => band(v + 1, part.from, part.to, part.soft));
  }

  /** Changes a plane in place by what looks `reach` samples around itself and leaves what is even. @param change gives a part of the plane anew */
  private nearBorders(values: Float32Array, rect: Rectangle, reach: number, change: (part: Float32Array, at: Rectangle) => Float32Array): void {
    const near = reach > 0 ? aroundTransition(values, rect, reach) : null;
    if (!near) return;
    const { changed, needed } = near;
    const part = change(cutOut(values, rect, needed), needed);
    copyShared(values, rect, cutOut(part, needed, changed), changed);
  }

  /** Computes on a rectangle made larger, as far as the picture goes, and cuts the rectangle out. */
  private widened(rect: Rectangle, by: number, compute: (wide: Rectangle) => Float32Array): Float32Array {
    const wide = widen(rect, by, sizeAtLevel(this.job.inputs.width, this.job.inputs.height, this.level));
    const values = compute(wide);
    return cutOut(values, wide, rect);
  }
}

/** Levels, turning over and density of the whole, in place. */
function finishMask(values: Float32Array, { low, high, inverted, density }: MaskGroup): void {
  if (low === 0 && high === 1 && !inverted && density === 1) return;
  const span = high - low || 1e-6;
  for (let i = 0; i < values.length; i++) {
    const v = Math.min(1, Math.max(0, (values[i] - low) / span));
    values[i] = density * (inverted ? 1 - v : v);
  }
}
