import { ADJUSTMENT_KINDS, valuesOf, type LayerAdjustment } from "../core/adjust/adjustments";
import { BLEND_NAMES, type BlendMode } from "../core/blend/blendModes";
import { newId, type Edit } from "./edits";
import { addLayer } from "./layerEdits";
import type { LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { childrenOf, layerOf } from "./selectors";

/** One adjustment of a look, without the mask it had. */
export interface LookStep {
  name: string;
  adjustment: LayerAdjustment;
  values: Record<string, number>;
  opacity: number;
  mode: BlendMode;
}

/** Adjustments with their values, to be laid over another picture. Belongs to the person, not to a job. */
export interface Look {
  id: string;
  name: string;
  createdAt: string;
  /** bottom first */
  steps: LookStep[];
}

/** The adjustments of a layer: its own, or all that a group holds. */
export function stepsOfLayer(records: Records, layerId: string): LookStep[] {
  const layer = layerOf(records, layerId);
  if (!layer) return [];
  if (layer.content.type === "group") return childrenOf(records, layerId).flatMap((l) => stepsOfLayer(records, l.id));
  return layer.content.type === "adjustment" ? [stepOf(layer, layer.content.adjustment, layer.content.values)] : [];
}

const stepOf = ({ name, opacity, mode }: LayerRecord, adjustment: LayerAdjustment, values: Record<string, number>): LookStep => ({
  name,
  adjustment,
  values: { ...values },
  opacity,
  mode,
});

/** Lays the adjustments of a look over all that is there, each as a layer that reveals all. */
export function layLook(look: Look): Edit {
  return (records) =>
    look.steps.reduce(
      (r, { name, adjustment, values, opacity, mode }) =>
        addLayer({ id: newId("layer"), name, note: `From the look "${look.name}".`, content: { type: "adjustment", adjustment, values }, opacity, mode })(r),
      records,
    );
}

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
    const seen = new Map<LayerAdjustment, number>();
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
    const kind = ADJUSTMENT_KINDS[(p ?? q)!.adjustment];
    const [name, n] = [kind.name, Number(key.split("/")[1])];
    const step = n > 1 ? `${name} ${n}` : name;
    if (!p || !q) return [{ step, value: "", a: p ? "there" : NONE, b: q ? "there" : NONE }];
    const [v, w] = [valuesOf(p.adjustment, p.values), valuesOf(q.adjustment, q.values)];
    const differing = Object.entries(kind.values).flatMap(([id, { name: value, unit, digits, scale = 1 }]): LookDifference[] => {
      const text = (x: number) => `${(x * scale).toFixed(digits).replace("-", "\u2212")} ${unit}`.trimEnd();
      return text(v[id]) === text(w[id]) ? [] : [{ step, value, a: text(v[id]), b: text(w[id]) }];
    });
    const percent = (x: number) => `${Math.round(100 * x)} %`;
    if (p.opacity !== q.opacity) differing.push({ step, value: "Opacity", a: percent(p.opacity), b: percent(q.opacity) });
    if (p.mode !== q.mode) differing.push({ step, value: "Blends", a: BLEND_NAMES[p.mode], b: BLEND_NAMES[q.mode] });
    return differing;
  });
}
