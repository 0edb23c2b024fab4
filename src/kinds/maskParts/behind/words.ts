import type { PartWords } from "../../wording";

export const behind: PartWords = {
  name: "Behind what is marked",
  does: "What of something seated lies behind walls and steps of the plate that stand nearer.",
  values: {},
};
