import type { FindingWords } from "../wording";

export const cutOff: FindingWords = {
  name: "Cut off",
  title: '"{layer}" is cut off in {count, plural, one {one place} other {# places}}',
  sentence:
    "It ends there over {px, number} px at its box or at the border of its frame, without an edge of its own. Draw the box wider, or hide the place behind something.",
};
