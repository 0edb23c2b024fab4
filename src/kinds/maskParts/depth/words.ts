import type { PartWords } from "../../wording";

export const depth: PartWords = {
  name: "Depth",
  does: "Where certain frames of the focus stack are the sharpest.",
  values: { from: "From frame", to: "To frame", soft: "Softness" },
};
