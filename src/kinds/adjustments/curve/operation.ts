import { curveTable } from "../../../core/adjust/tone";
import { byChannel } from "../tools";

export const curve = byChannel("curve", curveTable);
