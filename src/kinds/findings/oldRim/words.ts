import type { FindingWords } from "../wording";

export const oldRim: FindingWords = {
  name: "Old background in a rim",
  title: 'The rim of "{layer}" has the old background in it',
  sentence: "{deltaE, number, ::.0} ΔE towards what was behind it. Paint its edge as fine, or cut by a clean plate.",
};
