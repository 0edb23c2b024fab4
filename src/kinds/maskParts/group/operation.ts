import type { MaskPart } from "../records";
import type { PartOperation } from "../tools";
import type { Group } from "./record";

export const group: PartOperation<Group<MaskPart>> = { shape: (on, { parts }, rect) => on.parts(parts, rect) };
