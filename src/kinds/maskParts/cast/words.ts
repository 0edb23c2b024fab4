import type { PartWords } from "../../wording";

export const cast: PartWords = {
  name: "Cast shadow",
  does: "The shadow on the ground of something that is seated.",
  values: { sourceDeg: "Width of the light", depth: "Depth of the thing" },
};
