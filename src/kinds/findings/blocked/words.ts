import type { FindingWords } from "../wording";

export const blocked: FindingWords = {
  name: "Blocked areas",
  title: "{areas, plural, one {Blocked area} other {# blocked areas}}",
  sentence:
    "{share, number, ::scale/100 .00} % of the picture is at the bottom of the range in at least one channel (R {red, number, ::scale/100 .00} %, G {green, number, ::scale/100 .00} %, B {blue, number, ::scale/100 .00} %).",
};
