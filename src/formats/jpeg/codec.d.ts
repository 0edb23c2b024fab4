declare module "@cornerstonejs/codec-libjpeg-turbo-8bit/wasmjs" {
  export default function createCodec(options: { wasmBinary: Uint8Array }): Promise<unknown>;
}
