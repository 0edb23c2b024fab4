import type { FindingWords } from "../wording";

export const rimSide: FindingWords = {
  name: "Rim on the wrong side",
  title: '"{layer}" is bright on the side away from its lamp',
  sentence:
    "Its bright side is turned {degrees, number, ::.}° from where the strongest lamp stands. Turn it left for right or take another picture of it under Compose, Seat.",
};
