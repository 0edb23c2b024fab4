import { sentence } from "../messages/sentence";
import { addFrames, setRegistration, startJob, unmovedRegistration } from "./edits";
import { freshMerge, setMerge } from "./mergeEdits";
import { newFrame } from "../../tests/support/records";
import { mergeRemarks } from "./mergeRemarks";
import type { FramePlacement, Records } from "./records/types";
import type { MergeRecord } from "../kinds/merges/records";
import { framesOf, registrationOf } from "./selectors";

/** A job whose frames have the exposures given, the darkest with the share clipped, merged with the shares given. */
function merged(method: MergeRecord["method"], ev: number[], shares: number[], clipped = 0, told: number[] = ev): Records {
  const made = told.map((meteredEv) => newFrame({ meteredEv, measures: { ...newFrame().measures, clippedHigh: [clipped, 0, 0] } }));
  const job = addFrames(made)(startJob("Test", "2026-10-02T10:00:00Z").records);
  const frames = framesOf(job);
  const placed = setRegistration(unmovedRegistration(frames, frames[0], 1), Object.fromEntries(frames.map((f, k) => [f.id, ev[k]])))(job);
  return setMerge(freshMerge(method, { shares: Object.fromEntries(frames.map((f, k) => [f.id, shares[k]])) }))(placed);
}

/** The last placement changed. */
function placed(records: Records, change: Partial<FramePlacement>): Records {
  const registration = registrationOf(records)!;
  const placements = registration.placements.map((p, i) => (i === registration.placements.length - 1 ? { ...p, ...change } : p));
  return { ...records, [registration.id]: { ...registration, placements } };
}
const resized = (records: Records) => placed(records, { matrix: [2, 0, 0, 0, 2, 0, 0, 0, 1] });
const unplaced = (records: Records) => placed(records, { registered: false, matrix: null });

it.each([
  ["a sound bracket", merged("radiance", [-2, 0, 2], [0.2, 0.4, 0.4]), []],
  ["one frame only", merged("radiance", [0], [1]), [/Only frame 1 takes part/]],
  ["clipped in all", merged("radiance", [-2, 0], [0.5, 0.5], 0.3), [/30 % of the picture is clipped even in frame 1, the darkest/]],
  ["no bracket", merged("fusion", [0, 0.1], [0.5, 0.5]), [/equally exposed/]],
  ["no focus stack", merged("focus", [0, 0], [0.99, 0.01]), [/Frame 1 is the sharpest in 99 % of the picture/]],
  ["one frame noted 1 EV off", merged("radiance", [-2, 0, 2], [0.2, 0.4, 0.4], 0, [-2, 0, 1]), [/frame 3 is noted at \+3.0 EV and measures \+4.0 EV/]],
  [
    "signs reversed",
    merged("fusion", [-2, 0, 2], [0.2, 0.4, 0.4], 0, [2, 0, -2]),
    [/frame 2 is noted at −2.0 EV.*frame 3 is noted at −4.0 EV and measures \+4.0/],
  ],
  ["all noted alike", merged("radiance", [-4, 0, 4], [0.2, 0.4, 0.4], 0, [0, 0, 0]), [/frame 2 is noted at 0.0 EV and measures \+4.0 EV/]],
  ["a curve that stretches what is measured", merged("radiance", [-2.4, 0, 2.4], [0.2, 0.4, 0.4], 0, [-2, 0, 2]), []],
  ["a focus stack of a bracket", merged("focus", [-2, 0, 2], [0.3, 0.4, 0.3]), [/4.0 EV apart in exposure: a focus merge/]],
  ["a frame of half the size", resized(merged("radiance", [-2, 0, 2], [0.2, 0.4, 0.4])), [/Frame 3 is shown 2.0 times as large as it was shot/]],
  ["a panorama whose frames look aside", resized(merged("panorama", [0, 0, 0], [0.3, 0.4, 0.3])), []],
  ["a frame that fits nowhere", unplaced(merged("radiance", [-2, 0, 2], [0.2, 0.4, 0.4])), [/Frame 3 takes no part: not registered/]],
  ["an unused frame", merged("radiance", [-2, 0, 2], [0, 0.5, 0.5]), [/Frame 1 is unused/]],
])("%s", (_, records, wanted) => {
  const said = mergeRemarks(records);
  expect(said).toHaveLength(wanted.length);
  wanted.forEach((w, k) => expect(sentence(said[k])).toMatch(w));
});
