import type { FindingWords } from "../wording";

export const spill: FindingWords = {
  name: "Masks over an edge",
  title: 'The mask of "{layer}" runs over an edge',
  sentence:
    "By {px} px{others, plural, =0 {} one {, and at # more place} other {, and at # more places}}, where elsewhere it keeps to the edges. Conceal what ran over, with a brush that keeps to its side.",
};
