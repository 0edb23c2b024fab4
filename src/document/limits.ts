import { composedLayersOf, framesOf, framesOfSet, layersOf, setsOf } from "./selectors";
import type { Records } from "./records/types";

/** Stated limits of a job; what is over them is refused with the limit named, before anything is computed. */
export const JOB_LIMITS = { frames: 600, framesOfSet: 64, layers: 64, strokes: 20_000 } as const;

/** What is read of a job file at most: a day of painting is a few MB and some thousand steps. */
export const FILE_LIMITS = { jsonBytes: 150_000_000, steps: 100_000 } as const;

/** Why a job is over a limit, in one sentence that says what to do; null where it is not. */
export function overLimit(records: Records): string | null {
  const frames = framesOf(records).length;
  if (frames > JOB_LIMITS.frames) return `A job holds at most ${JOB_LIMITS.frames} frames; this would be ${frames}. Gather them into more jobs.`;
  // the finish has as much room of its own
  const composed = composedLayersOf(records).length;
  const layers = Math.max(composed, layersOf(records).length - composed);
  if (layers > JOB_LIMITS.layers) return `A set holds at most ${JOB_LIMITS.layers} layers; this would be ${layers}. Remove layers that are no longer needed.`;
  const strokes = Object.values(records).filter((r) => r.kind === "stroke").length;
  if (strokes > JOB_LIMITS.strokes)
    return `A job holds at most ${JOB_LIMITS.strokes} strokes; this would be ${strokes}. Remove layers that are no longer needed.`;
  return null;
}

/** Why the set worked on cannot be registered or merged as it is; null where it can. */
export function overSetLimit(records: Records, setId: string): string | null {
  const taking = framesOfSet(records, setId).filter((f) => !f.excluded).length;
  if (taking <= JOB_LIMITS.framesOfSet) return null;
  const several = setsOf(records).length > 1 ? "" : " Group them into sets,";
  return `A set can be registered with at most ${JOB_LIMITS.framesOfSet} frames; ${taking} take part in this one.${several || " Move some to another set,"} or leave some out.`;
}
