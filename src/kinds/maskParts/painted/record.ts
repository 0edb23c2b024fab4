import type { PartRecord } from "../fields";

export interface Painted {
  kind: "painted";
}

export const painted: PartRecord<Painted> = { fields: {}, takesStrokes: true };
