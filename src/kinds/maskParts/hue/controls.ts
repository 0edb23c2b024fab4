import type { PartControls } from "../controlling";
import type { Hue } from "./record";

export const hue: PartControls<Hue> = { begin: () => ({ kind: "hue", of: null, hueDeg: 60, widthDeg: 60, leastChroma: 0.03 }) };
