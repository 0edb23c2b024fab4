import type { PartWords } from "../../wording";

export const soften: PartWords = {
  name: "Softened",
  does: "Strokes blur what the parts before it made.",
  over: { first: "blurs the parts before where painted", later: "blurs the parts before where painted" },
  values: { sigmaPx: "Blurred by" },
};
