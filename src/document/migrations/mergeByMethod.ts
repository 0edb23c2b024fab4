import type { Loose } from "./loose";

/** What each method of version 13 knows besides what every merge does. */
const OWN: Record<string, string[]> = {
  radiance: ["response", "fringe"],
  fusion: ["contrast", "saturation", "exposedness", "response", "fringe"],
  clippedMean: ["noiseGain"],
  mean: ["noiseGain"],
  median: ["noiseGain"],
  panorama: ["seams"],
};
const COMMON = ["kind", "id", "setId", "operationVersion", "ghostThreshold", "baseId", "shares"];

/** A merge of version 12, which held what any method knows, as one of version 13. Lateral colour is how frames are placed, whatever the method; a ground is a base. */
export function mergeByMethod(r: Loose): Loose {
  const method = r.method === "ground" ? "base" : r.method;
  const { lateral = null, ...fringe } = (r.fringe ?? {}) as Loose;
  const all: Loose = { ...r, fringe };
  const own = [...COMMON, ...(OWN[String(method)] ?? [])].flatMap((key) => (key in all ? [[key, all[key]] as const] : []));
  return { ...Object.fromEntries(own), method, lateral };
}
