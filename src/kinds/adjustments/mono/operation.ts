import { monoMix } from "../../../core/adjust/colour";
import { byLight } from "../tools";

export const mono = byLight(monoMix);
