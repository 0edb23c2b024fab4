import type { FindingWords } from "../wording";

export const blurUnlike: FindingWords = {
  name: "Blur unlike its distance",
  title: '"{layer}" is {how, select, sharper {sharper} other {softer}} than the plate where it stands',
  sentence:
    "Its edges are {px, number, ::.0} px wide, the plate's there {platePx, number, ::.0} px. {how, select, sharper {Bring it out of focus under Compose, Seat.} other {It cannot be sharpened so far: stand it further off, or take another picture.}}",
};
