import { adjustmentValueText, valueName } from "../../../words/adjustmentValues";
import { ADJUSTMENT_WORDS } from "../../adjustments/words";
import type { ContentWords } from "../wording";
import type { AdjustmentContent } from "./record";

export const adjustment: ContentWords<AdjustmentContent> = {
  word: ({ adjustment: kind }, { name }) => (name === ADJUSTMENT_WORDS[kind].name ? "adjustment" : ADJUSTMENT_WORDS[kind].name.toLowerCase()),
  values: ({ adjustment: kind, values }) =>
    Object.fromEntries(Object.entries(values).map(([name, v]) => [valueName(kind, name).toLowerCase(), adjustmentValueText(kind, name, v)])),
};
