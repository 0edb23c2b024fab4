import { DRAWN, type PartWords } from "../../wording";

export const polygon: PartWords = { name: "Outline", does: "Inside an outline, drawn on the picture.", hint: DRAWN, values: {} };
