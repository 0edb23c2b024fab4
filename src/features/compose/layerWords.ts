import { BLEND_NAMES } from "../../core/blend/blendModes";
import type { LayerRecord, RetouchMethod } from "../../document/records/layerTypes";
import type { MaskPart } from "../../kinds/maskParts/records";
import { PART_WORDS, partName } from "../../kinds/maskParts/words";
import type { Records } from "../../document/records/types";
import { childrenOf, frameNumber, layerOf, strokesOf } from "../../document/selectors";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { counted, percent, signed } from "../../ui/format";

export const RETOUCH_NAMES: Record<RetouchMethod, string> = { heal: "Healing", clone: "Cloning", fill: "Filling", smooth: "Smoothing over" };

/** What a layer is, in a few words under its name. */
export function layerWord(records: Records, layer: LayerRecord): string {
  return layer.clipped ? `${contentWord(records, layer)}, on that below` : contentWord(records, layer);
}

function contentWord(records: Records, { content, mode, id, name }: LayerRecord): string {
  const blends = mode === "normal" ? "" : `, ${BLEND_NAMES[mode].toLowerCase()}`;
  switch (content.type) {
    case "frame":
      return `frame ${frameNumber(records, content.frameId)}, ${content.exposureEv ? `${signed(content.exposureEv, 1)} EV` : "as shot"}${blends}`;
    case "adjustment":
      return name === ADJUSTMENT_WORDS[content.adjustment].name ? `adjustment${blends}` : `${ADJUSTMENT_WORDS[content.adjustment].name.toLowerCase()}${blends}`;
    case "fill":
      return `${content.ramp ? "two colours" : "one colour"}${blends}`;
    case "merge":
      return `the merge${blends}`;
    case "below":
      return `all below, live${blends}`;
    case "retouch":
      return `${RETOUCH_NAMES[content.method].toLowerCase()}${blends}`;
    case "group":
      return `group of ${childrenOf(records, id).length}${blends}`;
  }
}

/** What its mask is: a figure and a word. */
export function maskFigure(records: Records, layer: LayerRecord): { value: string; word: string } {
  const { parts, ground, inverted, density } = layer.mask;
  const strokes = strokesOf(records, layer.id).length;
  const word = inverted ? "inverted" : density < 1 ? `at most ${percent(density)}` : "";
  if (parts.length === 0) return { value: ground !== Number(inverted) ? "all" : "none", word: word || (ground ? "revealed" : "concealed") };
  if (parts.length === 1 && parts[0].kind === "painted") return { value: String(strokes), word: word || (strokes === 1 ? "stroke" : "strokes") };
  if (parts.length === 1) return { value: partName(parts[0]), word: word || "mask" };
  return { value: `${parts.length} parts`, word: word || (strokes ? counted(strokes, "stroke") : "mask") };
}

const COMBINE_WORDS = { add: "adds", subtract: "subtracts", intersect: "intersects" };

/** How a part goes with those before it. */
export function partWord(records: Records, part: MaskPart, first: boolean): string {
  const { over } = PART_WORDS[part.kind];
  if (over) return first ? over.first : over.later;
  const what = part.kind === "link" ? (layerOf(records, part.layerId)?.name ?? "the layer is gone") : null;
  const how = first && part.combine === "add" ? "reveals" : COMBINE_WORDS[part.combine];
  return [what, part.inverted ? `${how}, inverted` : how].filter(Boolean).join(": ");
}
