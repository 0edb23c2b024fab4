import type { PartWords } from "../../wording";

export const sharpness: PartWords = {
  name: "Range of detail",
  does: "Where detail of a size is as strong as said, in the picture or a frame.",
  values: { sizePx: "Detail up to", fromEv: "From", softEv: "Softness" },
};
