import { mergeKind } from "../kinds/merges/records";
import { believeExposures } from "../core/merge/believeExposures";
import { describeMatrix } from "../core/geometry/describeMatrix";
import { ENLARGED, UNUSED_SHARE } from "../core/merge/frameShares";
import type { FrameRecord, Records } from "./records/types";
import { activeFramesOf, exposuresOf, frameNumber, mergedFramesOf, mergeOf, registrationOf, relativeEvOf, responseInForce } from "./selectors";

/** Share clipped even in the darkest frame from which it is said. Common practice, no source. */
const CLIPPED = 0.01;
/** Range of exposures below which frames count as equally exposed, EV. */
const EQUAL_EV = 0.2;
/** Range of exposures from which a focus merge shows it, EV. Common practice, no source. */
const FOCUS_EV = 0.3;
/** Share of one frame above which a focus stack is none. Common practice, no source. */
const ALONE = 0.97;

/** Frames whose noted exposure the pixels deny, against the reference. */
export function contradictedExposures(records: Records, frames: FrameRecord[]): { id: string; told: number; measured: number }[] {
  // a response that was recovered tells what a curve makes of the exposures
  const measuredEv = responseInForce(records)?.relativeEv ?? exposuresOf(records)?.measuredEv;
  const known = frames.filter((f) => f.meteredEv !== null && measuredEv?.[f.id] !== undefined);
  const reference = known.findIndex((f) => f.id === registrationOf(records)?.referenceId);
  if (reference < 0) return [];
  const judged = believeExposures(
    known.map((f) => f.meteredEv!),
    known.map((f) => measuredEv![f.id]),
    reference,
  );
  return judged.flatMap(({ told, ev, believed }, i) =>
    believed || (i === reference && Math.abs(told - ev) < 0.05) ? [] : [{ id: known[i].id, told, measured: ev }],
  );
}

/** What a person should know of the merge in force, in sentences. */
export function mergeRemarks(records: Records): string[] {
  const merge = mergeOf(records);
  const frames = mergedFramesOf(records).map((m) => m.frame);
  if (!merge || frames.length === 0) return [];
  const number = (id: string) => frameNumber(records, id);
  if (frames.length === 1) return [`Only frame ${number(frames[0].id)} takes part, so there is nothing to merge it with.`];
  const remarks: string[] = [];
  const percent = (v: number) => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;
  const ev = frames.map((f) => relativeEvOf(records, f.id));
  if (mergeKind(merge.method).comparesLight) {
    const contradicted = contradictedExposures(records, frames);
    if (contradicted.length > 0) {
      const signed = (v: number) => `${v < -0.05 ? "−" : v > 0.05 ? "+" : ""}${Math.abs(v).toFixed(1)}`;
      const each = contradicted.slice(0, 4).map((c) => `frame ${number(c.id)} is noted at ${signed(c.told)} EV and measures ${signed(c.measured)} EV`);
      remarks.push(
        `The exposures that are noted and what the pixels show contradict each other: against the reference ${each.join(", ")}. Either a note is wrong or the light changed; what is merged and called moved may be wrong there.`,
      );
    }
    const darkest = frames[ev.indexOf(Math.min(...ev))];
    const clipped = Math.max(...darkest.measures.clippedHigh);
    if (clipped > CLIPPED)
      remarks.push(`${percent(clipped)} of the picture is clipped even in frame ${number(darkest.id)}, the darkest: no frame has light for it.`);
    if (Math.max(...ev) - Math.min(...ev) < EQUAL_EV && contradicted.length === 0)
      remarks.push(
        "The frames are equally exposed: merging them lowers noise but widens no range. A mean without outliers does the same and leaves out what moved.",
      );
  }
  if (mergeKind(merge.method).followsFocus) {
    const range = Math.max(...ev) - Math.min(...ev);
    if (range > FOCUS_EV)
      remarks.push(
        `These frames lie ${range.toFixed(1)} EV apart in exposure: a focus merge takes each place from one frame, so its brightness will change from place to place.`,
      );
  }
  // the frames of a panorama look elsewhere, which enlarges nothing
  const enlarged = (mergeKind(merge.method).looksElsewhere ? [] : mergedFramesOf(records)).flatMap(({ frame, matrix }) => {
    const { scale } = describeMatrix(matrix, frame.width, frame.height);
    return scale > ENLARGED ? [{ id: frame.id, scale }] : [];
  });
  for (const { id, scale } of enlarged)
    remarks.push(
      `Frame ${number(id)} is shown ${scale.toFixed(1)} times as large as it was shot and lacks the detail of the others${merge.method === "radiance" ? ": it gives light mainly where they have none" : ""}.`,
    );
  const [lead] = [...frames].sort((a, b) => (merge.shares[b.id] ?? 0) - (merge.shares[a.id] ?? 0));
  if (mergeKind(merge.method).followsFocus && (merge.shares[lead.id] ?? 0) > ALONE)
    remarks.push(`Frame ${number(lead.id)} is the sharpest in ${percent(merge.shares[lead.id])} of the picture: these frames are hardly a focus stack.`);
  const unused = frames.filter((f) => (merge.shares[f.id] ?? 0) < UNUSED_SHARE);
  if (unused.length > 0 && !mergeKind(merge.method).takesNothingUnasked)
    remarks.push(
      `Frame${unused.length > 1 ? "s" : ""} ${unused.map((f) => number(f.id)).join(", ")} ${unused.length > 1 ? "are" : "is"} unused: nothing of the picture comes from there.`,
    );
  const taken = new Set(frames.map((f) => f.id));
  const left = activeFramesOf(records).filter((f) => !taken.has(f.id));
  if (left.length > 0)
    remarks.push(
      `Frame${left.length > 1 ? "s" : ""} ${left.map((f) => number(f.id)).join(", ")} ${left.length > 1 ? "take" : "takes"} no part: not registered.`,
    );
  return remarks;
}
