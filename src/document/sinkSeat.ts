import type { Edit } from "./edits";
import { addPart, removePart, updatePart } from "./layerEdits";
import type { Records } from "./records/types";
import type { SeatRecord } from "./records/plateTypes";
import { layerOf } from "./selectors";

/** How uneven blades are of how high they reach, and how wide one is, cm. Common practice, no source. */
const ROUGH = 0.5;
const BLADE_CM = 1;

const sunkPart = (records: Records, { layerId }: SeatRecord) => layerOf(records, layerId)?.mask.parts.find((p) => p.kind === "sunk");

/** How deep what a seat shows stands among the plate's blades, cm. */
export function sunkBy(records: Records, seat: SeatRecord): number {
  const part = sunkPart(records, seat);
  return part?.kind === "sunk" ? part.depthCm : 0;
}

/** Lets the plate's blades come up over what a seat shows; 0: it stands on them. */
export function sinkSeat(id: string, depthCm: number): Edit {
  return (records) => {
    const seat = records[id];
    if (seat?.kind !== "seat" || layerOf(records, seat.layerId)?.locked) return records;
    const part = sunkPart(records, seat);
    if (depthCm <= 0) return part ? removePart(seat.layerId, part.id)(records) : records;
    if (part) return updatePart(seat.layerId, part.id, { depthCm, roughCm: ROUGH * depthCm })(records);
    return addPart(seat.layerId, { kind: "sunk", depthCm, roughCm: ROUGH * depthCm, bladeCm: BLADE_CM }, "subtract").edit(records);
  };
}
