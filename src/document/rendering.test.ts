import { setFinish } from "./finishEdits";
import { freshMask } from "./records/layerTypes";
import { addLayer, updateLayer } from "./layerEdits";
import { asMerged, isFinished, renderedSo, sameWithoutFinish, withoutRendering } from "./renderingEdits";
import { checkRecord } from "./parseDocument";
import { finishStepsOf, finishValues, finishLayerOf } from "./selectors";
import { startJob } from "./edits";
import { freshMerge, setMerge } from "./mergeEdits";

const start = setMerge(freshMerge("radiance"))(startJob("Test", "2026-01-01T00:00:00Z", "set-1").records);
const VALUES = { exposure: { ev: 1 }, contrast: { factor: 1.2, pivot: 0.1 }, toneResponse: { curve: 1, headroomEv: 2, shoulderEv: 3 } };

it("a rendering is ordinary steps, in place of those that were there", () => {
  const before = setFinish("chroma", { factor: 1.4 })(start);
  const made = renderedSo(VALUES, 1)(before);
  for (const record of Object.values(made)) expect(checkRecord(record)).toBeUndefined();
  expect(finishValues(made, "exposure")).toEqual({ ev: 1 });
  expect(finishValues(made, "toneResponse")).toMatchObject({ curve: 1, headroomEv: 2, shoulderEv: 3 });
  expect(finishLayerOf(made, "chroma")).toBeUndefined();
});

it("it holds for the whole picture: masks of steps that were there go, a balance that was set stays", () => {
  const before = setFinish("whiteBalance", { mired: 20, duv: 0 })(setFinish("exposure", { ev: -1 })(start));
  const masked = updateLayer(finishLayerOf(before, "exposure")!.id, { mask: freshMask(0) })(before);
  const made = renderedSo(VALUES, 1)(masked);
  expect(finishLayerOf(made, "exposure")!.mask.base).toBe(1);
  expect(finishValues(made, "whiteBalance")).toEqual({ mired: 20, duv: 0 });
  expect(finishValues(withoutRendering(made), "whiteBalance").mired).toBe(20);
});

it("what is taken is told by what is there, after undo and after a change too", () => {
  const made = renderedSo(VALUES, 0.5)(start);
  expect(isFinished(made, renderedSo(VALUES, 0.5))).toBe(true);
  expect(isFinished(made, renderedSo(VALUES, 1))).toBe(false);
  expect(isFinished(start, renderedSo(VALUES, 0.5))).toBe(false);
  expect(isFinished(start, asMerged)).toBe(true);
  expect(isFinished(setFinish("chroma", { factor: 1.1 })(made), renderedSo(VALUES, 0.5))).toBe(false);
});

it("at a strength each value goes part of the way from what does nothing; a choice is made or not", () => {
  const half = renderedSo(VALUES, 0.5)(start);
  expect(finishValues(half, "exposure").ev).toBe(0.5);
  expect(finishValues(half, "contrast").factor).toBeCloseTo(1.1);
  expect(finishValues(half, "toneResponse")).toMatchObject({ curve: 1, headroomEv: 3, shoulderEv: 2.75 });
  expect(finishValues(renderedSo(VALUES, 0)(start), "exposure").ev).toBe(0);
});

it("as merged nothing is set, and the tone response of scene light stays", () => {
  const back = asMerged(renderedSo(VALUES, 1)(start));
  expect(finishStepsOf(back)).toEqual([]);
  expect(finishLayerOf(back, "toneResponse")?.content).toEqual({ type: "adjustment", adjustment: "toneResponse", values: {} });
  expect(finishLayerOf(withoutRendering(back), "toneResponse")).toBeUndefined();
});

it("what was measured holds while only the finish changes", () => {
  expect(sameWithoutFinish(start, renderedSo(VALUES, 1)(start))).toBe(true);
  expect(sameWithoutFinish(renderedSo(VALUES, 1)(start), asMerged(start))).toBe(true);
  expect(sameWithoutFinish(start, addLayer({ name: "Fill", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } } })(start))).toBe(false);
});
