import type { FindingWords } from "../wording";

export const clipped: FindingWords = {
  name: "Clipped areas",
  title: "{areas, plural, one {Clipped area} other {# clipped areas}}",
  sentence:
    "{share, number, ::scale/100 .00} % of the picture is at the top of the range (R {red, number, ::scale/100 .00} %, G {green, number, ::scale/100 .00} %, B {blue, number, ::scale/100 .00} %, lights included).",
};
