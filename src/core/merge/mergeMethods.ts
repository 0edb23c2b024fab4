import type { SetKind } from "../measure/sets/setKinds";

/** How frames become one picture. */
export const MERGE_METHODS = ["radiance", "fusion", "focus", "clippedMean", "mean", "median"] as const;
export type MergeMethod = (typeof MERGE_METHODS)[number];

export const MERGE_NAMES: Record<MergeMethod, string> = {
  radiance: "Radiance merge",
  fusion: "Exposure fusion",
  focus: "Focus merge",
  clippedMean: "Mean without outliers",
  mean: "Mean",
  median: "Median",
};

/** What a method gives, in a few words. */
export const MERGE_PURPOSES: Record<MergeMethod, string> = {
  radiance: "scene light, 32 bit",
  fusion: "ready to look at",
  focus: "sharp at every distance",
  clippedMean: "least noise, passers-by gone",
  mean: "least noise, all that moved smeared",
  median: "passers-by gone, more noise",
};

/** The methods that average the frames. */
export type RepeatMethod = "clippedMean" | "mean" | "median";
export const isRepeat = (method: MergeMethod): method is RepeatMethod => method === "clippedMean" || method === "mean" || method === "median";

/** The method whose linear light is written for a merge: a fusion has none, so the same frames are merged to radiance. */
export const lightMethod = (method: MergeMethod): MergeMethod => (method === "fusion" ? "radiance" : method);

/** The methods that suit a kind of set; the first is proposed. */
export function methodsFor(kind: SetKind): MergeMethod[] {
  if (kind === "focus") return ["focus", "fusion"];
  if (kind === "repeats" || kind === "sky") return ["clippedMean", "mean", "median"];
  if (kind === "separate" || kind === "developed") return ["fusion", "radiance", "median"];
  return ["radiance", "fusion"];
}
