import { finite } from "../../../document/records/fields";
import { frames } from "../../values";
import type { PartRecord } from "../fields";

/** The sharpest frame of a focus merge, counted from 1. */
export interface Depth {
  kind: "depth";
  from: number;
  to: number;
  soft: number;
}

export const depth: PartRecord<Depth> = {
  fields: { from: finite().min(0).max(1000), to: finite().min(0).max(1000), soft: finite().min(0).max(100) },
  values: { from: frames(1, 100), to: frames(1, 100), soft: frames(0.5, 10) },
};
