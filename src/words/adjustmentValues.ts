import { valuesOfKind, type Adjustment } from "../kinds/adjustments/records";
import { ADJUSTMENT_WORDS } from "../kinds/adjustments/words";

/** What a value of an adjustment is called. */
export function valueName(adjustment: Adjustment, name: string): string {
  const words = ADJUSTMENT_WORDS[adjustment].values[name];
  return typeof words === "string" ? words : (words?.name ?? name);
}

/** A value of an adjustment with its unit, or the name of what was chosen. */
export function adjustmentValueText(adjustment: Adjustment, name: string, value: number): string {
  const words = ADJUSTMENT_WORDS[adjustment].values[name];
  if (typeof words === "object" && words.choices) return words.choices[value] ?? String(value);
  const { unit, digits, scale = 1 } = valuesOfKind(adjustment)[name];
  return `${(value * scale).toFixed(digits).replace("-", "\u2212")} ${unit}`.trimEnd();
}
