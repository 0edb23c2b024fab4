import type { Edit } from "./edits";
import { addPart, removePart } from "./layerEdits";
import type { SeatRecord } from "./records/plateTypes";
import type { Records } from "./records/types";
import { layerOf } from "./selectors";

const behindPart = (records: Records, { layerId }: SeatRecord) => layerOf(records, layerId)?.mask.parts.find((p) => p.kind === "behind");

/** Whether what a seat shows is hidden by marked surfaces that stand nearer. */
export const isHidden = (records: Records, seat: SeatRecord): boolean => behindPart(records, seat) !== undefined;

/** Lets marked surfaces of the plate that stand nearer hide what a seat shows, or not. */
export function hideSeat(id: string, hidden: boolean): Edit {
  return (records) => {
    const seat = records[id];
    if (seat?.kind !== "seat" || layerOf(records, seat.layerId)?.locked) return records;
    const part = behindPart(records, seat);
    if (!hidden) return part ? removePart(seat.layerId, part.id)(records) : records;
    return part ? records : addPart(seat.layerId, { kind: "behind" }, "subtract").edit(records);
  };
}
