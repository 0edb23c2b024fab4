import { Refusal } from "../../../core/refusal";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { updateLayer } from "../../../document/layerEdits";
import { freshMask } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { layerOf } from "../../../document/selectors";
import { allParts } from "../../../kinds/maskParts/records";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareMasks } from "../layers/compose";
import { findInMerge, type FoundPart } from "./foundMask";
import { maskPlane } from "./maskPlane";

export const maskRequests = {
  /** How much of the picture something is that is looked for, and how sure that is, 0..1. */
  judgeFound: async (ctx: EngineContext, p: { records: Records; part: FoundPart }, task: Task) => {
    const { share, confidence } = findInMerge(ctx, await prepareMasks(ctx, p.records, task), p.part);
    return { share, confidence };
  },
  /** The mask of a layer, or one of its parts alone, over the whole picture at the display level no larger than a side, or the coarsest kept: 0 conceals, 255 reveals. */
  maskShape: async (ctx: EngineContext, p: { records: Records; layerId: string; partId: string | null; side: number }, task: Task) => {
    const layer = layerOf(p.records, p.layerId);
    if (!layer) throw new Refusal("gone", "view.layerGone");
    const part = allParts(layer.mask.parts).find((at) => at.part.id === p.partId)?.part;
    const records = part ? updateLayer(layer.id, { mask: freshMask(0, [{ ...part, combine: "add" }]) })(p.records) : p.records;
    const job = await prepareMasks(ctx, records, task);
    // parts are measured in the merge and in frames, which are kept at no coarser level than that
    const coarsest = Math.min(job.merge.picture.spec.levels, ...job.inputs.frames.map((f) => f.file.spec.levels)) - 1;
    const level = Math.min(coarsest, levelOfSide(job.inputs, p.side));
    const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
    const values = maskPlane(ctx, job, layerOf(records, layer.id)!, level, { x: 0, y: 0, ...size });
    return { ...size, values: Uint8Array.from(values, (v) => Math.round(255 * v)) };
  },
};
