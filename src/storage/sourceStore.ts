import type { IDBPTransaction } from "idb";
import { DATABASE, guarded, leasesRange, type Schema, type SourceLink } from "./database";
import { wholly } from "./wholly";

type Writing = IDBPTransaction<Schema, (typeof ALL)[number][], "readwrite">;

/** Stores that are looked at where something is let go. */
export const ALL = [DATABASE.jobs, DATABASE.steps, DATABASE.leases, DATABASE.sources, DATABASE.links, DATABASE.folders, DATABASE.pictures] as const;

/** Keeps a source for a job. Until a stored step names it, a lease says that it is needed. */
export const saveSource = (jobId: string, sourceId: string, bytes: Blob): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([DATABASE.sources, DATABASE.leases], "readwrite"), (transaction, ask) => {
      const sources = transaction.objectStore(DATABASE.sources);
      ask(transaction.objectStore(DATABASE.leases).put(Date.now(), [jobId, sourceId]));
      ask(sources.getKey(sourceId).then((known) => (known ? undefined : sources.put(bytes, sourceId))));
    }),
  );

/** Keeps where a source lies in its folder, for a job. */
export const saveLink = (jobId: string, sourceId: string, link: SourceLink): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([DATABASE.links, DATABASE.leases], "readwrite"), (transaction, ask) => {
      ask(transaction.objectStore(DATABASE.leases).put(Date.now(), [jobId, sourceId]));
      ask(transaction.objectStore(DATABASE.links).put(link, sourceId));
    }),
  );

/** Which of these sources neither lie in the browser nor are linked to. */
export const missingSources = (ids: string[]): Promise<string[]> =>
  guarded(async (db) => {
    const known = new Set([...(await db.getAllKeys(DATABASE.sources)), ...(await db.getAllKeys(DATABASE.links))]);
    return ids.filter((id) => !known.has(id));
  });

/** Bytes of a source that the browser keeps, or null. */
export async function loadKept(id: string): Promise<Uint8Array | null> {
  const blob = await guarded((db) => db.get(DATABASE.sources, id));
  return blob ? new Uint8Array(await blob.arrayBuffer()) : null;
}

/** Lets go of what a job was to get and never got, after a crash or a stop; the caller holds the job's lock. */
export const dropLeases = (jobId: string): Promise<void> =>
  guarded((db) =>
    wholly(db.transaction([...ALL], "readwrite"), (transaction, ask) => {
      ask(transaction.objectStore(DATABASE.leases).delete(leasesRange(jobId)));
      ask(dropUnused(transaction));
    }),
  );

/** Removes sources, links and folders that no job names and no job was to get; within the transaction that frees them, so that nothing comes between. */
export async function dropUnused(transaction: Writing): Promise<void> {
  const inUse = new Set((await transaction.objectStore(DATABASE.jobs).getAll()).flatMap((j) => j.sources));
  for (const [, sourceId] of await transaction.objectStore(DATABASE.leases).getAllKeys()) inUse.add(sourceId);
  for (const name of [DATABASE.sources, DATABASE.links] as const) {
    const store = transaction.objectStore(name);
    for (const key of await store.getAllKeys()) if (!inUse.has(key)) await store.delete(key);
  }
  for (const { folderId } of await transaction.objectStore(DATABASE.links).getAll()) inUse.add(folderId);
  const folders = transaction.objectStore(DATABASE.folders);
  for (const key of await folders.getAllKeys()) if (!inUse.has(key)) await folders.delete(key);
}
