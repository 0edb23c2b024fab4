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
