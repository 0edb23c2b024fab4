import type { Step } from "../document/history";
import { DATABASE, guarded, leasesRange, StorageError, stepsRange, type JobEntry } from "./database";
import { ALL, dropUnused } from "./sourceStore";
import { wholly } from "./wholly";

/** Steps with their places in the history. */
export type PlacedStep = readonly [place: number, step: Step];

/** Jobs, the latest first; their histories are not read. */
export const listJobs = (): Promise<JobEntry[]> =>
  guarded(async (db) => (await db.getAll(DATABASE.jobs)).sort((a, b) => b.updatedAt.localeCompare(a.updatedAt)));

export const loadEntry = (id: string): Promise<JobEntry | undefined> => guarded((db) => db.get(DATABASE.jobs, id));

/** A job with its steps, as they stood at one moment. */
export async function loadJob(id: string): Promise<{ entry: JobEntry; steps: Step[] } | undefined> {
  return guarded(async (db) => {
    const transaction = db.transaction([DATABASE.jobs, DATABASE.steps]);
    const [entry, steps] = await Promise.all([
      transaction.objectStore(DATABASE.jobs).get(id),
      transaction.objectStore(DATABASE.steps).getAll(stepsRange(id)),
      transaction.done,
    ]);
    return entry && { entry, steps };
  });
}

/**
 * Writes a job's entry and the steps that are new or changed: all of it or nothing. Sources that its steps name now need no lease any more.
 * @param others whether further steps of it lie in the storage @throws StorageError "cleared" where they do not any more
 */
export const saveJob = (entry: JobEntry, steps: readonly PlacedStep[], others = false): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([DATABASE.jobs, DATABASE.steps, DATABASE.leases], "readwrite"), (transaction, ask) => {
      // whoever saves a job has its lock, so nobody else has removed it
      if (others) ask(transaction.objectStore(DATABASE.jobs).getKey(entry.id).then(mustBeThere));
      ask(transaction.objectStore(DATABASE.jobs).put(entry));
      for (const [place, step] of steps) ask(transaction.objectStore(DATABASE.steps).put(step, [entry.id, place]));
      for (const id of entry.sources) ask(transaction.objectStore(DATABASE.leases).delete([entry.id, id]));
    }),
  );

function mustBeThere(key: string | undefined): void {
  if (key === undefined) throw new StorageError("cleared", "storage.cleared");
}

/** Forgets a job, its steps, and the sources that no other job needs. The caller holds the job's lock. */
export const removeJob = (id: string): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([...ALL], "readwrite"), (transaction, ask) => {
      ask(transaction.objectStore(DATABASE.jobs).delete(id));
      ask(transaction.objectStore(DATABASE.steps).delete(stepsRange(id)));
      ask(transaction.objectStore(DATABASE.leases).delete(leasesRange(id)));
      ask(transaction.objectStore(DATABASE.pictures).delete(id));
      ask(dropUnused(transaction));
    }),
  );

/** Changes a job's entry, if it is there. The caller holds the job's lock. */
export const changeEntry = (id: string, change: Partial<JobEntry>): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([DATABASE.jobs], "readwrite"), (transaction, ask) => {
      const jobs = transaction.objectStore(DATABASE.jobs);
      ask(jobs.get(id).then((entry) => entry && jobs.put({ ...entry, ...change })));
    }),
  );

/** Keeps the small picture of a job, unless the job is gone. */
export const savePicture = (jobId: string, picture: Blob): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([DATABASE.jobs, DATABASE.pictures], "readwrite"), (transaction, ask) => {
      ask(
        transaction
          .objectStore(DATABASE.jobs)
          .getKey(jobId)
          .then((there) => there && transaction.objectStore(DATABASE.pictures).put(picture, jobId)),
      );
    }),
  );

export const loadPicture = (jobId: string): Promise<Blob | undefined> => guarded((db) => db.get(DATABASE.pictures, jobId));

/** Bytes that each job's sources take in the browser; what two jobs share counts for both. */
export const sizesOnDisk = (entries: JobEntry[]): Promise<Map<string, number>> =>
  guarded(async (db) => {
    const sizes = new Map<string, number>();
    for (let cursor = await db.transaction(DATABASE.sources).store.openCursor(); cursor; cursor = await cursor.continue())
      sizes.set(cursor.key, cursor.value.size);
    return new Map(entries.map((e) => [e.id, e.sources.reduce((sum, id) => sum + (sizes.get(id) ?? 0), 0)]));
  });
