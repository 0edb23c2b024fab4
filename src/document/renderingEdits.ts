import { valuesOf } from "../kinds/adjustments/records";
import type { Edit } from "./edits";
import { FINISH_STEPS, resetFinish, setFinish, type FinishStep } from "./finishEdits";
import { removeLayer } from "./removal";
import type { Records } from "./records/types";
import { finishId, finishLayerOf, finishValues, isInFinish, workingSetIdOf } from "./selectors";

/** Values of the steps of a finish. */
export type FinishValues = Partial<Record<FinishStep, Record<string, number>>>;

/** Values that are one of several things have nothing between them. */
const CHOICES = ["curve", "space"];

/** What a rendering that says nothing of it leaves: a balance is a choice of its own, and scene light needs a response. */
const LEFT: readonly FinishStep[] = ["whiteBalance", "toneResponse"];

/** Takes a rendering for the finish, in place of the steps that are there, their masks too: it holds for the whole picture. @param strength how far each value goes from what does nothing, 0..1 */
export const renderedSo =
  (rendering: FinishValues, strength: number): Edit =>
  (records) => {
    const replaced = FINISH_STEPS.filter((step) => rendering[step] || !LEFT.includes(step));
    return FINISH_STEPS.reduce((r, step) => {
      const wanted = rendering[step];
      if (!wanted) return r;
      const neutral = valuesOf(step, {});
      const part = Object.entries(wanted).map(([name, v]) => [name, CHOICES.includes(name) ? v : neutral[name] + strength * (v - neutral[name])]);
      return setFinish(step, Object.fromEntries(part) as Record<string, number>)(r);
    }, withoutSteps(replaced)(records));
  };

const withoutSteps =
  (steps: readonly FinishStep[]): Edit =>
  (records) =>
    steps.reduce((r, step) => {
      const layer = finishLayerOf(r, step);
      return layer ? removeLayer(layer.id)(r) : r;
    }, records);

/** Whether the finish is what an edit of it makes, whatever else was set. */
export const isFinished = (records: Records, by: Edit): boolean => {
  const made = by(records);
  return FINISH_STEPS.every((step) => JSON.stringify(stepOf(records, step)) === JSON.stringify(stepOf(made, step)));
};

const stepOf = (records: Records, step: FinishStep) => {
  const layer = finishLayerOf(records, step);
  return layer ? [finishValues(records, step), layer.visible] : null;
};

/** The merge as it shows by itself: no step of the finish is set. */
export const asMerged: Edit = (records) => FINISH_STEPS.reduce((r, step) => resetFinish(step)(r), records);

/** A job without the steps of its finish that a rendering puts in its place; a balance that was set stays. */
export const withoutRendering: Edit = withoutSteps(FINISH_STEPS.filter((step) => step !== "whiteBalance"));

/** Whether two states of a job differ in nothing but the steps of their finish and what lies over them: what was measured of the merge in one holds of the other. */
export function sameWithoutFinish(a: Records, b: Records): boolean {
  const finish = finishId(workingSetIdOf(a));
  const own = (r: Records) => Object.values(r).filter((v) => !(v.kind === "layer" && (v.id === finish || isInFinish(r, v))));
  const [p, q] = [own(a), own(b)];
  return p.length === q.length && p.every((v) => b[v.id] === v);
}
