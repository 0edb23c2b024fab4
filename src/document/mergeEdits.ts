import { countCells, sharedCells, subtractRuns, uniteRuns } from "../core/masks/cellRuns";
import { GHOST_THRESHOLD } from "../core/merge/findGhosts";
import { comparesLight, seatsByItself } from "../core/merge/mergeMethods";
import { withToneResponse } from "./finishEdits";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import type { FringeFacts, GhostRecord, MergeRecord, RecoveredResponse } from "./records/types";
import { ghostsOf, workingSetIdOf, workingSetOf } from "./selectors";

/** What a merge begins with when nothing was set. */
export const FRESH_MERGE: Omit<MergeRecord, "kind" | "id" | "setId" | "method"> = {
  operationVersion: 1,
  contrast: 1,
  saturation: 1,
  // nearness to mid tone counts little: so the structure of the frames is kept best, by MEF-SSIM on the demo and on simulated brackets
  exposedness: 0.25,
  response: { choice: "auto", found: null },
  fringe: { removed: false, lateral: null, facts: null },
  ghostThreshold: GHOST_THRESHOLD,
  baseId: null,
  shares: {},
  noiseGain: null,
  seams: null,
};

export function setMerge(merge: Omit<MergeRecord, "kind" | "id" | "setId">): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const merged = put(records, { ...merge, kind: "merge", id: `merge-${setId}`, setId });
    return merge.method === "radiance" ? withToneResponse(merged) : merged;
  };
}

/** What a merge found out, as the engine says it. */
export interface FoundMerge {
  shares: Record<string, number>;
  noiseGain: MergeRecord["noiseGain"];
  response: RecoveredResponse | null;
  fringe: FringeFacts | null;
  seams: MergeRecord["seams"];
  ghosts: { regions: FoundGhost[] } | null;
}

/** Makes a merge the set's, with all that was found of it. */
export function takeMerge(draft: Omit<MergeRecord, "kind" | "id" | "setId">, { ghosts, response, fringe, ...facts }: FoundMerge): Edit {
  return (records) => {
    const seat = seatsByItself(draft.method, workingSetOf(records)?.setKind ?? "separate");
    // what a method does not look for stays as one before it found it
    const light = comparesLight(draft.method) && { response: { ...draft.response, found: response } };
    const edges = draft.method === "radiance" && { fringe: { ...draft.fringe, facts: fringe } };
    const merge = { ...draft, ...facts, ...light, ...edges };
    return setGhosts(ghosts?.regions ?? [], seat)(setMerge(merge)(records));
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
    const kept = old.filter((g) => g.by === "hand");
    const free = old.filter((g) => g.by === "found");
    const used = new Set(kept.map((g) => g.number));
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
      reason: "Painted by hand.",
      by: "hand",
    });
  };
}
