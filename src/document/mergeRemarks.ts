import { message, type Message } from "../messages/message";
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

/** What a person should know of the merge in force. */
export function mergeRemarks(records: Records): Message[] {
  const merge = mergeOf(records);
  const frames = mergedFramesOf(records).map((m) => m.frame);
  if (!merge || frames.length === 0) return [];
  const number = (id: string) => frameNumber(records, id);
  if (frames.length === 1) return [message("merge.alone", { number: number(frames[0].id) })];
  const remarks: Message[] = [];
  const percent = (v: number) => (100 * v).toFixed(v < 0.1 ? 1 : 0);
  const ev = frames.map((f) => relativeEvOf(records, f.id));
  if (mergeKind(merge.method).comparesLight) {
    const contradicted = contradictedExposures(records, frames);
    if (contradicted.length > 0) {
      const each = contradicted.slice(0, 4).map((c) => message("merge.noted", { number: number(c.id), told: c.told, measured: c.measured }));
      remarks.push(message("merge.contradicted", { frames: each }));
    }
    const darkest = frames[ev.indexOf(Math.min(...ev))];
    const clipped = Math.max(...darkest.measures.clippedHigh);
    if (clipped > CLIPPED) remarks.push(message("merge.clipped", { percent: percent(clipped), number: number(darkest.id) }));
    if (Math.max(...ev) - Math.min(...ev) < EQUAL_EV && contradicted.length === 0) remarks.push(message("merge.equal", {}));
  }
  if (mergeKind(merge.method).followsFocus) {
    const range = Math.max(...ev) - Math.min(...ev);
    if (range > FOCUS_EV) remarks.push(message("merge.focusOfBracket", { ev: range }));
  }
  // the frames of a panorama look elsewhere, which enlarges nothing
  const enlarged = (mergeKind(merge.method).looksElsewhere ? [] : mergedFramesOf(records)).flatMap(({ frame, matrix }) => {
    const { scale } = describeMatrix(matrix, frame.width, frame.height);
    return scale > ENLARGED ? [{ id: frame.id, scale }] : [];
  });
  for (const { id, scale } of enlarged)
    remarks.push(message(merge.method === "radiance" ? "merge.enlargedLight" : "merge.enlarged", { number: number(id), scale }));
  const [lead] = [...frames].sort((a, b) => (merge.shares[b.id] ?? 0) - (merge.shares[a.id] ?? 0));
  if (mergeKind(merge.method).followsFocus && (merge.shares[lead.id] ?? 0) > ALONE)
    remarks.push(message("merge.oneFocus", { number: number(lead.id), percent: percent(merge.shares[lead.id]) }));
  const told = (of: FrameRecord[]) => ({ count: of.length, numbers: of.map((f) => number(f.id)) });
  const unused = frames.filter((f) => (merge.shares[f.id] ?? 0) < UNUSED_SHARE);
  if (unused.length > 0 && !mergeKind(merge.method).takesNothingUnasked) remarks.push(message("merge.unused", told(unused)));
  const taken = new Set(frames.map((f) => f.id));
  const left = activeFramesOf(records).filter((f) => !taken.has(f.id));
  if (left.length > 0) remarks.push(message("merge.noPart", told(left)));
  return remarks;
}
