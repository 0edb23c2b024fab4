import type { FindingWords } from "../wording";

export const gap: FindingWords = {
  name: "Gaps in a cut-out",
  title: '{count, plural, one {One gap shows} other {# gaps show}} through "{layer}"',
  sentence: "The largest has {px, number} px. Where it is none, keep it under Compose.",
};
