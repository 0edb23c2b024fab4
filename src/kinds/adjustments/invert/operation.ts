import { encodedTable } from "../../../core/adjust/tone";
import { byChannel } from "../tools";

export const invert = byChannel("invert", ({ amount }) => encodedTable((v) => v + amount * (1 - 2 * v)));
