import type { PartWords } from "../../wording";

export const painted: PartWords = {
  name: "Painted",
  does: "Strokes of the brush, on top of the parts before.",
  over: { first: "reveals and conceals", later: "on top of the parts before" },
  values: {},
};
