import { ByteRasterFile } from "../engine/tiles/ByteRasterFile";
import { totalBytes, type RasterFile, type RasterSpec, type RasterStore } from "../engine/tiles/RasterStore";
import { StorageError } from "./database";

interface SyncHandle {
  read(buffer: Uint8Array, options: { at: number }): number;
  write(buffer: Uint8Array, options: { at: number }): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
}

const FOLDER = "rasters";

/** Rasters in the browser's private file system. A `.json` beside a file says that it is complete. Runs in a worker only. */
export class OpfsRasterStore implements RasterStore {
  private readonly handles = new Map<string, SyncHandle>();

  private constructor(private readonly folder: FileSystemDirectoryHandle) {}

  static async create(): Promise<OpfsRasterStore> {
    const root = await navigator.storage.getDirectory();
    return new OpfsRasterStore(await root.getDirectoryHandle(FOLDER, { create: true }));
  }

  async open(key: string): Promise<RasterFile | null> {
    try {
      const note = await (await this.folder.getFileHandle(`${key}.json`)).getFile();
      const spec = JSON.parse(await note.text()) as RasterSpec;
      const file = await this.folder.getFileHandle(key);
      if ((await file.getFile()).size !== totalBytes(spec)) return null;
      return this.wrap(key, spec, await this.access(key, file));
    } catch {
      return null;
    }
  }

  async create(key: string, spec: RasterSpec): Promise<RasterFile> {
    await this.remove(key);
    const handle = await this.access(key, await this.folder.getFileHandle(key, { create: true }));
    try {
      handle.truncate(totalBytes(spec));
    } catch (error) {
      await this.remove(key);
      throw full(error);
    }
    return this.wrap(key, spec, handle);
  }

  async remove(key: string): Promise<void> {
    this.handles.get(key)?.close();
    this.handles.delete(key);
    for (const name of [`${key}.json`, key]) await this.folder.removeEntry(name).catch(() => undefined);
  }

  /** A raster that another tab has open stays; the browser refuses to remove it. */
  async keepOnly(keys: Set<string>): Promise<void> {
    const folder = this.folder as FileSystemDirectoryHandle & { keys(): AsyncIterable<string> };
    const names: string[] = [];
    for await (const name of folder.keys()) names.push(name.replace(/\.json$/, ""));
    for (const key of new Set(names)) if (!keys.has(key)) await this.remove(key);
  }

  /** Several tabs may read and write: the same key always means the same bytes. */
  private async access(key: string, file: FileSystemFileHandle): Promise<SyncHandle> {
    const known = this.handles.get(key);
    if (known) return known;
    const open = (file as unknown as { createSyncAccessHandle(o?: { mode: string }): Promise<SyncHandle> }).createSyncAccessHandle.bind(file);
    const handle = await open({ mode: "readwrite-unsafe" }).catch(() => open());
    this.handles.set(key, handle);
    return handle;
  }

  private wrap(key: string, spec: RasterSpec, handle: SyncHandle): RasterFile {
    return new ByteRasterFile(
      spec,
      {
        readAt: (offset, out) => {
          if (handle.read(out, { at: offset }) !== out.length)
            throw new StorageError("missing", "A stored intermediate picture is incomplete; it will be made again.");
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
        const note = await this.folder.getFileHandle(`${key}.json`, { create: true });
        const writer = await note.createWritable();
        await writer.write(JSON.stringify(spec));
        await writer.close();
      },
    );
  }
}

function full(error: unknown): unknown {
  return (error as DOMException).name === "QuotaExceededError"
    ? new StorageError("quota", "The browser's storage is full: the intermediate pictures do not fit. Nothing stored was lost; remove jobs you no longer need.")
    : error;
}
