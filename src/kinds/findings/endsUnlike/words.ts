import type { FindingWords } from "../wording";

export const endsUnlike: FindingWords = {
  name: "Black or white unlike its plate",
  title: 'The {end, select, black {black} other {white}} of "{layer}" is off its surroundings',
  sentence:
    "It lies {ev, number, ::.0} EV {end, select, black {deeper than the plate's around it: air between would have lifted it} other {over the plate's around it}}. Bring its tones nearer under Compose, Seat, Tone and colour.",
};
