import { numberText } from "../../../words/numbers";
import type { ContentWords } from "../wording";
import type { Colour, FillContent } from "./record";

const rgb = ({ red, green, blue }: Colour) => [red, green, blue].map((v) => Math.round(255 * v)).join(", ");

export const fill: ContentWords<FillContent> = {
  word: ({ ramp }) => (ramp ? "two colours" : "one colour"),
  values: (content) => ({
    colour: `sRGB ${rgb(content)}`,
    "second colour": content.ramp ? `sRGB ${rgb(content.ramp)}` : "none",
    grain: `${numberText(100 * content.grain, 1)} % at ${numberText(content.grainPx, 1)} px`,
  }),
};
