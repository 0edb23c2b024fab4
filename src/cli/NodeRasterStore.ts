import { closeSync, ftruncateSync, mkdirSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { TiledRasterFile } from "../engine/tiles/TiledRasterFile";
import { totalBytes, type RasterFile, type RasterSpec, type RasterStore } from "../engine/tiles/RasterStore";

/** Rasters in a temporary folder that goes with the process. */
export class NodeRasterStore implements RasterStore {
  private readonly folder: string;
  private readonly open_ = new Map<string, { fd: number; file: RasterFile; complete: boolean }>();

  constructor() {
    const base = process.env.TMPDIR ?? tmpdir();
    mkdirSync(base, { recursive: true });
    this.folder = mkdtempSync(join(base, "marsh-"));
    process.on("exit", () => rmSync(this.folder, { recursive: true, force: true }));
  }

  async open(key: string): Promise<RasterFile | null> {
    const entry = this.open_.get(key);
    return entry?.complete ? entry.file : null;
  }

  async create(key: string, spec: RasterSpec): Promise<RasterFile> {
    await this.remove(key);
    const fd = openSync(join(this.folder, key), "w+");
    ftruncateSync(fd, totalBytes(spec));
    const entry = {
      fd,
      complete: false,
      file: new TiledRasterFile(
        spec,
        {
          readAt: (offset, out) => {
            const got = readSync(fd, out, 0, out.length, offset);
            if (got !== out.length) throw new Error(`Temporary storage gave ${got} of ${out.length} bytes.`);
          },
          writeAt: (offset, bytes) => {
            writeSync(fd, bytes, 0, bytes.length, offset);
          },
        },
        async () => {
          entry.complete = true;
        },
      ),
    };
    this.open_.set(key, entry);
    return entry.file;
  }

  async remove(key: string): Promise<void> {
    const entry = this.open_.get(key);
    if (!entry) return;
    closeSync(entry.fd);
    rmSync(join(this.folder, key), { force: true });
    this.open_.delete(key);
  }
}
