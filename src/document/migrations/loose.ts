export type Loose = Record<string, unknown>;

/** A diff of any version, of which nothing is known yet. */
export interface LooseDiff {
  added: Record<string, Loose>;
  updated: Record<string, [Loose, Loose]>;
  removed: Record<string, Loose>;
}

export interface LooseJob {
  history?: { steps?: { diff?: LooseDiff }[] };
}

export const stepsOf = (job: LooseJob) => (Array.isArray(job.history?.steps) ? job.history.steps : []);

/** A step with every record of its diff changed. */
export function changeStep<T extends { diff?: LooseDiff }>(step: T, change: (r: Loose) => Loose, newId: (id: string) => string): T {
  const { diff } = step;
  if (!diff || typeof diff !== "object") return step;
  const all = <V>(part: Record<string, V>, each: (v: V) => V): Record<string, V> =>
    Object.fromEntries(Object.entries(part ?? {}).map(([id, v]) => [newId(id), each(v)]));
  const updated = all(diff.updated, (pair): [Loose, Loose] => (Array.isArray(pair) ? [change(pair[0]), change(pair[1])] : pair));
  return { ...step, diff: { added: all(diff.added, change), updated, removed: all(diff.removed, change) } };
}
