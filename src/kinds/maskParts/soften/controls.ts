import type { PartControls } from "../controlling";
import type { Soften } from "./record";

export const soften: PartControls<Soften> = { begin: () => ({ kind: "soften", sigmaPx: 12 }) };
