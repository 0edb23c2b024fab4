import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { MaskPart } from "../../kinds/maskParts/records";
import { PART_WORDS, partName } from "../../kinds/maskParts/words";
import type { Records } from "../../document/records/types";
import { layerOf, strokesOf } from "../../document/selectors";
import { wordsOf } from "../../kinds/contents/words";
import { percent } from "../../ui/format";

/** What a layer is, in a few words under its name. */
export function layerWord(records: Records, layer: LayerRecord): string {
  const { content, mode, clipped } = layer;
  const blends = mode === "normal" ? "" : `, ${sentence(`blend.${mode}`)}`;
  const word = `${wordsOf(content).word(content, layer, records)}${blends}`;
  return clipped ? sentence(message("compose/onThatBelow", { word })) : word;
}

/** What its mask is: a figure and a word. */
export function maskFigure(records: Records, layer: LayerRecord): { value: string; word: string } {
  const { parts, base, inverted, density } = layer.mask;
  const strokes = strokesOf(records, layer.id).length;
  const word = inverted ? "inverted" : density < 1 ? sentence(message("compose/atMostShare", { share: percent(density) })) : "";
  if (parts.length === 0)
    return { value: base !== Number(inverted) ? "all" : "none", word: word || (base ? sentence("compose/revealed") : sentence("compose/concealed")) };
  if (parts.length === 1 && parts[0].kind === "painted")
    return { value: String(strokes), word: word || sentence(message("compose/strokesWithin", { count: strokes })) };
  if (parts.length === 1) return { value: partName(parts[0]), word: word || sentence("compose/mask") };
  return {
    value: sentence(message("compose/partsCount", { count: parts.length })),
    word: word || (strokes ? sentence(message("compose/strokesCount", { count: strokes })) : sentence("compose/mask")),
  };
}

const COMBINE_WORDS = { add: "adds", subtract: "subtracts", intersect: "intersects" };

/** How a part goes with those before it. */
export function partWord(records: Records, part: MaskPart, first: boolean): string {
  const { over } = PART_WORDS[part.kind];
  if (over) return first ? over.first : over.later;
  const what = part.kind === "link" ? (layerOf(records, part.layerId)?.name ?? sentence("compose/layerGone")) : null;
  const how = first && part.combine === "add" ? "reveals" : COMBINE_WORDS[part.combine];
  return [what, part.inverted ? sentence(message("compose/partInverted", { how })) : how].filter(Boolean).join(": ");
}
