import type { FindingWords } from "../wording";

export const lightSource: FindingWords = {
  name: "Lights and glints",
  title: "{areas, plural, one {A light or glint} other {# lights or glints}} at the top of the range",
  sentence:
    "{share, number, ::scale/100 .00} % of the picture: small and far brighter than what surrounds them, as lamps, the sun and glints are. They may clip.",
};
