import { id } from "../../../document/records/fields";
import type { PartRecord } from "../fields";

/** The mask of another layer, as it is now. */
export interface Link {
  kind: "link";
  layerId: string;
}

export const link: PartRecord<Link> = { fields: { layerId: id() } };
