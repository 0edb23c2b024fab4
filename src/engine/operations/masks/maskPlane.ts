import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { combine } from "../../../core/masks/shapes";
import { aroundTransition } from "../../../core/masks/transition";
import { blurReach } from "../../../core/raster/blur";
import type { Plane } from "../../../core/raster/raster";
import type { Filters } from "../../../core/raster/filters";
import { copyShared, cutOut } from "../../../core/raster/planeParts";
import type { LayerRecord, MaskGroup } from "../../../document/records/layerTypes";
import { operationOf } from "../../../kinds/maskParts/operations";
import { allParts, isPainted, type MaskPart } from "../../../kinds/maskParts/records";
import type { EngineContext } from "../../EngineContext";
import type { PreparedJob } from "../layers/PreparedJob";
import { maskKey } from "../layers/stackKeys";
import { MaskPictures } from "./MaskPictures";
import type { MaskSite } from "./MaskSite";
import { stillMask } from "./stillMask";

/** Variance of log2 light that counts as even where a mask follows edges, EV². Common practice, no source. */
const EVEN_VARIANCE = 0.02;

/** The mask of a layer in a rectangle (inside the level), 0..1, row length rect.width. */
export function maskPlane(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, level: number, rect: Rectangle): Float32Array {
  return new LayerMask(ctx, job, layer, level, new MaskPictures(ctx, job, level), new Set()).read(rect);
}

const followEdges = (filters: Filters, guide: Plane, mask: Float32Array, radius: number) =>
  filters.guidedFilter(guide, mask, radius, EVEN_VARIANCE).map((v) => Math.min(1, Math.max(0, v)));

/** Reads the mask of a layer at one level; links are followed, and a link that leads back to where it came from adds nothing. */
class LayerMask implements MaskSite {
  readonly light: MaskPictures["light"];
  readonly oklab: MaskPictures["oklab"];
  readonly logLight: MaskPictures["logLight"];

  constructor(
    readonly ctx: EngineContext,
    readonly job: PreparedJob,
    readonly layer: LayerRecord,
    readonly level: number,
    private readonly pictures: MaskPictures,
    /** layers whose masks are being read */
    private readonly open: Set<string>,
  ) {
    this.light = pictures.light.bind(pictures);
    this.oklab = pictures.oklab.bind(pictures);
    this.logLight = pictures.logLight.bind(pictures);
  }

  read(rect: Rectangle): Float32Array {
    const { layer, open } = this;
    if (open.has(layer.id)) return new Float32Array(rect.width * rect.height);
    open.add(layer.id);
    try {
      const { parts } = layer.mask;
      // strokes have tiles of their own, and what a link shows changes without this mask
      if (parts.length === 0 || allParts(parts).some(({ part }) => isPainted(part) || part.kind === "link")) return this.whole(rect);
      const key = `still/${maskKey(this.job, layer, null)}/${this.level}`;
      const size = sizeAtLevel(this.job.inputs.width, this.job.inputs.height, this.level);
      return stillMask(this.ctx.cache, key, size, rect, (part) => this.whole(part));
    } finally {
      open.delete(layer.id);
    }
  }

  mask(layer: LayerRecord, rect: Rectangle): Float32Array {
    return new LayerMask(this.ctx, this.job, layer, this.level, this.pictures, this.open).read(rect);
  }

  parts(parts: MaskPart[], rect: Rectangle): Float32Array {
    return this.onBase(parts, 0, rect);
  }

  widened(rect: Rectangle, by: number, compute: (wide: Rectangle) => Float32Array): Float32Array {
    const wide = widen(rect, by, sizeAtLevel(this.job.inputs.width, this.job.inputs.height, this.level));
    return cutOut(compute(wide), wide, rect);
  }

  private whole(rect: Rectangle): Float32Array {
    const { mask } = this.layer;
    const scale = 2 ** this.level;
    const sigma = mask.featherPx / scale;
    const radius = Math.round(mask.refinePx / scale);
    const result = this.widened(rect, blurReach(sigma) + 2 * radius, (wide) => {
      const values = this.onBase(mask.parts, mask.base, wide);
      // what is even stays even, so only what surrounds a border is looked at
      nearBorders(values, wide, 2 * radius, (part, at) =>
        followEdges(this.ctx.filters, { width: at.width, height: at.height, data: this.logLight(null, at) }, part, radius),
      );
      nearBorders(values, wide, blurReach(sigma), (part, { width, height }) => this.ctx.filters.gaussianBlur({ width, height, data: part }, sigma));
      return values;
    });
    finishMask(result, mask);
    return result;
  }

  /** Parts one after the other on a base. */
  private onBase(parts: MaskPart[], base: 0 | 1, rect: Rectangle): Float32Array {
    const values = new Float32Array(rect.width * rect.height).fill(base);
    for (const [i, part] of parts.entries()) {
      const { over } = operationOf(part);
      if (over) over(this, part, rect, values, (wide) => this.onBase(parts.slice(0, i), base, wide));
      else combine(values, this.shape(part, rect), part.combine);
    }
    return values;
  }

  /** A part by itself, feathered and inverted. */
  private shape(part: MaskPart, rect: Rectangle): Float32Array {
    const sigma = part.featherPx / 2 ** this.level;
    const values = this.widened(rect, blurReach(sigma), (wide) => {
      const data = operationOf(part).shape?.(this, part, wide) ?? new Float32Array(wide.width * wide.height);
      return this.ctx.filters.gaussianBlur({ width: wide.width, height: wide.height, data }, sigma);
    });
    if (part.inverted) for (let i = 0; i < values.length; i++) values[i] = 1 - values[i];
    return values;
  }
}

/** Changes a plane in place by what looks `reach` samples around itself and leaves what is even. @param change gives a part of the plane anew */
function nearBorders(values: Float32Array, rect: Rectangle, reach: number, change: (part: Float32Array, at: Rectangle) => Float32Array): void {
  const near = reach > 0 ? aroundTransition(values, rect, reach) : null;
  if (!near) return;
  const { changed, needed } = near;
  const part = change(cutOut(values, rect, needed), needed);
  copyShared(values, rect, cutOut(part, needed, changed), changed);
}

/** Levels, inversion and density of the whole, in place. */
function finishMask(values: Float32Array, { low, high, inverted, density }: MaskGroup): void {
  if (low === 0 && high === 1 && !inverted && density === 1) return;
  const span = high - low || 1e-6;
  for (let i = 0; i < values.length; i++) {
    const v = Math.min(1, Math.max(0, (values[i] - low) / span));
    values[i] = density * (inverted ? 1 - v : v);
  }
}
