import type { Rectangle } from "../../../core/geometry/rectangle";
import { updateLayer } from "../../../document/layerEdits";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { layerOf } from "../../../document/selectors";
import { Refusal } from "../../../core/refusal";
import type { FrameContent } from "../../../kinds/contents/frame/record";
import type { Cells } from "../../../kinds/maskParts/cells/record";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { fitFrame, type FittedFrame } from "./fitFrame";
import { placeSeam, seamFigures, upTo, type SeamFigures } from "./seams";

/** How far around its box a part is looked at where nothing is said to fit, and how much within, as shares of the box. Common practice, no source. */
const [AROUND, WITHIN] = [0.35, 0.15];

/** A part as another frame gives it: where that lies, and where it is joined. */
export interface SwappedPart {
  content: FrameContent;
  cells: Cells;
}

export const swapRequests = {
  /** Registers the frame of a layer onto what lies below it; null where nothing fits. */
  fitFrame: async (ctx: EngineContext, p: { records: Records; layerId: string; joint: Rectangle | null }, task: Task): Promise<FittedFrame | null> => {
    const layer = layerOf(p.records, p.layerId);
    return layer ? fitFrame(ctx, await prepareJob(ctx, below(p.records, layer), portion(task, 0, 0.3)), layer, p.joint, null, portion(task, 0.3, 1)) : null;
  },
  /**
   * Fits the frame of a layer where a part is joined, as bright as what lies there, and places the seam.
   * @param joint what has to fit; null: what lies around the box @throws Refusal where nothing fits
   */
  fitPart: async (
    ctx: EngineContext,
    p: { records: Records; layerId: string; box: Rectangle; joint: Rectangle | null },
    task: Task,
  ): Promise<SwappedPart | null> => {
    const layer = layerOf(p.records, p.layerId);
    if (layer?.content.type !== "frame") return null;
    const job = await prepareJob(ctx, below(p.records, layer), portion(task, 0, 0.2));
    const { joint, box } = p;
    const fitted = joint
      ? await fitFrame(ctx, job, layer, joint, null, portion(task, 0.2, 0.7))
      : await fitFrame(ctx, job, layer, grown(box, AROUND), grown(box, -WITHIN), portion(task, 0.2, 0.7));
    if (!fitted) throw new Refusal("unclear", joint ? "swap.jointDiffers" : "swap.nothingFits");
    const { moved, fit } = fitted;
    const content: FrameContent = { ...layer.content, moved, fit: { ...fit, joint }, exposureEv: rounded(-fit.lightEv) };
    const placed = updateLayer(layer.id, { content })(p.records);
    const cells = await placeSeam(ctx, placed, layerOf(placed, layer.id)!, box, portion(task, 0.7, 1));
    return { content, cells };
  },
  /** What shows along the border of a layer's cells; null where it has none. */
  seamFigures: async (ctx: EngineContext, p: { records: Records; layerId: string }, task: Task): Promise<SeamFigures | null> => {
    const layer: LayerRecord | undefined = layerOf(p.records, p.layerId);
    return layer ? seamFigures(ctx, p.records, layer, task) : null;
  },
};

/** The job without a layer and what lies above it: nothing of that has to be made. */
const below = (records: Records, layer: LayerRecord): Records => updateLayer(layer.id, { visible: false })(upTo(records, layer));

/** A box larger on each side by a share of its shorter side, smaller for a negative share. */
function grown({ x, y, width, height }: Rectangle, share: number): Rectangle {
  const by = Math.round(share * Math.min(width, height));
  return { x: x - by, y: y - by, width: width + 2 * by, height: height + 2 * by };
}

/** To a hundredth of an EV. */
const rounded = (ev: number) => Math.round(100 * ev) / 100;
