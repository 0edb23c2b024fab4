import { setGeometry } from "../document/edits";
import { recordsAt, type History } from "../document/history";
import { addLayer, updateLayer } from "../document/layerEdits";
import { outputGeometry } from "../document/outputGeometry";
import { asMerged } from "../document/renderingEdits";
import type { Records } from "../document/records/types";
import { finishGroupOf, finishLayerOf, frameNumber, layerOf, mergeOf } from "../document/selectors";
import { wholeFrame } from "../kinds/contents/frame/record";
import { message } from "../messages/message";
import { sentence } from "../messages/sentence";
import type { Pane } from "./usePanes";

/**
 * What the picture is compared with, in the crop of now. @param against "merge", "unfinished" (all layers, no step of the finish), "printed" (by its target), or the id of a frame, of a layer that is left out, or of a step of the logbook
 */
export function comparedPane(against: string, records: Records, history: History): Pane {
  const { angleDeg, tilt, crop } = outputGeometry(records);
  const inCrop = setGeometry({ angleDeg, tilt, crop, ratio: null });
  const place = JSON.stringify([angleDeg, tilt, crop]);
  const step = history.steps.find((s) => s.id === against);
  if (step) {
    const then = recordsAt(history, step.id);
    if (mergeOf(then)) return { view: { kind: "output" }, records: kept(`${step.id}/${place}`, () => inCrop(then)), label: sentence(step.label) };
  }
  const now = `${against}/${history.head}/${place}`;
  if (against === "printed") return { view: { kind: "printed", marks: "none" }, records, label: sentence("proof/asPrinted") };
  if (against === "unfinished") return { view: { kind: "output" }, records: kept(now, () => asMerged(records)), label: sentence("finish/asMerged") };
  const layer = layerOf(records, against);
  if (layer)
    return {
      view: { kind: "output" },
      records: kept(now, () => updateLayer(layer.id, { visible: false })(records)),
      label: sentence(message("view/withoutLayer", { name: layer.name })),
    };
  const isFrame = records[against]?.kind === "frame";
  return {
    view: { kind: "output" },
    records: kept(now, () => (isFrame ? addLayer({ name: sentence("common/frame"), content: wholeFrame(against) })(bare(records)) : bare(records))),
    label: isFrame ? sentence(message("common/frameNumber", { number: frameNumber(records, against) })) : sentence("common/theMerge"),
  };
}

/** A job without layers and steps; scene light is brought to a screen as in the finish. */
function bare(records: Records): Records {
  const onScreen = [finishGroupOf(records)?.id, finishLayerOf(records, "toneResponse")?.id];
  return Object.fromEntries(Object.entries(records).filter(([id, r]) => (r.kind !== "layer" && r.kind !== "stroke") || onScreen.includes(id)));
}

const MOST_KEPT = 12;
const compared = new Map<string, Records>();
/** Keeps record objects alive between renders, so that a view is not drawn anew without need. */
function kept(key: string, make: () => Records): Records {
  let found = compared.get(key);
  if (!found) {
    found = make();
    compared.set(key, found);
    if (compared.size > MOST_KEPT) compared.delete(compared.keys().next().value!);
  }
  return found;
}
