import { readFileSync } from "node:fs";
import { Kernels } from "../../src/kernels/Kernels";
import { Codecs } from "../../src/formats/codecs";

/** The kernels as they ship. */
export const loadKernels = (): Promise<Kernels> => Kernels.create(readFileSync("public/wasm/kernels.wasm"));
export const loadCodecs = (): Promise<Codecs> => Codecs.create(async (name) => readFileSync(`public/wasm/${name}.wasm`));

/** Repeatable pseudo-random numbers 0..1 (mulberry32). */
export function randomOf(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
