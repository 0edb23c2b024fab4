import type { FindingWords } from "../wording";

export const noEffect: FindingWords = {
  name: "Layers without effect",
  title: 'Layer "{layer}" has no visible effect',
  sentence: "Without it the picture is the same to within 0.5 ΔE everywhere.",
};
