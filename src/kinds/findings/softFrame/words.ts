import type { FindingWords } from "../wording";

export const softFrame: FindingWords = {
  name: "Soft frames",
  title: "Frame {frame} is softer",
  sentence: "Its sharpest edges are {widthPx, number, ::.0} px wide, those of the sharpest frame {sharpestPx, number, ::.0} px.",
};
