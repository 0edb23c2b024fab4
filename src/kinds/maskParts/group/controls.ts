import type { PartControls } from "../controlling";
import type { MaskPart } from "../records";
import type { Group } from "./record";

export const group: PartControls<Group<MaskPart>> = { begin: () => ({ kind: "group", parts: [] }) };
