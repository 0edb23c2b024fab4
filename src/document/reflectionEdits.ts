import type { ReflectionContent } from "../kinds/contents/reflection/record";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { SeatRecord } from "./records/plateTypes";
import type { Records } from "./records/types";
import { layersOf, plateOf } from "./selectors";

/** The layer that mirrors what a seat shows in the plate's water, or undefined. */
export const reflectionOf = (records: Records, { layerId }: SeatRecord): LayerRecord | undefined =>
  layersOf(records).find((l) => l.content.type === "reflection" && l.content.layerId === layerId);

/** Mirrors what a seat shows in water of its plate, under it. @param seen what was measured of that water */
export function layReflection(id: string, seen: Omit<ReflectionContent, "type" | "layerId">, name: string): Edit {
  return (records) => {
    const seat = records[id];
    if (seat?.kind !== "seat" || !plateOf(records)?.surfaces?.some((s) => s.id === seen.surfaceId) || reflectionOf(records, seat)) return records;
    const layerId = newId("layer");
    const content: ReflectionContent = { type: "reflection", layerId: seat.layerId, ...seen };
    return placeBeside(layerId, seat.layerId, "below")(addLayer({ id: layerId, name, content, mask: freshMask(1) })(records));
  };
}
