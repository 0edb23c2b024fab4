import type { FindingWords } from "../wording";

export const partSeam: FindingWords = {
  name: "Visible borders of parts",
  title: 'The border of "{layer}" can be seen',
  sentence:
    "The picture changes there by ΔE {deltaE, number, ::.0} more than either frame does, in the worst tenth by {worst, number, ::.0}. Paint on the mask, or draw the box otherwise.",
};
