import { message } from "../messages/message";
import { updateLayer } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import type { Records } from "../document/records/types";
import { layerOf, mergedFramesOf, mergeOf } from "../document/selectors";
import { pictureIdOf } from "../document/sourceIds";
import { openJob } from "./openJob";
import { notify, useSession } from "./store";

/** What the place of a layer's frame depends on. */
const placedBy = (frameId: string, layerId: string) => (r: Records) => {
  const frame = r[frameId];
  const content = layerOf(r, layerId)?.content;
  return [
    mergeOf(r),
    mergedFramesOf(r).map((m) => m.matrix),
    frame?.kind === "frame" && [pictureIdOf(frame), frame.development],
    content?.type === "frame" && content.frameId,
  ];
};

/** Registers the frame of a layer onto what lies below it: a later picture of the same view, which takes no part in the merge. */
export async function fitLayer(layer: LayerRecord): Promise<void> {
  if (layer.content.type !== "frame") return;
  const { records } = useSession.getState();
  const job = openJob();
  let isDone = false;
  const fitted = await job.run("compose", "task.registering", async (signal, onProgress) => {
    const found = await job.ask("fitFrame", { records, layerId: layer.id, joint: null }, { signal, onProgress });
    isDone = true;
    return found;
  });
  if (!fitted) {
    if (isDone) notify("swap.otherView");
    return;
  }
  const { frameId } = layer.content;
  job.apply(
    records,
    placedBy(frameId, layer.id),
    (r) => {
      const content = layerOf(r, layer.id)?.content;
      return content?.type === "frame" ? updateLayer(layer.id, { content: { ...content, ...fitted } })(r) : r;
    },
    { stage: "compose", label: message("step.layerFitted", { name: layer.name, px: fitted.fit.residualPx }) },
  );
}
