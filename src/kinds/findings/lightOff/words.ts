import type { FindingWords } from "../wording";

export const lightOff: FindingWords = {
  name: "Lit from another side",
  title: '"{layer}" is lit from another side than the plate',
  sentence:
    "By its outline the light on it comes from {degrees, number, ::.}° off the plate's. {helps, select, yes {Mirrored it is {mirrored, number, ::.}° off: turn it left for right under Compose, Seat.} other {Mirrored it is no better.}}",
};
