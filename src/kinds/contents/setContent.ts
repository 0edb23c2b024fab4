import type { Telling } from "../../messages/message";
import { updateLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { showLive } from "../../session/live";
import { edit } from "../../session/openJob";
import type { LayerContent } from "./records";

/** Gives a layer other contents, as a step of the logbook. */
export const setContent = (layer: LayerRecord, content: LayerContent, label: Telling): boolean =>
  edit(updateLayer(layer.id, { content }), { stage: "compose", label });

/** Shows a layer with other contents while the hand moves. */
export const showContent = (layer: LayerRecord, content: LayerContent): void => showLive(updateLayer(layer.id, { content }));
