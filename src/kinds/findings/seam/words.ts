import type { FindingWords } from "../wording";

export const seam: FindingWords = {
  name: "Visible seams",
  title: "Seam between frames {a} and {b}",
  sentence: "The frames differ by ΔE {deltaE, number, ::.0} along their seam, at its worst place by {worst, number, ::.0}.",
};
