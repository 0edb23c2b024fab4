import { TiledRasterFile } from "./TiledRasterFile";
import { totalBytes, type RasterFile, type RasterSpec, type RasterStore } from "./RasterStore";

export class MemoryRasterStore implements RasterStore {
  private readonly files = new Map<string, { file: RasterFile; complete: boolean }>();

  async open(key: string): Promise<RasterFile | null> {
    const entry = this.files.get(key);
    return entry?.complete ? entry.file : null;
  }

  async create(key: string, spec: RasterSpec): Promise<RasterFile> {
    const bytes = new Uint8Array(totalBytes(spec));
    const entry = {
      complete: false,
      file: new TiledRasterFile(
        spec,
        {
          readAt: (offset, out) => out.set(bytes.subarray(offset, offset + out.length)),
          writeAt: (offset, data) => bytes.set(data, offset),
        },
        async () => {
          entry.complete = true;
        },
      ),
    };
    this.files.set(key, entry);
    return entry.file;
  }

  async remove(key: string): Promise<void> {
    this.files.delete(key);
  }
}
