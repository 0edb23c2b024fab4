import { newStroke } from "../../tests/support/records";
import { compareStates } from "./compareStates";
import { addRecord, startJob } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { addLayer, paintedMask, updateLayer } from "../document/layerEdits";

const start = startJob("Test", "2026-01-01T00:00:00Z").records;

it("two states are compared value by value, strokes with their layer", () => {
  const hue = (hueDeg: number) => ({ type: "adjustment" as const, adjustment: "hueBand" as const, values: { hueDeg, factor: 1.2 } });
  const before = setFinish("exposure", { ev: 0.5 })(addLayer({ id: "l", name: "Reeds", content: hue(54), mask: paintedMask(0, "p") })(start));
  let after = addRecord(newStroke())(before);
  expect(compareStates(before, after)).toEqual([{ thing: 'Layer "Reeds"', value: "strokes", before: "0", after: "1" }]);
  after = updateLayer("l", { content: hue(50), opacity: 0.48 })(after);
  after = setFinish("exposure", { ev: -0.25 })(after);
  after = addLayer({ name: "Sky", content: { type: "group", through: false } })(after);
  expect(compareStates(before, after)).toEqual([
    { thing: 'Layer "Sky"', value: "", before: "none", after: "there" },
    { thing: 'Layer "Reeds"', value: "opacity", before: "100 %", after: "48 %" },
    { thing: 'Layer "Reeds"', value: "strokes", before: "0", after: "1" },
    { thing: 'Layer "Reeds"', value: "centre", before: "54 °", after: "50 °" },
    { thing: 'Layer "Exposure"', value: "exposure", before: "0.50 EV", after: "\u22120.25 EV" },
  ]);
  expect(compareStates(after, after)).toEqual([]);
});
