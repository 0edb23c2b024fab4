import type { PartBase, PartRecord } from "../fields";

/** Parts combined among themselves first. */
export interface Group<Part> {
  kind: "group";
  parts: Part[];
}

/** What it holds is checked where parts are, as deep as they lie. */
export const group: PartRecord<Group<PartBase>> = { fields: {} };
