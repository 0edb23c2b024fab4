import { valuesOf } from "../kinds/adjustments/records";
import type { Edit } from "./edits";
import { FINISH_STEPS, resetFinish, setFinish, type FinishStep } from "./finishEdits";
import { removeLayer } from "./removal";
import type { Records } from "./records/types";
import { finishId, finishLayerOf, isInFinish, workingSetIdOf } from "./selectors";

/** Values of the steps of a finish. */
export type FinishValues = Partial<Record<FinishStep, Record<string, number>>>;

/** Values that are one of several things have nothing between them. */
const CHOICES = ["curve", "space"];

/** Takes a rendering for the finish, in place of the steps that are there. @param strength how far each value goes from what does nothing, 0..1 */
export const renderedSo =
  (rendering: FinishValues, strength: number): Edit =>
  (records) =>
    FINISH_STEPS.reduce((r, step) => {
      const wanted = rendering[step];
      const there = finishLayerOf(r, step);
      if (!wanted) return there && step !== "toneResponse" ? removeLayer(there.id)(r) : r;
      const neutral = valuesOf(step, {});
      const part = Object.entries(wanted).map(([name, v]) => [name, CHOICES.includes(name) ? v : neutral[name] + strength * (v - neutral[name])]);
      return setFinish(step, Object.fromEntries(part) as Record<string, number>)(r);
    }, records);

/** The merge as it shows by itself: no step of the finish is set. */
export const asMerged: Edit = (records) => FINISH_STEPS.reduce((r, step) => resetFinish(step)(r), records);

/** A job without the steps of its finish. */
export const withoutFinish: Edit = (records) =>
  FINISH_STEPS.reduce((r, step) => {
    const layer = finishLayerOf(r, step);
    return layer ? removeLayer(layer.id)(r) : r;
  }, records);

/** Whether two states of a job differ in nothing but the steps of their finish and what lies over them: what was measured of the merge in one holds of the other. */
export function sameWithoutFinish(a: Records, b: Records): boolean {
  const finish = finishId(workingSetIdOf(a));
  const own = (r: Records) => Object.values(r).filter((v) => !(v.kind === "layer" && (v.id === finish || isInFinish(r, v))));
  const [p, q] = [own(a), own(b)];
  return p.length === q.length && p.every((v) => b[v.id] === v);
}
