import type { FindingWords } from "../wording";

export const doubledEdge: FindingWords = {
  name: "Doubled edges",
  title: "Edges stand twice where frames {a} and {b} meet",
  sentence:
    "At {apart} of {looked} places along their seam both lie apart, by {px, number, ::.0} px at most. The camera was not turned about its entrance pupil there, or something moved; a place given to one frame mends it.",
};
