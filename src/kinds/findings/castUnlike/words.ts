import type { FindingWords } from "../wording";

export const castUnlike: FindingWords = {
  name: "Cast against its plate",
  title: '"{layer}" has another cast than its plate',
  sentence: "What is neutral in it lies {deltaE, number, ::.0} ΔE towards {towards}. Bring its cast nearer under Compose, Seat, Tone and colour.",
};
