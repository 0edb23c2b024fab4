import { lightFalloff } from "../../../core/adjust/spatial";
import { byLight } from "../tools";

export const falloff = byLight(lightFalloff);
