import type { GreyPyramid } from "../../../core/register/greyPyramid";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { greyOfFrame } from "./greyOfSource";

/** Pyramids kept for work by hand: the reference's and the frame's. */
const HELD = 2;
const kept = new WeakMap<EngineContext, Map<string, GreyPyramid>>();

/** The grey pyramid of a frame, kept while a person works on it. */
export async function heldGrey(ctx: EngineContext, frame: FrameRecord): Promise<GreyPyramid> {
  const key = frame.sourceId + JSON.stringify(frame.development.lens);
  const held = kept.get(ctx) ?? new Map<string, GreyPyramid>();
  kept.set(ctx, held);
  const known = held.get(key);
  if (known) {
    held.delete(key);
    held.set(key, known);
    return known;
  }
  const made = await greyOfFrame(ctx, frame);
  held.set(key, made);
  while (held.size > HELD) held.delete(held.keys().next().value!);
  return made;
}
