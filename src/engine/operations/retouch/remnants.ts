import { intersect, levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { blurReach } from "../../../core/raster/blur";
import { cutOut } from "../../../core/raster/planeParts";
import { findRemnants } from "../../../core/retouch/findRemnants";
import { updateLayer } from "../../../document/layerEdits";
import { freshMask, type LayerRecord } from "../../../document/records/layerTypes";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { composedLight } from "../layers/composedLight";
import type { PreparedJob } from "../layers/PreparedJob";
import { maskKey, stackKey } from "../layers/stackKeys";
import { maskPlane } from "../masks/maskPlane";

/** Something left where a layer took a thing away, px of the reference. */
export interface Remnant {
  place: Rectangle;
  areaPx: number;
  contrastEv: number;
}

export interface RemnantAudit {
  remnants: Remnant[];
  /** what was looked at was compared with it */
  compared: "frame" | "surroundings";
}

/** What a removal is compared with: the frame that a layer shows, laid everywhere, or an even course of the picture itself. */
interface Comparison {
  level: number;
  covered: Uint8Array;
  /** 1 where something may be left over */
  near: Uint8Array;
  /** difference of exposure around the area between the picture and the frame it is compared with, EV; null where that is its own even course */
  evenEv: number | null;
  /** of the even course, px at full size */
  sigmaPx: number;
}

const AUDIT_SIDE = 1400;
/** How far around an area remnants are looked for, as a share of its size, and least samples. */
const AROUND = 0.35;
const LEAST_AROUND = 16;
const MOST_REMNANTS = 60;

const REMNANTS_VERSION = 1;

/** Kept, since a view asks tile by tile. */
function comparisonOf(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<Comparison | null> {
  const key = contentKey("remnants", REMNANTS_VERSION, [stackKey(job, null), layer.content, maskKey(job, layer, null)]);
  return ctx.cache.takeLong(key, () => compareWith(ctx, job, layer, task), bytesHeld);
}

async function compareWith(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<Comparison | null> {
  const level = levelOfSide(job.inputs, AUDIT_SIDE);
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const whole = { x: 0, y: 0, ...size };
  const covered = Uint8Array.from(maskPlane(ctx, job, layer, level, whole), (v) => (v > 0.5 ? 1 : 0));
  const count = covered.reduce((sum, v) => sum + v, 0);
  if (count === 0 || count === covered.length) return null;
  const reach = Math.max(LEAST_AROUND, Math.round(AROUND * Math.sqrt(count)));
  const near = Uint8Array.from(ctx.filters.boxMean({ ...size, data: Float32Array.from(covered) }, reach), (v) => (v > 1e-4 ? 1 : 0));
  const sigmaPx = Math.max(4, reach / 4) * 2 ** level;
  const { content } = layer;
  if (content.type !== "frame" || !job.inputs.frames.some((f) => f.frame.id === content.frameId)) {
    return { level, covered, near, evenEv: null, sigmaPx };
  }
  const donor = await laidEverywhere(ctx, job, layer, task);
  const [light, shown] = [await composedLight(ctx, job, level, whole, task), await composedLight(ctx, donor, level, whole, task)];
  // where both show the same the difference is an even one; it is taken away
  const ring = light.map((v, i) => v - shown[i]).filter((_, i) => near[i] && !covered[i]);
  ring.sort();
  return { level, covered, near, evenEv: ring[ring.length >> 1] ?? 0, sigmaPx };
}

const laidEverywhere = (ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task) =>
  prepareJob(ctx, updateLayer(layer.id, { mask: freshMask(1) })(job.records), task);

/** Log2 light of the picture less what ought to be there, EV. */
async function residual(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, comparison: Comparison, at: { level: number; rect: Rectangle }, task: Task) {
  const { level, rect } = at;
  const { evenEv, sigmaPx } = comparison;
  if (evenEv !== null) {
    const light = await composedLight(ctx, job, level, rect, task);
    const shown = await composedLight(ctx, await laidEverywhere(ctx, job, layer, task), level, rect, task);
    return light.map((v, i) => v - shown[i] - evenEv);
  }
  const sigma = sigmaPx / 2 ** level;
  const wide = widen(rect, blurReach(sigma), sizeAtLevel(job.inputs.width, job.inputs.height, level));
  const field = { width: wide.width, height: wide.height, data: await composedLight(ctx, job, level, wide, task) };
  const smooth = ctx.filters.gaussianBlur(field, sigma);
  return cutOut(
    field.data.map((v, i) => v - smooth[i]),
    wide,
    rect,
  );
}

/** What is left of a removal in a rectangle of a display level, EV; null of a layer that takes nothing away in places. */
export async function residualLight(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, level: number, rect: Rectangle, task: Task) {
  const comparison = await comparisonOf(ctx, job, layer, task);
  return comparison && residual(ctx, job, layer, comparison, { level, rect }, task);
}

/**
 * What a layer that takes something away has left: around its mask the picture is compared with the frame it shows, exposures levelled there; a
 * retouch is compared, in its area, with an even course of its surroundings.
 */
export async function auditRemnants(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<RemnantAudit | null> {
  const comparison = await comparisonOf(ctx, job, layer, task);
  if (!comparison) return null;
  const { level, covered, near } = comparison;
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const byFrame = comparison.evenEv !== null;
  const left = await residual(ctx, job, layer, comparison, { level, rect: { x: 0, y: 0, ...size } }, task);
  const looked = near.map((v, i) => (v && (byFrame ? !covered[i] : covered[i]) ? 1 : 0));
  // the spread of what is not concerned: far away from a frame's area, around that of a retouch
  const apart = near.map((v, i) => ((byFrame ? !v : v && !covered[i]) ? 1 : 0));
  const s = 2 ** level;
  const remnants = findRemnants(left, looked, apart, size.width, size.height)
    .slice(0, MOST_REMNANTS)
    .map((c): Remnant => ({
      place: intersect(
        { x: c.x0 * s, y: c.y0 * s, width: (c.x1 - c.x0 + 1) * s, height: (c.y1 - c.y0 + 1) * s },
        { x: 0, y: 0, width: job.inputs.width, height: job.inputs.height },
      ),
      areaPx: c.count * s * s,
      contrastEv: c.contrastEv,
    }));
  return { remnants, compared: byFrame ? "frame" : "surroundings" };
}
