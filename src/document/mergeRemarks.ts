import { UNUSED_SHARE } from "../core/merge/mergeMethods";
import type { Records } from "./records/types";
import { frameNumber, mergedFramesOf, mergeOf, relativeEvOf } from "./selectors";

/** Share clipped even in the darkest frame from which it is said. Common practice, no source. */
const CLIPPED = 0.01;
/** Range of exposures below which frames count as equally exposed, EV. */
const EQUAL_EV = 0.2;
/** Share of one frame above which a focus stack is none. Common practice, no source. */
const ALONE = 0.97;

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
    const darkest = frames[ev.indexOf(Math.min(...ev))];
    const clipped = Math.max(...darkest.measures.clippedHigh);
    if (clipped > CLIPPED)
      remarks.push(`${percent(clipped)} of the picture is clipped even in frame ${number(darkest.id)}, the darkest: no frame has light for it.`);
    if (Math.max(...ev) - Math.min(...ev) < EQUAL_EV)
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
