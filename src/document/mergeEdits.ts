import { message } from "../messages/message";
import { countCells, sharedCells, subtractRuns, uniteRuns } from "../core/masks/cellRuns";
import { GHOST_THRESHOLD } from "../core/merge/findGhosts";
import type { OfLight } from "../kinds/merges/fields";
import type { FusionWeights } from "../kinds/merges/fusion/record";
import { mergeKind, ownOf, seatsAtOnce, type MergeCommon, type MergeMethod, type MergeOwn, type MergeRecord } from "../kinds/merges/records";
import { withToneResponse } from "./finishEdits";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import type { GhostRecord } from "./records/types";
import { ghostsOf, workingSetIdOf, workingSetOf } from "./selectors";

/** A merge that no set has yet. */
export type MergeDraft = Omit<MergeCommon, "kind" | "id" | "setId"> & MergeOwn;
/** What of a merge can be set. */
export type MergeChange = Partial<Omit<MergeCommon, "kind" | "id" | "setId">> & Partial<FusionWeights> & Partial<OfLight>;

/** A merge by a method as it begins. @param from a merge whose settings are taken over as far as the method has them @param given what is to be otherwise */
export function freshMerge(method: MergeMethod, given: MergeChange = {}, from?: MergeRecord): MergeDraft {
  const { operationVersion = 1, lateral = null, ghostThreshold = GHOST_THRESHOLD, baseId = null, shares = {} } = from ?? {};
  return { operationVersion, lateral, ghostThreshold, baseId, shares, ...ownOf(method, from), ...given, method } as MergeDraft;
}

export function setMerge(merge: MergeDraft): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const merged = put(records, { ...merge, kind: "merge", id: `merge-${setId}`, setId });
    return mergeKind(merge.method).givesSceneLight ? withToneResponse(merged) : merged;
  };
}

/** What a merge found out, as the engine says it. */
export interface FoundMerge {
  shares: Record<string, number>;
  /** what the method's own record holds of it */
  own: object;
  ghosts: { regions: FoundGhost[] } | null;
}

/** Makes a merge the set's, with all that was found of it. */
export function takeMerge(draft: MergeDraft, { ghosts, own, shares }: FoundMerge): Edit {
  return (records) => {
    const seat = seatsAtOnce(draft.method, workingSetOf(records)?.setKind ?? "separate");
    return setGhosts(ghosts?.regions ?? [], seat)(setMerge({ ...draft, ...own, shares })(records));
  };
}

/** The part of a place that is found, without what the document adds. */
export type FoundGhost = Pick<GhostRecord, "cellPx" | "runs" | "strength" | "proposedId" | "reason">;

/**
 * Takes places over in which something moved. Those painted stay; one that lies where one lay before keeps its number and, where the
 * person had chosen, its frame. @param seat whether the proposed frame is taken at once
 */
export function setGhosts(found: FoundGhost[], seat: boolean): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const old = ghostsOf(records);
    const byHand = old.filter((g) => g.by === "hand");
    const free = old.filter((g) => g.by === "found");
    const used = new Set(byHand.map((g) => g.number));
    const matched = found.map((f) => {
      const i = free.findIndex((g) => g.cellPx === f.cellPx && sharedCells(g.runs, f.runs) * 2 > Math.max(countCells(g.runs), countCells(f.runs)));
      const before = i >= 0 ? free.splice(i, 1)[0] : null;
      if (before) used.add(before.number);
      return { f, before };
    });
    let next = 1;
    const ghosts = matched.map(({ f, before }): GhostRecord => {
      while (!before && used.has(next)) next++;
      const number = before?.number ?? next;
      used.add(number);
      const chosen = before?.chosen ?? false;
      const donorId = before && chosen ? before.donorId : seat ? f.proposedId : null;
      return { ...f, kind: "ghost", id: before?.id ?? newId("ghost"), setId, number, donorId, chosen, by: "found" };
    });
    return put(
      without(
        records,
        old.filter((g) => g.by === "found").map((g) => g.id),
      ),
      ...ghosts,
    );
  };
}

/** Says which frame a place is taken from, or with null that it is merged as it is. */
export function chooseDonor(ghostId: string, donorId: string | null): Edit {
  return updateRecord<GhostRecord>(ghostId, { donorId, chosen: true });
}

/** Paints a frame over a place, or with null gives the place back to the merge. @param runs cells of the stroke */
export function paintDonor(runs: number[], cellPx: number, donorId: string | null): Edit {
  return (records) => {
    if (runs.length === 0) return records;
    const setId = workingSetIdOf(records);
    const all = ghostsOf(records);
    if (donorId === null) {
      const changed = all.flatMap((g) =>
        g.donorId !== null && g.cellPx === cellPx && sharedCells(g.runs, runs) > 0 ? [{ ...g, runs: subtractRuns(g.runs, runs) }] : [],
      );
      const empty = changed.filter((g) => g.runs.length === 0).map((g) => g.id);
      return put(without(records, empty), ...changed.filter((g) => g.runs.length > 0));
    }
    const last = all[all.length - 1];
    // a stroke that touches the last painted place of the same frame makes it larger
    if (last?.by === "hand" && last.donorId === donorId && last.cellPx === cellPx && sharedCells(last.runs, runs) > 0) {
      return put(records, { ...last, runs: uniteRuns(last.runs, runs) });
    }
    const number = (last?.number ?? 0) + 1;
    return put(records, {
      kind: "ghost",
      id: newId("ghost"),
      setId,
      number,
      cellPx,
      runs,
      strength: 0,
      donorId,
      proposedId: null,
      chosen: true,
      reason: message("place.byHand", {}),
      by: "hand",
    });
  };
}
