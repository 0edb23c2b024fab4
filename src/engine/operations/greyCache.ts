import type { GreyPyramid } from "../../core/register/greyPyramid";
import type { EngineContext } from "../EngineContext";
import { greyOfSource } from "./greyOfSource";

/** Pyramids kept for work by hand: the reference's and the frame's. */
const HELD = 2;
const kept = new WeakMap<EngineContext, Map<string, GreyPyramid>>();

/** The grey pyramid of a source, kept while a person works on it. */
export async function heldGrey(ctx: EngineContext, sourceId: string): Promise<GreyPyramid> {
  const held = kept.get(ctx) ?? new Map<string, GreyPyramid>();
  kept.set(ctx, held);
  const known = held.get(sourceId);
  if (known) {
    held.delete(sourceId);
    held.set(sourceId, known);
    return known;
  }
  const made = await greyOfSource(ctx, sourceId);
  held.set(sourceId, made);
  while (held.size > HELD) held.delete(held.keys().next().value!);
  return made;
}
