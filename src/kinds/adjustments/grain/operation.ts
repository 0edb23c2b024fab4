import { addGrain } from "../../../core/adjust/grain";
import { byLight } from "../tools";

export const grain = byLight((light, values, { level, rect }) => addGrain(light, values, level, rect));
