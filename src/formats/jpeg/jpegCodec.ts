import { message } from "../../messages/message";
import createCodec from "@cornerstonejs/codec-libjpeg-turbo-8bit/wasmjs";
import type { SourceRaster } from "../../core/raster/raster";
import { FormatError } from "../formatError";

interface FrameInfo {
  width: number;
  height: number;
  componentCount: number;
}
interface Decoder {
  getEncodedBuffer(length: number): Uint8Array;
  getDecodedBuffer(): Uint8Array;
  getFrameInfo(): FrameInfo;
  readHeader(): void;
  decode(): void;
  delete(): void;
}
interface Encoder {
  getDecodedBuffer(info: FrameInfo & { bitsPerSample: number; isSigned: boolean }): Uint8Array;
  getEncodedBuffer(): Uint8Array;
  setQuality(quality: number): void;
  setSubSampling(index: number): void;
  setProgressive(on: boolean): void;
  encode(): void;
  delete(): void;
}
interface Library {
  JPEGDecoder: new () => Decoder;
  JPEGEncoder: new () => Encoder;
}

/** TJSAMP_444 of the library: full chroma. */
const FULL_CHROMA = 0;

const start = async (wasmBinary: Uint8Array) => (await createCodec({ wasmBinary })) as unknown as Library;

/** One JPEG coder for the browser and the command line, so that both see the same samples. */
export class JpegCodec {
  private constructor(
    private readonly wasm: Uint8Array,
    private readonly decoding: Library,
    private encoding: Library | null,
  ) {}

  /** @param wasm the coder's compiled module (public/wasm/jpeg.wasm) */
  static async create(wasm: ArrayBuffer | Uint8Array): Promise<JpegCodec> {
    const bytes = wasm instanceof Uint8Array ? wasm : new Uint8Array(wasm);
    return new JpegCodec(bytes, await start(bytes), await start(bytes));
  }

  /** Makes sure that `encode` has a sound coder; one that ran over its memory is not used again. */
  async prepareEncoder(): Promise<void> {
    this.encoding ??= await start(this.wasm);
  }

  /**
   * @returns interleaved RGB, 8 bit, as stored (EXIF orientation not applied)
   * @throws FormatError for damaged or unsupported files; the sentence is for people
   */
  decode(bytes: Uint8Array): SourceRaster {
    const decoder = new this.decoding.JPEGDecoder();
    try {
      decoder.getEncodedBuffer(bytes.length).set(bytes);
      try {
        decoder.decode();
      } catch {
        throw new FormatError("damaged", "jpeg.damaged");
      }
      const { width, height, componentCount } = decoder.getFrameInfo();
      const pixels = decoder.getDecodedBuffer();
      if (componentCount === 3) return { width, height, bits: 8, data: pixels.slice() };
      if (componentCount !== 1) throw new FormatError("unsupported", "jpeg.notRgb");
      const data = new Uint8Array(width * height * 3);
      for (let i = 0; i < width * height; i++) data.fill(pixels[i], i * 3, i * 3 + 3);
      return { width, height, bits: 8, data };
    } finally {
      decoder.delete();
    }
  }

  /**
   * The coder reserves as many bytes as the picture has and writes on without looking; noise at the highest qualities needs more.
   * So it has memory of its own, what it wrote is measured, and a coder that overran is thrown away.
   * @param data interleaved RGB, 8 bit @param quality 1 to 100 @returns a baseline JPEG at full chroma without metadata
   * @throws FormatError where the JPEG would be larger than the picture itself
   */
  encode(data: Uint8Array, width: number, height: number, quality: number): Uint8Array {
    if (!this.encoding) throw new Error("The JPEG coder is not ready: prepareEncoder comes first.");
    try {
      const encoder = new this.encoding.JPEGEncoder();
      encoder.getDecodedBuffer({ width, height, componentCount: 3, bitsPerSample: 8, isSigned: false }).set(data);
      encoder.setProgressive(false);
      encoder.setSubSampling(FULL_CHROMA);
      encoder.setQuality(quality);
      encoder.encode();
      const bytes = encoder.getEncodedBuffer().slice();
      if (bytes.length > data.length) throw new RangeError("overrun");
      encoder.delete();
      return bytes;
    } catch {
      this.encoding = null;
      throw new FormatError("limit", message("jpeg.largerThanPicture", { quality }));
    }
  }
}
