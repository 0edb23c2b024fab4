import { newId, put, type Edit } from "./edits";
import { copyInto, placeBeside, placeLayer, topOfClipped, updateLayer } from "./layerEdits";
import { followsSeat } from "./removal";
import { changeSeat } from "./seatEdits";
import { cameraOf, standsAt } from "./seatGeometry";
import { documentSize, layerOf, layersOf, plateOf, seatsOf } from "./selectors";
import type { LayerRecord } from "./records/layerTypes";
import type { SeatRecord } from "./records/plateTypes";
import type { Records } from "./records/types";

export const MOST_COPIES = 20;

/**
 * Copies of what a seat shows, with their shadows, each that much further away and to the right than the one before; what stands further lies below what stands nearer.
 * @param awayM metres away from the camera; negative: towards it @param asideM metres to the right
 */
export function copySeats(id: string, count: number, awayM: number, asideM: number): Edit {
  return (records) => {
    const [seat, plate, size] = [records[id], plateOf(records), documentSize(records)];
    if (seat?.kind !== "seat" || !plate || !size) return records;
    const camera = cameraOf(plate, size);
    const place = standsAt(plate, size, seat);
    const layer = layerOf(records, seat.layerId);
    if (!place || !layer) return records;
    let next = records;
    let before: SeatRecord = seat;
    for (let k = 1; k <= Math.min(count, MOST_COPIES); k++) {
      const foot = camera.pixelOf([place[0] + k * asideM, place[1], place[2] + k * awayM]);
      // towards the camera the ground ends under it
      if (!foot || place[2] + k * awayM <= 0) break;
      const laid: { records: Records; seat: SeatRecord } = copyOf(next, before, `${layer.name}, ${k + 1}`, awayM < 0);
      next = changeSeat(laid.seat.id, { foot: { x: foot[0], y: foot[1] } })(laid.records);
      before = seatsOf(next).find((s) => s.id === laid.seat.id)!;
    }
    return next;
  };
}

/** A copy of what a seat shows, with its shadows. @param isNearer whether it goes over what it is copied from, or else under that and its shadows */
function copyOf(records: Records, seat: SeatRecord, name: string, isNearer: boolean): { records: Records; seat: SeatRecord } {
  const layer = layerOf(records, seat.layerId)!;
  const shadows = layersOf(records).filter((l) => followsSeat(l, layer.id));
  const made = copyInto(records, layer, layer.parentId, name);
  const lowest = shadows.find((l) => !l.clipped)?.id ?? layer.id;
  // a copy of what is locked has yet to be put where it stands
  const beside = isNearer
    ? placeLayer(made.copyId, topOfClipped(made.records, layer.id, made.copyId), layer.parentId)
    : placeBeside(made.copyId, lowest, "below");
  let next = beside(updateLayer(made.copyId, { locked: false })(made.records));
  for (const shadow of shadows) {
    const copied = copyInto(next, shadow, shadow.parentId, shadow.name.replaceAll(layer.name, name));
    const { mask, content } = layerOf(copied.records, copied.copyId)!;
    const followed = "layerId" in content ? { ...content, layerId: made.copyId } : content;
    const parts: LayerRecord["mask"]["parts"] = mask.parts.map((p) => (p.kind === "cast" ? { ...p, layerId: made.copyId } : p));
    // light that is clipped to a thing lies on it, all else under it
    const laid = shadow.clipped
      ? placeLayer(copied.copyId, topOfClipped(copied.records, made.copyId, copied.copyId), shadow.parentId)
      : placeBeside(copied.copyId, made.copyId, "below");
    next = laid(updateLayer(copied.copyId, { mask: { ...mask, parts }, content: followed })(copied.records));
  }
  const copy: SeatRecord = { ...seat, id: newId("seat"), layerId: made.copyId };
  return { records: put(next, copy), seat: copy };
}
