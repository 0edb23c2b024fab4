import { JpegCodec } from "./jpeg/jpegCodec";

/** Coders compiled to wasm that come with a script of their own, which starts them. */
export type CodecName = "webp" | "avif" | "raw" | "profiles";

/** What a host provides. The scripts are never bundled: they start workers and look for files from their own address. */
export interface CodecSource {
  /** a coder's compiled module */
  wasm(name: CodecName | "jpeg"): Promise<Uint8Array>;
  script(name: CodecName): Promise<{ default: unknown }>;
}

/** A coder's script: starts a coder with memory of its own. */
type Start = (options: object) => Promise<unknown>;

/** The coders of one host. All but the JPEG coder are loaded when a file first needs them. */
export class Codecs {
  private readonly loaded = new Map<CodecName, Promise<[Uint8Array, Start]>>();

  private constructor(
    readonly jpeg: JpegCodec,
    private readonly source: CodecSource,
  ) {}

  static async create(source: CodecSource): Promise<Codecs> {
    return new Codecs(await JpegCodec.create(await source.wasm("jpeg")), source);
  }

  /** A fresh coder; its memory goes with it. */
  async start<T>(name: CodecName): Promise<T> {
    let loading = this.loaded.get(name);
    if (!loading) {
      loading = Promise.all([this.source.wasm(name), this.source.script(name).then((s) => s.default as Start)]);
      this.loaded.set(name, loading);
      loading.catch(() => this.loaded.delete(name));
    }
    const [wasmBinary, start] = await loading;
    return (await start({ wasmBinary, noInitialRun: true, print: () => {}, printErr: () => {} })) as T;
  }
}
