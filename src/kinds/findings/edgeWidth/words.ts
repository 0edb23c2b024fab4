import type { FindingWords } from "../wording";

export const edgeWidth: FindingWords = {
  name: "Edge too hard or too soft",
  title: 'The edge of "{layer}" is too {how, select, hard {hard} other {soft}}',
  sentence:
    "It is {px, number, ::.0} px wide, the thing's own edge {ownPx, number, ::.0} px. Paint with Look closely along it, or keep and leave more of what is sure.",
};
