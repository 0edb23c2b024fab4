import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";

export interface ContentWords<C> {
  /** what a layer is, in a few words under its name */
  word: (content: C, layer: LayerRecord, records: Records) => string;
  /** its values as text, by name; where there are none nothing is said */
  values?: (content: C) => Record<string, string>;
}
