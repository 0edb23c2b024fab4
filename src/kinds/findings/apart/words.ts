import type { FindingWords } from "../wording";

export const apart: FindingWords = {
  name: "Parts apart",
  title: '{count, plural, one {One part} other {# parts}} of "{layer}" {count, plural, one {lies} other {lie}} apart',
  sentence: "The largest has {px, number} px. Leave out under Compose what does not belong to it.",
};
