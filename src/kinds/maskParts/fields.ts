import { string, type Schema } from "yup";
import { finite } from "../../document/records/fields";
import type { MeasuredValue } from "../values";

export type Combine = "add" | "subtract" | "intersect";

/** What every part of a mask has. */
export interface PartBase {
  id: string;
  /** how it goes with the parts before it; what is painted always lies on top of them */
  combine: Combine;
  inverted: boolean;
  featherPx: number;
}

/** Where a picture is measured for a mask: a placed frame, or null for the merge. */
export interface Measured {
  of: string | null;
}

export const measured = { of: string().nullable().defined().max(100) };
/** A coordinate in reference px. */
export const place = () => finite().min(-1e6).max(1e6);

/** From one view of a panorama to another: where a place lies, or null where it cannot be seen any more, and by how much things have grown. */
export interface Change {
  move: (x: number, y: number) => [number, number] | null;
  scale: number;
}

export interface PartRecord<P> {
  /** what it holds besides what every part does */
  fields: Record<string, Schema>;
  /** those of them that are set by a control */
  values?: Record<string, MeasuredValue>;
  /** whether strokes are painted on it */
  takesStrokes?: boolean;
  /** whether it is measured in the merge or a frame */
  isMeasured?: boolean;
  /** the same where the picture is shown in another way */
  moved?: (part: P, change: Change) => P;
}
