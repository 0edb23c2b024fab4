import type { FindingWords } from "../wording";

export const offSeat: FindingWords = {
  name: "Off its seat",
  title: '"{layer}" does not stand where it was seated',
  sentence:
    "It was moved by hand since: it is {percent, number, ::sign-always .} % in size against what stands there, and its foot lies {px, number, ::.} px off. Seat it again under Compose, or free it of the ground.",
};
