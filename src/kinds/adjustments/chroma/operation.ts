import { scaleChroma } from "../../../core/adjust/colour";
import { byOklab } from "../tools";

export const chroma = byOklab(scaleChroma);
