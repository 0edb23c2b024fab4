import { tintByTone } from "../../../core/adjust/colour";
import { byLight } from "../tools";

export const tint = byLight(tintByTone);
