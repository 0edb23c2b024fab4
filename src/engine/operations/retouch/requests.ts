import type { Rectangle } from "../../../core/geometry/rectangle";
import { updateLayer } from "../../../document/layerEdits";
import type { Records } from "../../../document/records/types";
import { childrenOf, layerOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeRect, prepareJob } from "../layers/compose";
import { findDust, findTwinPatches, findTwinsOf } from "./cleaning";
import { proposeSource } from "./proposeSource";
import { auditRemnants } from "./remnants";
import { maskBounds } from "./retouch";

type OfLayer = { records: Records; layerId: string };

export const retouchRequests = {
  /** The area of a retouch at full size and the source that goes best with what lies around it; null where its mask reveals nothing. */
  retouchPlace: (ctx: EngineContext, p: OfLayer, task: Task) => retouchPlace(ctx, p.records, p.layerId, task),
  /** Specks that are likely dust, the surest first. */
  findDust: async (ctx: EngineContext, p: { records: Records }, task: Task) => findDust(ctx, await prepareJob(ctx, p.records, task), task),
  /** Patches that one retouch makes stand twice. */
  findTwinsOf: async (ctx: EngineContext, p: OfLayer, task: Task) => {
    const layer = layerOf(p.records, p.layerId);
    return layer ? findTwinsOf(ctx, await prepareJob(ctx, p.records, task), layer, task) : [];
  },
  /** Patches that stand in the picture twice. */
  findTwins: async (ctx: EngineContext, p: { records: Records }, task: Task) => findTwinPatches(ctx, await prepareJob(ctx, p.records, task), task),
  /** What a layer has left of what it takes away; null where it takes nothing away. */
  auditRemnants: async (ctx: EngineContext, p: OfLayer, task: Task) => {
    const layer = layerOf(p.records, p.layerId);
    return layer ? auditRemnants(ctx, await prepareJob(ctx, p.records, task), layer, task) : null;
  },
};

async function retouchPlace(
  ctx: EngineContext,
  records: Records,
  layerId: string,
  task: Task,
): Promise<{ area: Rectangle; proposal: { dx: number; dy: number } | null } | null> {
  const layer = layerOf(records, layerId);
  if (!layer) return null;
  const job = await prepareJob(ctx, records, task);
  const area = maskBounds(ctx, job, layer);
  if (!area) return null;
  // the layer itself and what lies over it have no part in what it takes
  const siblings = childrenOf(records, layer.parentId);
  const over = siblings.slice(siblings.findIndex((l) => l.id === layerId));
  const below = await prepareJob(
    ctx,
    over.reduce((r, l) => updateLayer(l.id, { visible: false })(r), records),
    task,
  );
  const read: Parameters<typeof proposeSource>[3] = (level, rect, scope) => composeRect(ctx, below, level, rect, "layers", scope);
  return { area, proposal: proposeSource(ctx, job, layer, read) };
}
