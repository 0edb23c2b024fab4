import { ANY_SIZE } from "../kinds/contents/fields";
import { recordOf } from "../kinds/contents/records";
import type { AnyRecord, Records } from "./records/types";

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
  return record.kind === "layer" ? (recordOf(record.content).finestPx?.(record.content) ?? ANY_SIZE) : ANY_SIZE;
}
