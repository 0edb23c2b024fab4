import { readFileSync } from "node:fs";
import { Kernels } from "../../src/kernels/Kernels";
import { createNodeCodecs } from "../../src/cli/nodeCodecs";
import type { Codecs } from "../../src/formats/codecs";

/** The kernels as they ship. */
export const loadKernels = (): Promise<Kernels> => Kernels.create(readFileSync("public/wasm/kernels.wasm"));
export const loadCodecs = (): Promise<Codecs> => createNodeCodecs(".");

/** Repeatable pseudo-random numbers 0..1 (mulberry32). */
export function randomOf(seed: number): () => number {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
