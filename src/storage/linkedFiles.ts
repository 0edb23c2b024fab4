import { message } from "../messages/message";
import { wholly } from "./wholly";
import { DATABASE, guarded, StorageError, type LinkedFolder, type SourceLink } from "./database";
import { loadKept } from "./sourceStore";

/** How a linked source stands. */
export type LinkState = "found" | "notAllowed" | "missing" | "changed";

export interface CheckedLink {
  sourceId: string;
  folderId: string;
  folderName: string;
  fileName: string;
  state: LinkState;
  /** the name under which it was found again, where it had been renamed */
  foundAs: string | null;
}

type Digest = (bytes: Uint8Array) => Promise<string>;

/** Parts of the file system's interface that type libraries lack. */
type Permitted = FileSystemHandle & {
  queryPermission?(o: { mode: "read" }): Promise<PermissionState>;
  requestPermission?(o: { mode: "read" }): Promise<PermissionState>;
};

/** Keeps a folder for a job; one that is known already keeps its id. Until a source is linked to it, a lease says that it is needed. */
export async function keepFolder(jobId: string, handle: FileSystemDirectoryHandle): Promise<LinkedFolder> {
  let folder: LinkedFolder = { id: crypto.randomUUID(), name: handle.name, handle };
  for (const known of await guarded((db) => db.getAll(DATABASE.folders))) if (await known.handle.isSameEntry(handle)) folder = known;
  await guarded((db) =>
    wholly(db.transaction([DATABASE.folders, DATABASE.leases], "readwrite"), (transaction, ask) => {
      ask(transaction.objectStore(DATABASE.leases).put(Date.now(), [jobId, folder.id]));
      // another tab may have let it go meanwhile
      ask(transaction.objectStore(DATABASE.folders).put(folder));
    }),
  );
  return folder;
}

/** Says where a source lies now. */
const relink = (sourceId: string, link: SourceLink): Promise<unknown> => guarded((db) => db.put(DATABASE.links, link, sourceId));

/** Names in a folder that may be pictures, in their order; readers go by content, so this only leaves out what surely is none. */
export async function pictureNames(folder: FileSystemDirectoryHandle): Promise<string[]> {
  const names: string[] = [];
  for await (const [name, entry] of entriesOf(folder)) if (entry.kind === "file" && PICTURE_NAME.test(name)) names.push(name);
  return names.sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
}
const PICTURE_NAME = /\.(jpe?g|png|tiff?|webp|avif|exr|hdr|dng|cr2|cr3|nef|nrw|arw|raf|orf|rw2|pef|srw|3fr|iiq|raw)$/i;

const entriesOf = (folder: FileSystemDirectoryHandle) =>
  (folder as FileSystemDirectoryHandle & { entries(): AsyncIterable<[string, FileSystemHandle]> }).entries();

/** Asks the person to allow reading a folder again; has to be called from a click. */
export async function allowFolder(folderId: string): Promise<boolean> {
  const folder = await guarded((db) => db.get(DATABASE.folders, folderId));
  const handle = folder?.handle as Permitted | undefined;
  return handle !== undefined && (await (handle.requestPermission?.({ mode: "read" }) ?? "granted")) === "granted";
}

/** Bytes of a source, kept in the browser or left in its folder. @throws StorageError that says what to do */
export async function loadSource(sourceId: string, digest: Digest): Promise<Uint8Array> {
  const kept = await loadKept(sourceId);
  if (kept) return kept;
  const link = await guarded((db) => db.get(DATABASE.links, sourceId));
  if (!link) throw new StorageError("missing", "storage.sourceMissing");
  const { state, file, folderName } = await look(sourceId, link, digest);
  if (file) return new Uint8Array(await file.arrayBuffer());
  const place = { file: link.fileName, folder: folderName };
  const told = {
    notAllowed: message("storage.notAllowed", place),
    missing: message("storage.notInFolder", place),
    changed: message("storage.changed", place),
    found: message("storage.unreadable", { file: link.fileName }),
  }[state];
  throw new StorageError("missing", told);
}

/** Looks at every linked source of a job; renamed files are found by their checksum and linked anew. */
export async function checkLinks(sourceIds: string[], digest: Digest): Promise<CheckedLink[]> {
  const checked: CheckedLink[] = [];
  for (const sourceId of sourceIds) {
    const link = await guarded((db) => db.get(DATABASE.links, sourceId));
    if (!link || (await guarded((db) => db.getKey(DATABASE.sources, sourceId)))) continue;
    const { state, folderName, file } = await look(sourceId, link, digest);
    const { folderId, fileName } = link;
    checked.push({ sourceId, folderId, folderName, fileName, state, foundAs: file && file.name !== fileName ? file.name : null });
  }
  return checked;
}

/** Links every source that another folder holds. @returns ids of those found there */
export async function findIn(folder: LinkedFolder, sourceIds: string[], digest: Digest): Promise<string[]> {
  const found: string[] = [];
  for (const sourceId of sourceIds) {
    const link = await guarded((db) => db.get(DATABASE.links, sourceId));
    const file = link && (await findByChecksum(folder.handle, sourceId, link.size, digest));
    if (!file) continue;
    await relink(sourceId, { folderId: folder.id, fileName: file.name, size: file.size, lastModified: file.lastModified });
    found.push(sourceId);
  }
  return found;
}

async function look(sourceId: string, link: SourceLink, digest: Digest): Promise<{ state: LinkState; folderName: string; file: File | null }> {
  const folder = await guarded((db) => db.get(DATABASE.folders, link.folderId));
  const folderName = folder?.name ?? "";
  if (!folder) return { state: "missing", folderName, file: null };
  const handle = folder.handle as FileSystemDirectoryHandle & Permitted;
  if (handle.queryPermission && (await handle.queryPermission({ mode: "read" })) !== "granted") return { state: "notAllowed", folderName, file: null };
  const there = await fileIn(handle, link.fileName);
  if (there && (await isSource(there, sourceId, link, digest))) return { state: "found", folderName, file: there };
  const renamed = await findByChecksum(handle, sourceId, link.size, digest).catch(() => null);
  if (!renamed) return { state: there ? "changed" : "missing", folderName, file: null };
  await relink(sourceId, { ...link, fileName: renamed.name, lastModified: renamed.lastModified });
  return { state: "found", folderName, file: renamed };
}

async function fileIn(folder: FileSystemDirectoryHandle, name: string): Promise<File | null> {
  try {
    return await (await folder.getFileHandle(name)).getFile();
  } catch {
    return null;
  }
}

/** A file of the same size and date is taken as unchanged; else its checksum decides. */
async function isSource(file: File, sourceId: string, link: SourceLink, digest: Digest): Promise<boolean> {
  if (file.size !== link.size) return false;
  if (file.lastModified === link.lastModified) return true;
  if ((await digest(new Uint8Array(await file.arrayBuffer()))) !== sourceId) return false;
  await relink(sourceId, { ...link, lastModified: file.lastModified });
  return true;
}

async function findByChecksum(folder: FileSystemDirectoryHandle, sourceId: string, size: number, digest: Digest): Promise<File | null> {
  for await (const [name, entry] of entriesOf(folder)) {
    const file = entry.kind === "file" ? await fileIn(folder, name) : null;
    if (file?.size === size && (await digest(new Uint8Array(await file.arrayBuffer()))) === sourceId) return file;
  }
  return null;
}
