import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Codecs, type CodecName } from "../formats/codecs";

const SCRIPTS: Record<CodecName, () => Promise<{ default: unknown }>> = {
  webp: () => import("@jsquash/webp/codec/dec/webp_dec.js"),
  avif: () => import("@jsquash/avif/codec/dec/avif_dec.js"),
  raw: () => import("libraw-wasm/dist/libraw.js"),
  profiles: () => import("lcms-wasm"),
};

/** The coders from the files that the build puts into public/wasm. @param root of the project */
export function createNodeCodecs(root: string): Promise<Codecs> {
  return Codecs.create({ wasm: async (name) => readFileSync(join(root, `public/wasm/${name}.wasm`)), script: (name) => SCRIPTS[name]() });
}
