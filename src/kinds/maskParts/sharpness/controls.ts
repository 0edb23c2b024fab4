import { frameOf, type PartControls } from "../controlling";
import type { Sharpness } from "./record";

export const sharpness: PartControls<Sharpness> = {
  begin: (_size, _records, layer) => ({ kind: "sharpness", of: frameOf(layer), sizePx: 4, fromEv: 0.1, softEv: 0.05 }),
};
