import type { PartControls } from "../controlling";
import type { Painted } from "./record";

export const painted: PartControls<Painted> = { begin: () => ({ kind: "painted" }) };
