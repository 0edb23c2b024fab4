import { message } from "../messages/message";
import { updateLayer } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import { paintedMask } from "../document/layerEdits";
import { layerOf, strokesOf } from "../document/selectors";
import { ask, edit, openJob } from "./openJob";
import { report, useSession } from "./store";

/** Adds only what shines in a layer's frame: its black level is measured and taken off, and the rest is added as light. */
export async function addAsLight(layer: LayerRecord): Promise<void> {
  if (layer.content.type !== "frame") return;
  const job = openJob();
  const { records } = useSession.getState();
  const black = await ask("measureBlack", { records, frameId: layer.content.frameId }).catch((error: unknown) => (report(error), null));
  const now = job.isOpen ? layerOf(useSession.getState().records, layer.id) : undefined;
  if (!black || now?.content.type !== "frame") return;
  const isUntouched = strokesOf(useSession.getState().records, layer.id).length === 0 && now.mask.parts.every((p) => p.kind === "painted");
  const light = { black, warmthMired: 0, ambientId: null };
  const change = { content: { ...now.content, light }, mode: "add" as const, ...(isUntouched && { mask: paintedMask(1) }) };
  edit(updateLayer(layer.id, change), { stage: "compose", label: message("step.lightAdded", { name: layer.name }) });
}

/** The frame is laid as a picture again. */
export function endLight(layer: LayerRecord): void {
  if (layer.content.type !== "frame") return;
  edit(updateLayer(layer.id, { content: { ...layer.content, light: null }, mode: "normal" }), {
    stage: "compose",
    label: message("step.lightEnded", { name: layer.name }),
  });
}
