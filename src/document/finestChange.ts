import type { LayerRecord } from "./records/layerTypes";
import type { AnyRecord, Records } from "./records/types";

/** Change that is not of any size in particular. */
const ANY_SIZE = Infinity;

/** Size of the finest detail that differs between two states, px: what a level has to hold for the difference to be seen there. */
export function finestChange(before: Records, after: Records): number {
  const changed = Object.keys({ ...before, ...after }).flatMap((id): AnyRecord[] =>
    before[id] === after[id] ? [] : [before[id], after[id]].filter((r) => r !== undefined),
  );
  return Math.max(1, Math.min(...changed.map(finestOf), ANY_SIZE));
}

function finestOf(record: AnyRecord): number {
  // half of a brush is still plainly a brush
  if (record.kind === "stroke") return record.diameterPx / 2;
  return record.kind === "layer" ? finestOfLayer(record) : ANY_SIZE;
}

function finestOfLayer({ content }: LayerRecord): number {
  if (content.type === "fill") return content.grain > 0 ? content.grainPx : ANY_SIZE;
  if (content.type === "retouch") return 1;
  if (content.type !== "adjustment") return ANY_SIZE;
  const sizes = Object.entries(content.values).flatMap(([name, value]) => (name.endsWith("Px") && value > 0 ? [value] : []));
  // sharpening and noise work on single pixels even where no size is set
  return Math.min(...sizes, ["sharpen", "highPass", "noise"].includes(content.adjustment) ? 1 : ANY_SIZE);
}
