import { title } from "../messages/sentence";
import type { Look } from "../document/looks";
import { valuesOf, type Adjustment } from "../kinds/adjustments/records";
import { ADJUSTMENT_WORDS } from "../kinds/adjustments/words";
import { adjustmentValueText, valueName } from "./adjustmentValues";

/** A value in which two looks differ. */
export interface LookDifference {
  step: string;
  value: string;
  a: string;
  b: string;
}

const NONE = "none";

/** Compares two looks value by value; the k-th adjustment of a kind in one is held against the k-th in the other. */
export function compareLooks(a: Look, b: Look): LookDifference[] {
  const numbered = ({ steps }: Look) => {
    const seen = new Map<Adjustment, number>();
    return new Map(
      steps.map((step) => {
        const n = (seen.get(step.adjustment) ?? 0) + 1;
        seen.set(step.adjustment, n);
        return [`${step.adjustment}/${n}`, step] as const;
      }),
    );
  };
  const [first, second] = [numbered(a), numbered(b)];
  return [...new Set([...first.keys(), ...second.keys()])].flatMap((key): LookDifference[] => {
    const [p, q] = [first.get(key), second.get(key)];
    const { adjustment } = (p ?? q)!;
    const [name, n] = [ADJUSTMENT_WORDS[adjustment].name, Number(key.split("/")[1])];
    const step = n > 1 ? `${name} ${n}` : name;
    if (!p || !q) return [{ step, value: "", a: p ? "there" : NONE, b: q ? "there" : NONE }];
    const [v, w] = [valuesOf(p.adjustment, p.values), valuesOf(q.adjustment, q.values)];
    const differing = Object.keys(v).flatMap((id): LookDifference[] => {
      const [before, after] = [adjustmentValueText(adjustment, id, v[id]), adjustmentValueText(adjustment, id, w[id])];
      return before === after ? [] : [{ step, value: valueName(adjustment, id), a: before, b: after }];
    });
    const percent = (x: number) => `${Math.round(100 * x)} %`;
    if (p.opacity !== q.opacity) differing.push({ step, value: "Opacity", a: percent(p.opacity), b: percent(q.opacity) });
    if (p.mode !== q.mode) differing.push({ step, value: "Blends", a: title(`blend.${p.mode}`), b: title(`blend.${q.mode}`) });
    return differing;
  });
}
