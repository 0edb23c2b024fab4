import { message, ToldError, type Telling } from "../messages/message";
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { History, Step } from "../document/history";
import type { Look } from "../document/looks";
import type { Finding } from "../document/finding";
import type { SetRecord } from "../document/records/types";
import { sourceIdsOf } from "../document/sourceIds";

/** Names in the browser's database. Renaming one loses what people have stored: add a version and move the data instead. */
export const DATABASE = {
  name: "marsh",
  version: 5,
  jobs: "jobs",
  steps: "steps",
  sources: "sources",
  leases: "leases",
  folders: "folders",
  links: "links",
  looks: "looks",
  pictures: "pictures",
} as const;

/** A job as the list of jobs knows it; its steps lie beside it, so that the list never reads them. */
export interface JobEntry {
  id: string;
  name: string;
  updatedAt: string;
  /** when a copy last left the browser, or null */
  lastCopyAt: string | null;
  /** the stage that was open */
  stage: string;
  frames: number;
  /** what the set worked on is */
  setKind: SetRecord["setKind"];
  /** the last stage of the path at which something stands */
  reached: string;
  /** findings that are open; null where the picture as it is was not inspected */
  openFindings: number | null;
  /** when it was removed: until it goes for good it can be taken back; null where it was not */
  removedAt: string | null;
  /** version of its records */
  version: number;
  head: string | null;
  /** every source that any step refers to */
  sources: string[];
  /** what Proof found, and the step it was found at */
  proof: { head: string; findings: Finding[] } | null;
}

/** A folder on disk that the person chose; the browser remembers the permission only for as long as it likes. */
export interface LinkedFolder {
  id: string;
  name: string;
  handle: FileSystemDirectoryHandle;
}

/** Where a source lies that was left in its folder. Its checksum is the source's id. */
export interface SourceLink {
  folderId: string;
  fileName: string;
  size: number;
  lastModified: number;
}

export interface Schema extends DBSchema {
  jobs: { key: string; value: JobEntry };
  /** by job and place in its history */
  steps: { key: [jobId: string, place: number]; value: Step };
  sources: { key: string; value: Blob };
  /** sources that a job needs although none of its stored steps names them yet, and folders that no source is linked to yet */
  leases: { key: [jobId: string, sourceOrFolderId: string]; value: number };
  folders: { key: string; value: LinkedFolder };
  /** by source id */
  links: { key: string; value: SourceLink };
  looks: { key: string; value: Look };
  /** a small picture of each job as it was last looked at, by job */
  pictures: { key: string; value: Blob };
}

/** Why something could not be stored or found. */
export class StorageError extends ToldError {
  override readonly name = "StorageError";
  constructor(
    readonly reason: "quota" | "missing" | "cleared" | "unavailable" | "newer" | "blocked",
    told: Telling,
  ) {
    super(told);
  }
}

let opened: Promise<IDBPDatabase<Schema>> | null = null;

/** How long another tab may take to let go of an older database. */
const PATIENCE_MS = 4000;

function database(): Promise<IDBPDatabase<Schema>> {
  if (opened) return opened;
  let patience: ReturnType<typeof setTimeout> | undefined;
  const opening = new Promise<IDBPDatabase<Schema>>((resolve, reject) => {
    openDB<Schema>(DATABASE.name, DATABASE.version, {
      upgrade: (db, from, _to, transaction) => upgrade(db, from, transaction as unknown as OldTransaction),
      blocked: () => (patience = setTimeout(() => reject(new StorageError("blocked", "storage.blocked")), PATIENCE_MS)),
      // a newer Marsh in another tab wants to change the storage: it shall not wait for this one
      blocking: (_now, _wanted, event) => {
        (event.target as IDBDatabase).close();
        opened = null;
      },
      terminated: () => (opened = null),
    })
      .then(resolve, reject)
      .finally(() => clearTimeout(patience));
  });
  opening.catch(() => opened === opening && (opened = null));
  return (opened = opening);
}

interface OldTransaction {
  objectStore(name: string): { getAll(): Promise<OldEntry[]>; put(value: unknown, key?: unknown): Promise<unknown> };
}
type OldEntry = Omit<JobEntry, "version" | "head" | "sources" | "proof" | keyof Standing> & { job: { version: number; history: History } };
/** Where a job stands, as the list tells it; of one that was stored before, this is known once it was opened. */
type Standing = Pick<JobEntry, "setKind" | "reached" | "openFindings" | "removedAt">;
const UNKNOWN: Standing = { setKind: "separate", reached: "gather", openFindings: null, removedAt: null };

async function upgrade(db: IDBPDatabase<Schema>, from: number, transaction: OldTransaction): Promise<void> {
  if (from < 1) {
    db.createObjectStore(DATABASE.jobs, { keyPath: "id" });
    db.createObjectStore(DATABASE.sources);
  }
  if (from < 2) {
    // sources may stay in a folder
    db.createObjectStore(DATABASE.folders, { keyPath: "id" });
    db.createObjectStore(DATABASE.links);
  }
  if (from < 3) db.createObjectStore(DATABASE.looks, { keyPath: "id" });
  if (from < 4) {
    // steps lie one by one beside their job
    db.createObjectStore(DATABASE.steps);
    db.createObjectStore(DATABASE.leases);
  }
  if (from < 5) db.createObjectStore(DATABASE.pictures);
  if (from === 0) return;
  if (from < 4) {
    const [jobs, steps] = [transaction.objectStore(DATABASE.jobs), transaction.objectStore(DATABASE.steps)];
    for (const { job, ...entry } of await jobs.getAll()) {
      for (const [place, step] of job.history.steps.entries()) await steps.put(step, [entry.id, place]);
      await jobs.put({ ...entry, version: job.version, head: job.history.head, sources: sourceIdsOf(job.history.steps), proof: null });
    }
  }
  if (from < 5) {
    const jobs = transaction.objectStore(DATABASE.jobs);
    for (const entry of await jobs.getAll()) await jobs.put({ ...UNKNOWN, ...entry });
  }
}

/** Carries out work on the database; what goes wrong becomes a StorageError. */
export async function guarded<T>(work: (db: IDBPDatabase<Schema>) => Promise<T>): Promise<T> {
  try {
    return await work(await database());
  } catch (error) {
    throw asStorageError(error);
  }
}

function asStorageError(error: unknown): unknown {
  if (error instanceof StorageError) return error;
  const { name, message: why } = error as DOMException;
  if (name === "QuotaExceededError") {
    return new StorageError("quota", "storage.full");
  }
  if (name === "VersionError") return new StorageError("newer", "storage.newer");
  if (name === "InvalidStateError" || name === "AbortError") opened = null;
  return new StorageError("unavailable", message("storage.unusable", { why }));
}

/** All steps of one job. */
export const stepsRange = (jobId: string): IDBKeyRange => IDBKeyRange.bound([jobId, 0], [jobId, Infinity]);
export const leasesRange = (jobId: string): IDBKeyRange => IDBKeyRange.bound([jobId], [jobId, []]);
