import { UNUSED_SHARE } from "../core/merge/mergeMethods";
import type { FrameRecord, Records } from "./records/types";
import { exposuresOf, frameNumber, framesOf, mergedFramesOf, mergeOf, registrationOf, relativeEvOf, responseInForce } from "./selectors";

/** Share clipped even in the darkest frame from which it is said. Common practice, no source. */
const CLIPPED = 0.01;
/** Range of exposures below which frames count as equally exposed, EV. */
const EQUAL_EV = 0.2;
/** Share of one frame above which a focus stack is none. Common practice, no source. */
const ALONE = 0.97;

/**
 * By how much noted exposures may differ from measured ones, EV and as a share of the smaller: a camera's curve that is not known stretches or shrinks what is
 * measured. Common practice, no source.
 */
const CONTRADICTING = { ev: 0.4, share: 0.15 };

/** Frames whose noted exposure the pixels deny, against the reference. */
export function contradictedExposures(records: Records, frames: FrameRecord[]): { id: string; told: number; measured: number }[] {
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  // a response that was recovered tells what a curve makes of the exposures
  const measuredEv = responseInForce(records)?.relativeEv ?? exposuresOf(records)?.measuredEv;
  if (!reference || reference.meteredEv === null || measuredEv?.[reference.id] === undefined) return [];
  return frames.flatMap((f) => {
    if (f.id === reference.id || f.meteredEv === null || measuredEv[f.id] === undefined) return [];
    const [told, measured] = [f.meteredEv - reference.meteredEv!, measuredEv[f.id] - measuredEv[reference.id]];
    const allowed = CONTRADICTING.ev + CONTRADICTING.share * Math.min(Math.abs(told), Math.abs(measured));
    return Math.abs(told - measured) > allowed ? [{ id: f.id, told, measured }] : [];
  });
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
  if (merge.method === "radiance" || merge.method === "fusion") {
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
  const [lead] = [...frames].sort((a, b) => (merge.shares[b.id] ?? 0) - (merge.shares[a.id] ?? 0));
  if (merge.method === "focus" && (merge.shares[lead.id] ?? 0) > ALONE)
    remarks.push(`Frame ${number(lead.id)} is the sharpest in ${percent(merge.shares[lead.id])} of the picture: these frames are hardly a focus stack.`);
  const unused = frames.filter((f) => (merge.shares[f.id] ?? 0) < UNUSED_SHARE);
  if (unused.length > 0 && merge.method !== "ground")
    remarks.push(
      `Frame${unused.length > 1 ? "s" : ""} ${unused.map((f) => number(f.id)).join(", ")} ${unused.length > 1 ? "are" : "is"} unused: nothing of the picture comes from there.`,
    );
  return remarks;
}
