import type { FindingWords } from "../wording";

export const emptyBorder: FindingWords = {
  name: "Uncovered border",
  title: "{panorama, select, yes {Border that no frame covers} other {Border that not every frame covers}}",
  sentence:
    "{share, number, ::scale/100 .} % of the picture’s edge lies where {panorama, select, yes {no frame has} other {at least one frame has no}} picture.",
};
