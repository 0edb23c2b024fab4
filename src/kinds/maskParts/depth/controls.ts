import { mergedFramesOf, mergeOf } from "../../../document/selectors";
import type { PartControls } from "../controlling";
import type { Depth } from "./record";

export const depth: PartControls<Depth> = {
  begin: (_size, records) => ({ kind: "depth", from: 1, to: Math.max(1, Math.ceil(mergedFramesOf(records).length / 2)), soft: 0.5 }),
  isOffered: (records) => mergeOf(records)?.method === "focus",
  most: (records) => ({ from: mergedFramesOf(records).length, to: mergedFramesOf(records).length }),
};
