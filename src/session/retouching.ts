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
    if (!place?.proposal) notify("There is no room beside this area to take anything from: choose a source on the picture.");
    else
      edit(updateLayer(layerId, { content: { ...layer.content, ...place.proposal } }), {
        stage: "compose",
        label: "Source proposed: its surroundings are the most alike",
      });
  } catch (error) {
    report(error);
  }
}
