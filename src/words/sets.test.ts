import type { SetSummary } from "../document/sets";
import { setSentence } from "./sets";

const summary: SetSummary = {
  kind: "bracket",
  frames: 5,
  stepMetered: 2,
  stepMeasured: 1.987,
  oddities: [],
  differences: [],
  incomparable: [],
  accepted: [],
};

it("a set is told by its kind, its frames and its steps", () => {
  expect(setSentence(summary)).toBe("Exposure bracket, 5 frames, step 2.0 EV as metered, 1.99 as measured");
  expect(setSentence({ ...summary, stepMetered: null })).toBe("Exposure bracket, 5 frames, step 1.99 EV as measured");
  expect(setSentence({ ...summary, kind: "single", frames: 1, stepMetered: null, stepMeasured: null })).toBe("Single frame, 1 frame");
  expect(setSentence({ ...summary, frames: 0 })).toBe("No frames yet");
});
