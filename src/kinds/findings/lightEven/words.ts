import type { FindingWords } from "../wording";

export const lightEven: FindingWords = {
  name: "Lit unlike the plate",
  title: '"{layer}" is lit {plate, select, sun {evenly, the plate from one side} other {from one side, the plate evenly}}',
  sentence:
    "By its outline its two sides are {ownEv, number, ::.0} EV apart; in the plate's light they would be {thereEv, number, ::.0} EV. Take it from a picture in such light, or accept it.",
};
