import { glow as spreadLight } from "../../../core/adjust/spatial";
import { byLight } from "../tools";

export const glow = byLight(spreadLight);
