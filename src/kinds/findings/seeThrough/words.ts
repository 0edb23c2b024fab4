import type { FindingWords } from "../wording";

export const seeThrough: FindingWords = {
  name: "Seen through",
  title: '"{layer}" is seen through',
  sentence: "It is at {percent, number, ::.} % opacity: what lies behind a solid thing shows below some 85 %. Lay haze over it instead.",
};
