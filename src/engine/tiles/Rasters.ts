import type { RasterFile, RasterSpec, RasterStore } from "./RasterStore";

/** The rasters of an engine: opened once, kept open, and forgotten where they turn out to be lost. */
export class Rasters {
  private readonly opened = new Map<string, RasterFile>();

  constructor(private readonly store: RasterStore) {}

  /** A raster that is whole, or null where it has to be made. */
  async open(key: string): Promise<RasterFile | null> {
    const known = this.opened.get(key) ?? (await this.store.open(key));
    if (known) this.opened.set(key, known);
    return known;
  }

  /** Begins a raster; others find it once it is committed. */
  async create(key: string, spec: RasterSpec): Promise<RasterFile> {
    this.opened.delete(key);
    const file = await this.store.create(key, spec);
    return {
      spec: file.spec,
      read: (...args) => file.read(...args),
      write: (...args) => file.write(...args),
      commit: async () => {
        await file.commit();
        this.opened.set(key, file);
      },
    };
  }

  /** A raster was lost: whoever asks for it next makes it again. */
  async forget(key: string): Promise<void> {
    this.opened.delete(key);
    await this.store.remove(key);
  }

  /** Closes all; what is asked for next is opened anew. */
  forgetAll(): void {
    this.opened.clear();
  }
}
