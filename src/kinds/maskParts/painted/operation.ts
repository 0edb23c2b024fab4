import { coveredBy, paintOver } from "../../../engine/operations/masks/paintedPlane";
import type { PartOperation } from "../tools";
import type { Painted } from "./record";

export const painted: PartOperation<Painted> = {
  over: (on, part, rect, values) => paintOver(values, (base) => coveredBy(on, part, base, rect)),
};
