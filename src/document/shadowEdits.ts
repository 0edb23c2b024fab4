import type { LitGround } from "../core/seat/litGround";
import { SUN_DEG, type LightFigures } from "../core/seat/measureShadow";
import { MOST_SOURCE_DEG, type Cast } from "../kinds/maskParts/cast/record";
import { newId, type Edit } from "./edits";
import { addLayer, paintedMask, placeBeside } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { SeatRecord } from "./records/plateTypes";
import type { Records } from "./records/types";
import { followsSeat } from "./removal";
import { layersOf, plateOf } from "./selectors";

/** Light over shade where nothing was measured, and how much cooler shade is: a clear sky. Common practice, no source. */
export const CLEAR_EV = 2.5;
const CLEAR_MIRED = -40;
/** Where the sky is the light, what lies under a thing gets that much less where it gets none. */
const SKY_EV = 4;
/** How deep a thing is of how wide each of its limbs is. Common practice, no source. */
const DEPTH = 0.8;

/** What a shadow is laid by. */
export type Thrown = Pick<LightFigures, "ratioEv" | "sourceDeg" | "shadowMired">;

/** What the layers of a shadow are called. */
export interface ShadowNames {
  shadow: string;
  contact: string;
}

const casts = ({ mask }: LayerRecord) => mask.parts.filter((p) => p.kind === "cast" && p.by !== "lamp");

/** The layer that darkens the ground by the shadow of what a seat shows, or undefined. */
export const shadowOf = (records: Records, { layerId }: SeatRecord): LayerRecord | undefined =>
  layersOf(records).find((l) => followsSeat(l, layerId) && casts(l).length === 1);

/** The layer that darkens its shadow where the thing hides the sky as well, or undefined. */
export const contactOf = (records: Records, { layerId }: SeatRecord): LayerRecord | undefined =>
  layersOf(records).find((l) => followsSeat(l, layerId) && casts(l).length === 2);

/**
 * Lays the shadow of what a seat shows under it, and within that what comes of hiding the sky: light is multiplied, and what the ground is made of stays.
 * @param thrown as the plate's own shadows tell; null: they tell nothing @param lit where the ground lies in the light, if not everywhere: in its own shade nothing gets darker twice
 */
export function layShadow(id: string, thrown: Thrown | null, names: ShadowNames, lit: LitGround | null = null): Edit {
  return (records) => {
    const seat = records[id];
    const plate = plateOf(records);
    if (seat?.kind !== "seat" || !plate || shadowOf(records, seat)) return records;
    const sourceDeg = Math.min(MOST_SOURCE_DEG, Math.max(0.05, thrown?.sourceDeg ?? SUN_DEG));
    const part = (by: Cast["by"], combine: "add" | "intersect") => ({
      ...{ id: newId("part"), combine, inverted: false, featherPx: 0 },
      ...{ kind: "cast" as const, layerId: seat.layerId, by, sourceDeg, depth: DEPTH },
    });
    const under = (name: string, values: { ev: number; mired: number }, parts: LayerRecord["mask"]["parts"]): Edit => {
      const layerId = newId("layer");
      const content = { type: "adjustment" as const, adjustment: "shade" as const, values };
      const laid = addLayer({ id: layerId, name, content, blendIn: "light", mask: freshMask(0, [...parts, ...paintedMask(0).parts]) });
      return (r) => placeBeside(layerId, seat.layerId, "below")(laid(r));
    };
    if (plate.overcast) return under(names.shadow, { ev: -SKY_EV, mired: 0 }, [part("sky", "add")])(records);
    const open = lit
      ? [
          {
            ...lit,
            ...{ id: newId("part"), combine: "intersect" as const, inverted: false, featherPx: 0 },
            kind: "light" as const,
            of: null,
            toEv: BRIGHTEST_EV,
          },
        ]
      : [];
    const values = { ev: -Math.round(100 * Math.min(8, thrown?.ratioEv ?? CLEAR_EV)) / 100, mired: Math.round(thrown?.shadowMired ?? CLEAR_MIRED) };
    const contact = under(names.contact, { ev: -SKY_EV, mired: 0 }, [part("sky", "add"), part("sun", "intersect")]);
    return contact(under(names.shadow, values, [part("sun", "add"), ...open])(records));
  };
}

/** No plate is brighter, EV over white. */
const BRIGHTEST_EV = 10;
