import type { SetKind } from "../measure/sets/setKinds";

/** How frames become one picture. */
export const MERGE_METHODS = ["radiance", "fusion", "focus", "clippedMean", "mean", "median", "ground", "panorama"] as const;
export type MergeMethod = (typeof MERGE_METHODS)[number];

export const MERGE_NAMES: Record<MergeMethod, string> = {
  radiance: "Radiance merge",
  fusion: "Exposure fusion",
  focus: "Focus merge",
  clippedMean: "Mean without outliers",
  mean: "Mean",
  median: "Median",
  ground: "One frame as base",
  panorama: "Panorama",
};

/** The same where there is room for one word. */
export const MERGE_WORDS: Record<MergeMethod, string> = {
  radiance: "Radiance",
  fusion: "Fusion",
  focus: "Focus",
  clippedMean: "No outliers",
  mean: "Mean",
  median: "Median",
  ground: "Ground",
  panorama: "Panorama",
};

/** What a method gives, in a few words. */
export const MERGE_PURPOSES: Record<MergeMethod, string> = {
  radiance: "scene light, 32 bit",
  fusion: "ready to look at",
  focus: "sharp at every distance",
  clippedMean: "least noise, passers-by gone",
  mean: "least noise, all that moved smeared",
  median: "passers-by gone, more noise",
  ground: "others come in place by place",
  panorama: "one wide picture",
};

/** The methods that average the frames. */
export type RepeatMethod = "clippedMean" | "mean" | "median";
export const isRepeat = (method: MergeMethod): method is RepeatMethod => method === "clippedMean" || method === "mean" || method === "median";

/** The method whose linear light is written for a merge: a fusion has none, so the same frames are merged to radiance. */
export const lightMethod = (method: MergeMethod): MergeMethod => (method === "fusion" ? "radiance" : method);

/** Whether what moved is smeared or doubled unless one frame is taken there; the other methods leave it out or take in nothing unasked. */
export const smearsMotion = (method: MergeMethod) => method === "radiance" || method === "fusion" || method === "focus" || method === "mean";

/** Whether frames of several exposures are compared as light, which needs the camera's response: a radiance merge is made of it, a fusion tells by it what moved. */
export const comparesLight = (method: MergeMethod) => method === "radiance" || method === "fusion";

/** Whether the frame proposed for a place that moved is taken at once: where all are merged and the frames are one moment's. */
export const seatsByItself = (method: MergeMethod, kind: SetKind) =>
  (method === "radiance" || method === "fusion" || method === "focus") && kind !== "separate" && kind !== "developed";

/** In a map of which frame gives a place: none does. */
export const NOBODY = 255;

/** Enlargement from which a frame is known to lack detail that the others have. Common practice, no source. */
export const ENLARGED = 1.1;

/** A frame that gives less than this share of a picture counts as unused. Common practice, no source. */
export const UNUSED_SHARE = 0.001;

/** The methods that suit a kind of set; the first is proposed. */
export function methodsFor(kind: SetKind): MergeMethod[] {
  if (kind === "panorama") return ["panorama"];
  if (kind === "focus") return ["focus", "fusion"];
  if (kind === "repeats" || kind === "sky") return ["clippedMean", "mean", "median", "ground"];
  if (kind === "separate" || kind === "developed") return ["fusion", "ground", "radiance", "median"];
  return ["radiance", "fusion", "ground"];
}
