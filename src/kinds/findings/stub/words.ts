import type { FindingWords } from "../wording";

export const stub: FindingWords = {
  name: "Stubs on the rim",
  title: '{count, plural, one {A stub hangs} other {# stubs hang}} on the rim of "{layer}"',
  sentence: "The largest has {px, number} px and looks like what lay behind. Leave it out under Compose, unless it belongs to the thing.",
};
