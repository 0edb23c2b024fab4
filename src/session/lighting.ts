import { message } from "../messages/message";
import { revealedIfUntouched, updateLayer } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import { layerOf } from "../document/selectors";
import { edit, openJob } from "./openJob";
import { useSession } from "./store";

/** Adds only what shines in a layer's frame: its black level is measured and taken off, and the rest is added as light. */
export async function addAsLight(layer: LayerRecord): Promise<void> {
  if (layer.content.type !== "frame") return;
  const { frameId } = layer.content;
  const job = openJob();
  const { records } = useSession.getState();
  const black = await job.run("compose", "task.looking", (signal, onProgress) => job.ask("measureBlack", { records, frameId }, { signal, onProgress }));
  const now = layerOf(useSession.getState().records, layer.id);
  if (!black || !job.isOpen || now?.content.type !== "frame") return;
  const light = { black, warmthMired: 0, ambientId: null };
  const change = { content: { ...now.content, light }, mode: "add" as const, ...revealedIfUntouched(useSession.getState().records, now) };
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
