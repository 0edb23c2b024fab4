import type { TileRegion } from "../../../core/adjust/spatial";
import { BLEND_MODES } from "../../../core/blend/blendModes";
import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { aroundTransition } from "../../../core/masks/transition";
import { blurReach } from "../../../core/raster/blur";
import { copyShared, cutOut } from "../../../core/raster/planeParts";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { childrenOf, layerOf, layersOf } from "../../../document/selectors";
import { operationOf } from "../../../kinds/contents/operations";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, cutPlanes, each, type Planes } from "../frames/frameSamples";
import { maskPlane } from "../masks/maskPlane";
import { readMerge } from "../merge/readLayer";
import { stackReach } from "./layerReach";
import type { PreparedJob } from "./PreparedJob";
import { layersBelow } from "./stackKeys";
import type { Backdrop, StackSite } from "./StackSite";

/** Lays the layers of a job over the planes of a rectangle, bottom first, in place. @param from @param to among those in no group */
export function layStack(ctx: EngineContext, job: PreparedJob, where: TileRegion, planes: Planes, from = 0, to = Infinity): void {
  const byParent = grouped(job.records);
  byParent.set(null, (byParent.get(null) ?? []).slice(from, to));
  new Stack(ctx, job, where, byParent).lay(null, { planes, alpha: 0 });
}

class Stack implements StackSite {
  readonly n: number;

  constructor(
    readonly ctx: EngineContext,
    readonly job: PreparedJob,
    readonly where: TileRegion,
    private readonly byParent: Map<string | null, LayerRecord[]>,
  ) {
    this.n = where.rect.width * where.rect.height;
  }

  lay(parentId: string | null, backdrop: Backdrop): void {
    const layers = this.byParent.get(parentId) ?? [];
    for (let i = 0; i < layers.length; i++) {
      const clipped: LayerRecord[] = [];
      while (layers[i + 1]?.clipped) clipped.push(layers[++i]);
      const base = layers[i - clipped.length];
      // a clipped layer at the very bottom has nothing to be clipped to, and lies as any other
      this.layOne(base, clipped, backdrop);
    }
  }

  private layOne(layer: LayerRecord, clipped: LayerRecord[], backdrop: Backdrop): void {
    if (!layer.visible || layer.opacity === 0) return;
    const { kernels } = this.ctx;
    kernels.withScope((scope) => {
      const direct = clipped.length === 0 && showsWhole(layer);
      const mask = direct ? null : maskPlane(this.ctx, this.job, layer, this.where.level, this.where.rect);
      if (mask?.every((v) => v === 0)) return;
      const top = operationOf(layer.content)(this, layer.content, layer, { ...backdrop, direct }, scope);
      if (!top || top.planes === backdrop.planes) return;
      // all that is clipped to it lies on it alone, as if it were everywhere
      for (const other of clipped) this.layOne({ ...other, clipped: false }, [], { planes: top.planes, alpha: 0 });
      if (layer.seamPx > 0 && layer.mode === "normal" && !backdrop.alpha && !top.changes) {
        const alpha = kernels.f32(top.alpha, this.n);
        this.join(
          backdrop.planes,
          top.planes,
          alpha.map((v, i) => v * (mask?.[i] ?? 1) * layer.opacity),
          layer.seamPx,
        );
        return;
      }
      const own = scope.floats(top.planes.length + 16);
      kernels.f32(own, top.planes.length).fill(0);
      if (mask) kernels.f32(own, this.n).set(mask);
      else kernels.f32(own, this.n).fill(1);
      kernels.run("multiplySamples", [own, top.alpha], 0, top.planes.length, 65536);
      this.blend(layer, top.planes, own, top.changes ? { ...backdrop, alpha: 0 } : backdrop);
    });
  }

  /**
   * Lays a picture over another so that its border does not show: what is coarser than a width is mixed over that width, what is finer at the
   * border itself; on the root of light, as panoramas are joined. @see Burt, Adelson 1983, here with two bands in place of a pyramid
   */
  private join(backdrop: Planes, top: Planes, mask: Float32Array, seamPx: number): void {
    const { kernels } = this.ctx;
    const { level, rect } = this.where;
    for (const at of [...each(backdrop), ...each(top)]) kernels.run("rootSamples", [at], 0, backdrop.length, 65536);
    const sigma = seamPx / 2 ** level;
    // away from its borders the mask is its own blur, and nothing is to be added
    const near = aroundTransition(mask, rect, blurReach(sigma));
    const blur = (plane: Float32Array) => {
      const { changed, needed } = near!;
      return cutOut(this.ctx.filters.gaussianBlur({ width: needed.width, height: needed.height, data: cutOut(plane, rect, needed) }, sigma), needed, changed);
    };
    const over = near && cutOut(mask, rect, near.changed);
    const wide = near && blur(mask);
    each(backdrop).forEach((at, c) => {
      const [below, above] = [kernels.f32(at, this.n), kernels.f32(each(top)[c], this.n)];
      const difference = above.map((v, i) => v - below[i]);
      for (let i = 0; i < this.n; i++) below[i] += mask[i] * difference[i];
      if (!near || !over || !wide) return;
      const { changed } = near;
      const mixed = cutOut(below, rect, changed).slice();
      blur(difference).forEach((coarse, i) => (mixed[i] += (wide[i] - over[i]) * coarse));
      copyShared(below, rect, mixed, changed);
    });
    for (const at of each(backdrop)) kernels.run("squareSamples", [at], 0, backdrop.length, 65536);
  }

  private blend(layer: LayerRecord, top: Planes, alpha: number, { planes, alpha: below }: Backdrop): void {
    const mode = BLEND_MODES.indexOf(layer.mode);
    this.ctx.kernels.run(
      "layOver",
      [...each(planes), below, ...each(top), alpha, layer.opacity, mode, layer.blendIn === "light" ? 1 : 0],
      0,
      planes.length,
      65536,
    );
  }

  below(layer: LayerRecord): (rect: Rectangle, scope: Scope) => Planes {
    const { ctx, job } = this;
    const layers = layersBelow(job.records, layer);
    const { level, width, height } = this.where;
    return (asked, scope) => {
      const wide = widen(asked, stackReach(job.records, level, layers), sizeAtLevel(width, height, level));
      const lower = new Stack(ctx, job, { ...this.where, rect: wide }, new Map(this.byParent).set(layer.parentId, layers));
      const backdrop = lower.begun(layer.parentId, scope);
      lower.lay(layer.parentId, backdrop);
      return cutPlanes(scope, backdrop.planes, wide, asked);
    };
  }

  /** What the layers of a group are laid on: the merge, what lies below a group that lets through, or nothing. */
  private begun(groupId: string | null, scope: Scope): Backdrop {
    const { ctx, job, where } = this;
    const group = groupId === null ? undefined : layerOf(job.records, groupId);
    if (!group) return { planes: readMerge(scope, job.merge, where.level, where.rect), alpha: 0 };
    if (group.content.type === "group" && group.content.through) return { planes: this.below(group)(where.rect, scope), alpha: 0 };
    const planes = allocatePlanes(scope, this.n);
    for (const at of each(planes)) ctx.kernels.f32(at, planes.length).fill(0);
    return { planes, alpha: this.nowhere(scope) };
  }

  everywhere(scope: Scope, backdrop?: Backdrop): number {
    return backdrop?.direct ? 0 : this.alpha(scope, 1);
  }

  nowhere(scope: Scope): number {
    return this.alpha(scope, 0);
  }

  private alpha(scope: Scope, value: number): number {
    const length = Math.ceil(this.n / 8) * 8;
    const at = scope.floats(length + 16);
    this.ctx.kernels.f32(at, length).fill(value);
    return at;
  }

  own({ planes, direct }: Backdrop, scope: Scope): Planes {
    if (direct) return planes;
    const copy = allocatePlanes(scope, this.n);
    each(copy).forEach((at, c) => this.ctx.kernels.f32(at, planes.length).set(this.ctx.kernels.f32(each(planes)[c], planes.length)));
    return copy;
  }
}

/** Whether a layer takes the place of all that lies below it. */
function showsWhole({ opacity, mode, seamPx, mask }: LayerRecord): boolean {
  const { base, inverted, parts, low, high, density } = mask;
  return opacity === 1 && mode === "normal" && seamPx === 0 && parts.length === 0 && base === 1 && !inverted && low === 0 && high === 1 && density === 1;
}

/** What lies below a layer in its group, in a rectangle of a level. */
export function readBelow(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, level: number, rect: Rectangle, scope: Scope): Planes {
  const { width, height } = job.inputs;
  return new Stack(ctx, job, { level, rect, width, height }, grouped(job.records)).below(layer)(rect, scope);
}

function grouped(records: Records): Map<string | null, LayerRecord[]> {
  const byParent = new Map<string | null, LayerRecord[]>([[null, childrenOf(records, null)]]);
  for (const layer of layersOf(records)) if (layer.parentId !== null) byParent.set(layer.parentId, [...(byParent.get(layer.parentId) ?? []), layer]);
  return byParent;
}
