import { encodedTable, levelsResponse } from "../../../core/adjust/tone";
import { byChannel } from "../tools";

export const levels = byChannel("levels", (values) => encodedTable(levelsResponse(values)));
