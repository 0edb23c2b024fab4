import { takeStep, startJob, type Edit } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { addLayer, placeLayer, updateLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { stepValues } from "./stepValues";

const start = startJob("Reeds", "2026-01-01T00:00:00Z", "s");
/** What the last of some steps says. */
function said(...edits: Edit[]): string {
  let at = { history: start.history, records: start.records, step: null as ReturnType<typeof takeStep>["step"] };
  for (const edit of edits) at = takeStep(at.history, at.records, edit, { stage: "compose", label: "step.compared" }, "2026-01-01T00:00:00Z");
  return stepValues(at.step!);
}
const zones = addLayer({ id: "z", name: "Z", content: { type: "adjustment", adjustment: "zones", values: { zones: 6, zone1: 0.6 } } });
const falloff = addLayer({ id: "f", name: "F", opacity: 0.5, content: { type: "adjustment", adjustment: "falloff", values: { ev: -0.8 } } });

it("what is new tells its values with their units; opacity and blend mode only where they are not as they begin", () => {
  expect(said(zones)).toBe("number of zones 6 · zone 2 0.60 EV");
  expect(said(falloff)).toBe("at the corners \u22120.80 EV · opacity 50 %");
});

it("what is changed tells what is another, and being put elsewhere changes no value", () => {
  expect(said(setFinish("exposure", { ev: 1 }), setFinish("exposure", { ev: 1.2 }))).toBe("exposure 1.20 EV");
  expect(said(zones, updateLayer("z", { mode: "softLight" }))).toBe("blends soft light");
  expect(said(zones, falloff, placeLayer("z", "f", null))).toBe("");
});

it("a merge is told by its name", () => {
  expect(said(setMerge(freshMerge("base")))).toBe("one frame as base");
  expect(said(setMerge(freshMerge("fusion")), setMerge(freshMerge("fusion", { ghostThreshold: 9 })))).toBe("");
});
