import { adjustHueBand } from "../../../core/adjust/colour";
import { byOklab } from "../tools";

export const hueBand = byOklab(adjustHueBand);
