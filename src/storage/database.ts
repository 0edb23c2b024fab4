import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { Look } from "../document/looks";
import type { StoredJob } from "../document/parseDocument";

/** Names in the browser's database. Renaming one loses what people have stored: add a version and move the data instead. */
export const DATABASE = { name: "marsh", version: 3, jobs: "jobs", sources: "sources", folders: "folders", links: "links", looks: "looks" } as const;

export interface JobEntry {
  id: string;
  name: string;
  updatedAt: string;
  /** when a copy last left the browser, or null */
  lastCopyAt: string | null;
  /** the stage that was open */
  stage: string;
  frames: number;
  job: StoredJob;
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

interface Schema extends DBSchema {
  jobs: { key: string; value: JobEntry };
  sources: { key: string; value: Blob };
  folders: { key: string; value: LinkedFolder };
  /** by source id */
  links: { key: string; value: SourceLink };
  looks: { key: string; value: Look };
}

/** Why something could not be stored or found; `message` is one sentence for people. */
export class StorageError extends Error {
  override readonly name = "StorageError";
  constructor(
    readonly reason: "quota" | "missing" | "unavailable",
    message: string,
  ) {
    super(message);
  }
}

let opened: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>(DATABASE.name, DATABASE.version, {
    upgrade(db, from) {
      if (from < 1) {
        db.createObjectStore(DATABASE.jobs, { keyPath: "id" });
        db.createObjectStore(DATABASE.sources);
      }
      if (from < 2) {
        // sources may stay in a folder
        db.createObjectStore(DATABASE.folders, { keyPath: "id" });
        db.createObjectStore(DATABASE.links);
      }
      db.createObjectStore(DATABASE.looks, { keyPath: "id" });
    },
  });
  return opened;
}

/** Carries out work on the database; what goes wrong becomes a StorageError. */
export async function guarded<T>(work: (db: IDBPDatabase<Schema>) => Promise<T>): Promise<T> {
  try {
    return await work(await database());
  } catch (error) {
    if (error instanceof StorageError) throw error;
    if ((error as DOMException).name === "QuotaExceededError") {
      throw new StorageError("quota", "The browser's storage is full. Nothing stored was lost; save a job file now, then remove jobs you no longer need.");
    }
    throw new StorageError("unavailable", `The browser's storage cannot be used (${(error as Error).message}).`);
  }
}

export const listJobs = (): Promise<JobEntry[]> =>
  guarded(async (db) => (await db.getAll(DATABASE.jobs)).sort((a, b) => b.updatedAt.localeCompare(a.updatedAt)));
export const loadJob = (id: string): Promise<JobEntry | undefined> => guarded((db) => db.get(DATABASE.jobs, id));
export const saveJob = (entry: JobEntry): Promise<unknown> => guarded((db) => db.put(DATABASE.jobs, entry));
export const removeJob = (id: string): Promise<void> => guarded((db) => db.delete(DATABASE.jobs, id));
/** Looks, newest first. */
export const listLooks = (): Promise<Look[]> => guarded(async (db) => (await db.getAll(DATABASE.looks)).sort((a, b) => b.createdAt.localeCompare(a.createdAt)));
export const saveLook = (look: Look): Promise<unknown> => guarded((db) => db.put(DATABASE.looks, look));
export const removeLook = (id: string): Promise<void> => guarded((db) => db.delete(DATABASE.looks, id));
export const saveSource = (id: string, bytes: Blob): Promise<unknown> =>
  guarded(async (db) => ((await db.getKey(DATABASE.sources, id)) ? null : db.put(DATABASE.sources, bytes, id)));

/** Bytes of a source that the browser keeps, or null. */
export async function loadKept(id: string): Promise<Uint8Array | null> {
  const blob = await guarded((db) => db.get(DATABASE.sources, id));
  return blob ? new Uint8Array(await blob.arrayBuffer()) : null;
}

/** Removes sources and links that no stored job refers to. */
export async function removeUnusedSources(inUse: Set<string>): Promise<void> {
  await guarded(async (db) => {
    for (const store of [DATABASE.sources, DATABASE.links]) for (const key of await db.getAllKeys(store)) if (!inUse.has(key)) await db.delete(store, key);
    const linked = new Set((await db.getAll(DATABASE.links)).map((l) => l.folderId));
    for (const key of await db.getAllKeys(DATABASE.folders)) if (!linked.has(key)) await db.delete(DATABASE.folders, key);
  });
}

export interface Room {
  usedBytes: number;
  freeBytes: number;
  persistent: boolean;
}

/** How much the browser still grants; asks for persistent storage. */
export async function measureRoom(): Promise<Room | null> {
  if (!navigator.storage?.estimate) return null;
  const persistent = (await navigator.storage.persist?.()) ?? false;
  const { usage = 0, quota = 0 } = await navigator.storage.estimate();
  return { usedBytes: usage, freeBytes: Math.max(0, quota - usage), persistent };
}
