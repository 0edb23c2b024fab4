import type { Message } from "../messages/message";
import type { AnyRecord, Records } from "./records/types";

/** What one step changed. */
export interface Diff {
  added: Record<string, AnyRecord>;
  updated: Record<string, [from: AnyRecord, to: AnyRecord]>;
  removed: Record<string, AnyRecord>;
}

export interface Effect {
  /** share of the picture that changed visibly (ΔE2000 over 0.5), 0..1 */
  share: number;
  /** mean ΔE2000 over the changed part */
  meanDeltaE: number;
}

export interface Step {
  id: string;
  parent: string | null;
  at: string;
  stage: string;
  label: Message;
  diff: Diff;
  effect: Effect | null;
  note: string;
}

/** Append-only: steps are never removed; the head moves. An abandoned branch stays reachable. */
export interface History {
  steps: Step[];
  head: string | null;
}

export const EMPTY_HISTORY: History = { steps: [], head: null };

export function diffRecords(before: Records, after: Records): Diff {
  const diff: Diff = { added: {}, updated: {}, removed: {} };
  for (const [id, record] of Object.entries(after)) {
    const old = before[id];
    if (!old) diff.added[id] = record;
    else if (old !== record && JSON.stringify(old) !== JSON.stringify(record)) diff.updated[id] = [old, record];
  }
  for (const [id, record] of Object.entries(before)) if (!after[id]) diff.removed[id] = record;
  return diff;
}

export function isEmptyDiff(diff: Diff): boolean {
  return [diff.added, diff.updated, diff.removed].every((part) => Object.keys(part).length === 0);
}

export function applyDiff(records: Records, diff: Diff): Records {
  const out: Record<string, AnyRecord> = { ...records };
  changeBy(out, diff);
  return out;
}

function changeBy(records: Record<string, AnyRecord>, diff: Diff): void {
  for (const id of Object.keys(diff.removed)) delete records[id];
  for (const [id, record] of Object.entries(diff.added)) records[id] = record;
  for (const [id, [, to]] of Object.entries(diff.updated)) records[id] = to;
}

export function invertDiff(diff: Diff): Diff {
  return {
    added: diff.removed,
    removed: diff.added,
    updated: Object.fromEntries(Object.entries(diff.updated).map(([id, [from, to]]) => [id, [to, from]])),
  };
}

export function stepById(history: History, id: string | null): Step | null {
  return id === null ? null : (history.steps.find((s) => s.id === id) ?? null);
}

/** Steps from the first to the given one. */
export function pathTo({ steps }: History, id: string | null): Step[] {
  const path: Step[] = [];
  // a step stands behind the one it follows
  for (let i = steps.length - 1; i >= 0 && id !== null; i--) {
    if (steps[i].id !== id) continue;
    path.push(steps[i]);
    id = steps[i].parent;
  }
  return path.reverse();
}

/** The records after a step; null stands for the empty start. */
export function recordsAt(history: History, id: string | null): Records {
  const records: Record<string, AnyRecord> = {};
  for (const { diff } of pathTo(history, id)) changeBy(records, diff);
  return records;
}

export function append(history: History, step: Step): History {
  return { steps: [...history.steps, step], head: step.id };
}

/** The step that redo goes to: the newest child of the head. */
export function redoTarget(history: History): Step | null {
  for (let i = history.steps.length - 1; i >= 0; i--) if (history.steps[i].parent === history.head) return history.steps[i];
  return null;
}

/** Moves the head and gives the records there, going up to the common ancestor and down again. */
export function moveHead(history: History, records: Records, target: string | null): { history: History; records: Records } {
  const from = pathTo(history, history.head);
  const to = pathTo(history, target);
  let common = 0;
  while (common < from.length && common < to.length && from[common].id === to[common].id) common++;
  let out = records;
  for (let i = from.length - 1; i >= common; i--) out = applyDiff(out, invertDiff(from[i].diff));
  for (let i = common; i < to.length; i++) out = applyDiff(out, to[i].diff);
  return { history: { ...history, head: target }, records: out };
}
