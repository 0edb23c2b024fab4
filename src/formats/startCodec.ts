interface Decoded {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint16Array;
}
export interface StillCodec {
  /** @param depth bits per sample of the result, where the format knows more than 8 @returns null for damaged data */
  decode(bytes: Uint8Array, depth?: 8 | 16): Decoded | null;
}

/** Starts a decoder of still pictures from its compiled module; its memory goes with it. */
export async function startCodec(name: "webp" | "avif", wasm: Uint8Array): Promise<StillCodec> {
  const { default: start } = name === "webp" ? await import("@jsquash/webp/codec/dec/webp_dec.js") : await import("@jsquash/avif/codec/dec/avif_dec.js");
  const codec = (await (start as unknown as (options: object) => Promise<unknown>)({ noInitialRun: true, wasmBinary: wasm })) as StillCodec;
  return {
    decode: (bytes, depth) => {
      try {
        return depth ? codec.decode(bytes, depth) : codec.decode(bytes);
      } catch {
        return null;
      }
    },
  };
}
