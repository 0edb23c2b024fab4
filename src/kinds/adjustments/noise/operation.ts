import { reduceNoise } from "../../../core/adjust/spatial";
import { byLight } from "../tools";

export const noise = byLight(reduceNoise);
