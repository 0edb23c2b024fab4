import { LostRaster, totalBytes, type RasterFile, type RasterSpec, type RasterStore } from "../engine/tiles/RasterStore";
import { TiledRasterFile } from "../engine/tiles/TiledRasterFile";
import { StorageError } from "./database";

interface SyncHandle {
  read(buffer: Uint8Array, options: { at: number }): number;
  write(buffer: Uint8Array, options: { at: number }): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
}

/** What lies beside a file and says that it is whole. */
interface Note {
  spec: RasterSpec;
  /** the job it was made for */
  owner: string;
  /** when it was last opened */
  usedAt: number;
}

const FOLDER = "rasters-tiled";
/** Folders of before; what is in them is made again. */
const OLD_FOLDERS = ["rasters"];

/** The most that intermediate pictures may take, in bytes: so much, and no more than a share of what the browser grants. */
export const RASTER_BUDGET = { bytes: 16e9, share: 0.4 } as const;

/** Ages are told this exactly, ms; noting every opening would cost more than it tells. */
const AGE_STEP_MS = 60_000;

/** Rasters in the browser's private file system. A `.json` beside a file says that it is complete. Runs in a worker only. */
export class OpfsRasterStore implements RasterStore {
  private readonly handles = new Map<string, SyncHandle>();
  private readonly notes = new Map<string, Note>();
  /** the job that rasters are made for */
  owner = "";

  private constructor(
    private folder: FileSystemDirectoryHandle,
    private readonly budget: number,
    /** names files of this tab where another tab has the usual one to itself */
    private readonly tab: string,
  ) {}

  static async create(): Promise<OpfsRasterStore> {
    const root = await navigator.storage.getDirectory();
    for (const old of OLD_FOLDERS) await root.removeEntry(old, { recursive: true }).catch(() => undefined);
    const { quota = Infinity } = (await navigator.storage.estimate?.()) ?? {};
    const folder = await root.getDirectoryHandle(FOLDER, { create: true });
    const store = new OpfsRasterStore(folder, Math.min(RASTER_BUDGET.bytes, quota * RASTER_BUDGET.share), crypto.randomUUID().slice(0, 8));
    await store.readNotes();
    await store.prune();
    return store;
  }

  async open(key: string): Promise<RasterFile | null> {
    for (const name of [key, this.own(key)]) {
      try {
        const note = await this.readNote(name);
        const file = await this.folder.getFileHandle(name);
        if ((await file.getFile()).size !== totalBytes(note.spec)) continue;
        const raster = this.wrap(key, name, note.spec, await this.access(name, file));
        await this.noteUse(name, note);
        return raster;
      } catch {
        // not there, not whole, or another tab has it to itself: made anew
      }
    }
    return null;
  }

  async create(key: string, spec: RasterSpec): Promise<RasterFile> {
    await this.makeRoom(totalBytes(spec));
    try {
      return await this.begin(key, key, spec);
    } catch (error) {
      // the browser's storage was cleared meanwhile, and the folder with it
      if ((error as DOMException).name === "NotFoundError") {
        await this.beginAnew();
        return this.begin(key, key, spec);
      }
      // another tab has it open, where the browser lets only one have a file
      if (["NoModificationAllowedError", "InvalidStateError"].includes((error as DOMException).name)) return this.begin(key, this.own(key), spec);
      throw full(error);
    }
  }

  async remove(key: string): Promise<void> {
    for (const name of [key, this.own(key)]) await this.discard(name);
  }

  /** Lets go of what was made for a job. */
  async removeOf(owner: string): Promise<void> {
    for (const [name, note] of [...this.notes]) if (note.owner === owner) await this.discard(name);
  }

  /** Lets go of everything that is not in use. */
  async removeAll(): Promise<void> {
    for (const name of [...this.notes.keys()]) await this.discard(name);
  }

  get usage(): { bytes: number; budget: number } {
    return { bytes: [...this.notes.values()].reduce((sum, n) => sum + totalBytes(n.spec), 0), budget: this.budget };
  }

  private async begin(key: string, name: string, spec: RasterSpec): Promise<RasterFile> {
    await this.discard(name);
    const handle = await this.access(name, await this.folder.getFileHandle(name, { create: true }));
    try {
      handle.truncate(totalBytes(spec));
    } catch (error) {
      await this.discard(name);
      throw full(error);
    }
    return this.wrap(key, name, spec, handle);
  }

  private async beginAnew(): Promise<void> {
    for (const handle of this.handles.values()) handle.close();
    this.handles.clear();
    this.notes.clear();
    this.folder = await (await navigator.storage.getDirectory()).getDirectoryHandle(FOLDER, { create: true });
  }

  private own(key: string): string {
    return `${key}~${this.tab}`;
  }

  /** Removes a file; one that another tab has open stays, for the browser refuses. */
  private async discard(name: string): Promise<void> {
    this.handles.get(name)?.close();
    this.handles.delete(name);
    this.notes.delete(name);
    for (const file of [`${name}.json`, name]) await this.folder.removeEntry(file).catch(() => undefined);
  }

  private async readNotes(): Promise<void> {
    const names: string[] = [];
    for await (const name of (this.folder as FileSystemDirectoryHandle & { keys(): AsyncIterable<string> }).keys()) names.push(name);
    const noted = new Set(names.filter((n) => n.endsWith(".json")).map((n) => n.slice(0, -5)));
    for (const name of noted) await this.readNote(name).catch(() => this.discard(name));
    // files that were never finished, and those that tabs of before had for themselves
    for (const name of names) if (!name.endsWith(".json") && (!noted.has(name) || name.includes("~"))) await this.discard(name);
  }

  private async readNote(name: string): Promise<Note> {
    const note = JSON.parse(await (await (await this.folder.getFileHandle(`${name}.json`)).getFile()).text()) as Note;
    this.notes.set(name, note);
    return note;
  }

  private async writeNote(name: string, note: Note): Promise<void> {
    this.notes.set(name, note);
    const writer = await (await this.folder.getFileHandle(`${name}.json`, { create: true })).createWritable();
    await writer.write(JSON.stringify(note));
    await writer.close();
  }

  private async noteUse(name: string, note: Note): Promise<void> {
    if (Date.now() - note.usedAt > AGE_STEP_MS) await this.writeNote(name, { ...note, usedAt: Date.now() }).catch(() => undefined);
  }

  /** Lets go of what was used longest ago until so many bytes fit the budget. What this tab has open stays. */
  private async makeRoom(bytes: number): Promise<void> {
    let used = this.usage.bytes + bytes;
    const oldest = [...this.notes].sort(([, a], [, b]) => a.usedAt - b.usedAt);
    for (const [name, note] of oldest) {
      if (used <= this.budget) return;
      if (this.handles.has(name)) continue;
      used -= totalBytes(note.spec);
      await this.discard(name);
    }
  }

  /** Keeps to the budget. */
  prune(): Promise<void> {
    return this.makeRoom(0);
  }

  /** Several tabs may read and write: the same key always means the same bytes. */
  private async access(name: string, file: FileSystemFileHandle): Promise<SyncHandle> {
    const known = this.handles.get(name);
    if (known) return known;
    const open = (file as unknown as { createSyncAccessHandle(o?: { mode: string }): Promise<SyncHandle> }).createSyncAccessHandle.bind(file);
    const handle = await open({ mode: "readwrite-unsafe" }).catch(() => open());
    this.handles.set(name, handle);
    return handle;
  }

  private wrap(key: string, name: string, spec: RasterSpec, handle: SyncHandle): RasterFile {
    return new TiledRasterFile(
      spec,
      {
        readAt: (offset, out) => {
          let got = 0;
          try {
            got = handle.read(out, { at: offset });
          } catch {
            // a handle that was closed, or a file that is gone
          }
          if (got !== out.length) throw new LostRaster(key);
        },
        writeAt: (offset, bytes) => {
          try {
            handle.write(bytes, { at: offset });
          } catch (error) {
            throw full(error);
          }
        },
      },
      async () => {
        handle.flush();
        await this.writeNote(name, { spec, owner: this.owner, usedAt: Date.now() });
      },
    );
  }
}

function full(error: unknown): unknown {
  return (error as DOMException).name === "QuotaExceededError" ? new StorageError("quota", "storage.fullOfRasters") : error;
}
