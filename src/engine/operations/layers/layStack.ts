import type { Where } from "../../../core/adjust/spatial";
import { grain } from "../../../core/adjust/grain";
import { BLEND_MODES } from "../../../core/blend/blendModes";
import { REC2020, REC709, rgbToRgb } from "../../../core/color/primaries";
import { decodeSrgb } from "../../../core/color/srgbCurve";
import { atLevel, invert, project, transform } from "../../../core/geometry/matrix3";
import { blurReach } from "../../../core/raster/blur";
import { rampMask } from "../../../core/masks/shapes";
import { sizeAtLevel, widen } from "../../../core/geometry/rectangle";
import { aroundTransition } from "../../../core/masks/transition";
import { copyShared, cutInto, cutOut } from "../../../core/raster/planeParts";
import { movedMatrix } from "../../../document/outputGeometry";
import { UNMOVED, type LayerRecord, type Moved } from "../../../document/records/layerTypes";
import { stackReach } from "./layerReach";
import { childrenOf, layersOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { PreparedJob } from "./PreparedJob";
import { allocatePlanes, each, type Planes } from "../frames/frameSamples";
import { readLayer, readMerge, type ShownFrame } from "../merge/readLayer";
import { resample } from "../frames/resample";
import { applyAdjustment } from "../../../kinds/adjustments/operations";
import { maskPlane } from "../masks/maskPlane";
import { retouched, type Retouch } from "../retouch/retouch";

/** Lays the layers of a job over the planes of a rectangle, bottom first, in place. @param from @param to among those in no group */
export function layStack(ctx: EngineContext, job: PreparedJob, where: Where, planes: Planes, from = 0, to = Infinity): void {
  const byParent = new Map<string | null, LayerRecord[]>();
  for (const layer of layersOf(job.records)) byParent.set(layer.parentId, [...(byParent.get(layer.parentId) ?? []), layer]);
  byParent.set(null, (byParent.get(null) ?? []).slice(from, to));
  new Stack(ctx, job, where, byParent).lay(null, { planes, alpha: 0 });
}

/** Planes and where they are something: an alpha plane, or 0 where they are everywhere. */
interface Ground {
  planes: Planes;
  alpha: number;
}

/** What a layer shows, and how much of it there is: an alpha plane. */
interface Top {
  planes: Planes;
  alpha: number;
  /** changes what is there and adds nothing where there is nothing */
  changes: boolean;
}

class Stack {
  private readonly n: number;

  constructor(
    private readonly ctx: EngineContext,
    private readonly job: PreparedJob,
    private readonly where: Where,
    private readonly byParent: Map<string | null, LayerRecord[]>,
  ) {
    this.n = where.rect.width * where.rect.height;
  }

  lay(parentId: string | null, ground: Ground): void {
    const layers = this.byParent.get(parentId) ?? [];
    for (let i = 0; i < layers.length; i++) {
      const clipped: LayerRecord[] = [];
      while (layers[i + 1]?.clipped) clipped.push(layers[++i]);
      const base = layers[i - clipped.length];
      // a clipped layer at the very bottom has nothing to be clipped to, and lies as any other
      this.layOne(base, clipped, ground);
    }
  }

  private layOne(layer: LayerRecord, clipped: LayerRecord[], ground: Ground): void {
    if (!layer.visible || layer.opacity === 0) return;
    const { kernels } = this.ctx;
    kernels.withScope((scope) => {
      const mask = maskPlane(this.ctx, this.job, layer, this.where.level, this.where.rect);
      if (mask.every((v) => v === 0)) return;
      const top = this.top(layer, ground, scope);
      if (!top) return;
      // all that is clipped to it lies on it alone, as if it were everywhere
      for (const other of clipped) this.layOne({ ...other, clipped: false }, [], { planes: top.planes, alpha: 0 });
      if (layer.seamPx > 0 && layer.mode === "normal" && !ground.alpha && !top.changes) {
        const alpha = kernels.f32(top.alpha, this.n);
        this.join(
          ground.planes,
          top.planes,
          mask.map((v, i) => v * alpha[i] * layer.opacity),
          layer.seamPx,
        );
        return;
      }
      const own = scope.floats(top.planes.length + 16);
      kernels.f32(own, top.planes.length).fill(0);
      kernels.f32(own, this.n).set(mask);
      kernels.run("multiplySamples", [own, top.alpha], 0, top.planes.length, 65536);
      this.blend(layer, top.planes, own, top.changes ? { ...ground, alpha: 0 } : ground);
    });
  }

  /**
   * Lays a picture over another so that its border does not show: what is coarser than a width is mixed over that width, what is finer at the
   * border itself; on the root of light, as panoramas are joined. @see Burt, Adelson 1983, here with two bands in place of a pyramid
   */
  private join(ground: Planes, top: Planes, mask: Float32Array, seamPx: number): void {
    const { kernels } = this.ctx;
    const { level, rect } = this.where;
    for (const at of [...each(ground), ...each(top)]) kernels.run("rootSamples", [at], 0, ground.length, 65536);
    const sigma = seamPx / 2 ** level;
    // away from its borders the mask is its own blur, and nothing is to be added
    const near = aroundTransition(mask, rect, blurReach(sigma));
    const blur = (plane: Float32Array) => {
      const { changed, needed } = near!;
      return cutOut(this.ctx.filters.gaussianBlur({ width: needed.width, height: needed.height, data: cutOut(plane, rect, needed) }, sigma), needed, changed);
    };
    const over = near && cutOut(mask, rect, near.changed);
    const wide = near && blur(mask);
    each(ground).forEach((at, c) => {
      const [below, above] = [kernels.f32(at, this.n), kernels.f32(each(top)[c], this.n)];
      const difference = above.map((v, i) => v - below[i]);
      for (let i = 0; i < this.n; i++) below[i] += mask[i] * difference[i];
      if (!near || !over || !wide) return;
      const { changed } = near;
      const mixed = cutOut(below, rect, changed).slice();
      blur(difference).forEach((coarse, i) => (mixed[i] += (wide[i] - over[i]) * coarse));
      copyShared(below, rect, mixed, changed);
    });
    for (const at of each(ground)) kernels.run("squareSamples", [at], 0, ground.length, 65536);
  }

  private blend(layer: LayerRecord, top: Planes, alpha: number, { planes, alpha: below }: Ground): void {
    const mode = BLEND_MODES.indexOf(layer.mode);
    this.ctx.kernels.run("layOver", [...each(planes), below, ...each(top), alpha, layer.opacity, mode], 0, planes.length, 65536);
  }

  /** What a layer shows here; null where there is nothing to show. */
  private top(layer: LayerRecord, ground: Ground, scope: Scope): Top | null {
    const { content } = layer;
    const { level, rect } = this.where;
    switch (content.type) {
      case "frame": {
        const input = this.job.inputs.frames.find((f) => f.frame.id === content.frameId);
        const shown = input ?? this.job.pictures.get(content.frameId);
        if (!shown) return null;
        const alpha = this.everywhere(scope);
        // a frame of a panorama is nothing where it does not look
        if (input?.projected) this.ctx.kernels.f32(alpha, this.n).set(input.projected.coverage(level, rect));
        if (!input || content.moved)
          return { planes: this.movedFrame(shown, content.exposureEv, content.moved ?? UNMOVED, alpha, scope), alpha, changes: false };
        return { planes: readLayer(scope, input, level, rect, content.exposureEv), alpha, changes: false };
      }
      case "merge":
        return { planes: readMerge(scope, this.job.merge, level, rect), alpha: this.everywhere(scope), changes: false };
      case "below":
        return { planes: this.copy(ground.planes, scope), alpha: this.everywhere(scope), changes: true };
      case "retouch": {
        const planes = this.copy(ground.planes, scope);
        this.retouch(layer, content, planes);
        return { planes, alpha: this.everywhere(scope), changes: true };
      }
      case "adjustment": {
        const planes = this.copy(ground.planes, scope);
        const { cache, filters } = this.ctx;
        applyAdjustment({ scope, planes, where: this.where, cache, filters }, content.adjustment, content.values);
        return { planes, alpha: this.everywhere(scope), changes: true };
      }
      case "fill":
        return { planes: this.fill(content, scope), alpha: this.everywhere(scope), changes: false };
      case "group": {
        const planes = allocatePlanes(scope, this.n);
        const alpha = scope.floats(planes.length + 16);
        for (const at of [...each(planes), alpha]) this.ctx.kernels.f32(at, planes.length).fill(0);
        this.lay(layer.id, { planes, alpha });
        return { planes, alpha, changes: false };
      }
    }
  }

  /** Mends what lies below a layer, which is read wherever it is taken from. */
  private retouch(layer: LayerRecord, content: Retouch, planes: Planes): void {
    const { ctx, job } = this;
    const siblings = childrenOf(job.records, layer.parentId);
    const below = siblings.slice(
      0,
      siblings.findIndex((l) => l.id === layer.id),
    );
    const { level, rect, width, height } = this.where;
    retouched(ctx, job, layer, content, { level, rect, below }, planes, (asked, scope) => {
      const wide = widen(asked, stackReach(job.records, level, below), sizeAtLevel(width, height, level));
      const n = wide.width * wide.height;
      const read = layer.parentId === null ? readMerge(scope, job.merge, level, wide) : allocatePlanes(scope, n);
      const lower = new Map(this.byParent).set(layer.parentId, below);
      const alpha = layer.parentId === null ? 0 : scope.floats(read.length + 16);
      if (alpha) for (const at of [...each(read), alpha]) ctx.kernels.f32(at, read.length).fill(0);
      new Stack(ctx, job, { ...this.where, rect: wide }, lower).lay(layer.parentId, { planes: read, alpha });
      if (wide.width === asked.width && wide.height === asked.height) return read;
      const out = allocatePlanes(scope, asked.width * asked.height);
      each(out).forEach((at, c) => cutInto(ctx.kernels.f32(at, asked.width * asked.height), ctx.kernels.f32(each(read)[c], n), wide, asked));
      return out;
    });
  }

  /** A frame put elsewhere; where it does not lie there is nothing. It is read at the level that comes nearest to the scale it is shown at. */
  private movedFrame(shown: ShownFrame, exposureEv: number, moved: Moved, alpha: number, scope: Scope): Planes {
    const { level, rect, width, height } = this.where;
    const { spec } = shown.file;
    const toOwn = invert(movedMatrix(moved, { width, height }, spec));
    const middle = [rect.x + rect.width / 2, rect.y + rect.height / 2].map((v) => v * 2 ** level);
    const across = project(toOwn, middle[0] + 1, middle[1]).map((v, i) => v - project(toOwn, middle[0], middle[1])[i]);
    const own = Math.max(0, Math.min(spec.levels - 1, Math.round(level + Math.log2(Math.hypot(across[0], across[1])))));
    const matrix = atLevel(toOwn, level, own);
    const bounds = sizeAtLevel(spec.width, spec.height, own);
    const covers = this.ctx.kernels.f32(alpha, this.n);
    covers.forEach((_, i) => {
      const [x, y] = project(matrix, rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width));
      if (!(x >= -0.5 && y >= -0.5 && x <= bounds.width - 0.5 && y <= bounds.height - 0.5)) covers[i] = 0;
    });
    return resample(scope, matrix, rect, bounds, (window) => readLayer(scope, shown, own, window, exposureEv));
  }

  private everywhere(scope: Scope): number {
    const length = Math.ceil(this.n / 8) * 8;
    const alpha = scope.floats(length + 16);
    this.ctx.kernels.f32(alpha, length).fill(1);
    return alpha;
  }

  private copy(planes: Planes, scope: Scope): Planes {
    const copy = allocatePlanes(scope, this.n);
    each(copy).forEach((at, c) => this.ctx.kernels.f32(at, planes.length).set(this.ctx.kernels.f32(each(planes)[c], planes.length)));
    return copy;
  }

  /** One colour or a ramp of two, mixed as they are encoded, with grain. */
  private fill(content: LayerRecord["content"] & { type: "fill" }, scope: Scope): Planes {
    const { level, rect } = this.where;
    const planes = allocatePlanes(scope, this.n);
    const views = each(planes).map((at) => this.ctx.kernels.f32(at, this.n));
    const [from, to] = [content, content.ramp ?? content].map((c) => [c.red, c.green, c.blue]);
    const put = (i: number, encoded: number[]) => {
      const light = transform(FROM_SRGB, encoded.map(decodeSrgb));
      views.forEach((view, c) => (view[i] = Math.max(0, light[c])));
    };
    if (!content.ramp && content.grain === 0) {
      put(0, from);
      views.forEach((view) => view.fill(view[0]));
      return planes;
    }
    const along = new Float32Array(this.n);
    if (content.ramp) rampMask([content.ramp.x0, content.ramp.y0], [content.ramp.x1, content.ramp.y1], level, rect, along);
    const rough = content.grain > 0 ? grain(content.grainPx, level, rect) : null;
    for (let i = 0; i < this.n; i++) {
      const off = rough ? content.grain * rough[i] : 0;
      put(
        i,
        from.map((v, c) => Math.min(1, Math.max(0, v + (to[c] - v) * along[i] + off))),
      );
    }
    return planes;
  }
}

const FROM_SRGB = rgbToRgb(REC709, REC2020);
