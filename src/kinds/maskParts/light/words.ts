import type { PartWords } from "../../wording";

export const light: PartWords = {
  name: "Luminance range",
  does: "Where the picture or a frame is as bright as said.",
  values: { fromEv: "From", toEv: "To", softEv: "Softness" },
};
