import { updateLayer } from "../document/layerEdits";
import { layerOf } from "../document/selectors";
import { ask, edit } from "./openJob";
import { notify, report, useSession } from "./store";

/** Gives a retouch the source that goes best with what lies around its area. */
export async function proposeSourceFor(layerId: string): Promise<void> {
  try {
    const { records } = useSession.getState();
    const place = await ask("retouchPlace", { records, layerId });
    const layer = layerOf(useSession.getState().records, layerId);
    if (layer?.content.type !== "retouch") return;
    if (!place?.proposal) notify("composing.noSource");
    else
      edit(updateLayer(layerId, { content: { ...layer.content, ...place.proposal } }), {
        stage: "compose",
        label: "step.sourceProposed",
      });
  } catch (error) {
    report(error);
  }
}
