import { JpegCodec } from "./jpeg/jpegCodec";

/** Coders compiled to wasm; each lies as `<name>.wasm` beside the kernels. */
export type CodecName = "jpeg" | "webp" | "avif" | "raw" | "profiles";

/** The coders of one host. All but the JPEG coder are loaded when a file first needs them. */
export class Codecs {
  private readonly loaded = new Map<CodecName, Promise<Uint8Array>>();

  private constructor(
    readonly jpeg: JpegCodec,
    private readonly load: (name: CodecName) => Promise<Uint8Array>,
  ) {}

  /** @param load fetches a coder's compiled module by its name */
  static async create(load: (name: CodecName) => Promise<Uint8Array>): Promise<Codecs> {
    return new Codecs(await JpegCodec.create(await load("jpeg")), load);
  }

  module(name: CodecName): Promise<Uint8Array> {
    const known = this.loaded.get(name);
    if (known) return known;
    const loading = this.load(name);
    this.loaded.set(name, loading);
    loading.catch(() => this.loaded.delete(name));
    return loading;
  }
}
