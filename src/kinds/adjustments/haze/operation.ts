import { veil } from "../../../core/adjust/colour";
import { byLight } from "../tools";

export const haze = byLight(veil);
