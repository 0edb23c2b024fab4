import { message, type Message } from "../messages/message";
import { composedLayersOf, framesOf, framesOfSet, layersOf, setsOf } from "./selectors";
import type { Records } from "./records/types";

/** Stated limits of a job; what is over them is refused with the limit named, before anything is computed. */
export const JOB_LIMITS = { frames: 600, framesOfSet: 64, layers: 64, strokes: 20_000 } as const;

/** What is read of a job file at most: a day of painting is a few MB and some thousand steps. */
export const FILE_LIMITS = { jsonBytes: 150_000_000, steps: 100_000 } as const;

/** Why a job is over a limit, and what to do; null where it is not. */
export function overLimit(records: Records): Message | null {
  const frames = framesOf(records).length;
  if (frames > JOB_LIMITS.frames) return message("job.mostFrames", { most: JOB_LIMITS.frames, count: frames });
  // the finish has as much room of its own
  const composed = composedLayersOf(records).length;
  const layers = Math.max(composed, layersOf(records).length - composed);
  if (layers > JOB_LIMITS.layers) return message("job.mostLayers", { most: JOB_LIMITS.layers, count: layers });
  const strokes = Object.values(records).filter((r) => r.kind === "stroke").length;
  return strokes > JOB_LIMITS.strokes ? message("job.mostStrokes", { most: JOB_LIMITS.strokes, count: strokes }) : null;
}

/** Why the set worked on cannot be registered or merged as it is; null where it can. */
export function overSetLimit(records: Records, setId: string): Message | null {
  const taking = framesOfSet(records, setId).filter((f) => !f.excluded).length;
  if (taking <= JOB_LIMITS.framesOfSet) return null;
  return message(setsOf(records).length > 1 ? "job.mostOfSet" : "job.mostOfOneSet", { most: JOB_LIMITS.framesOfSet, count: taking });
}

/** How far from neutral a person may let a neutral be, ΔE: a white in the evening is no fault. */
export const MOST_CAST = 40;

/** Lines by which a picture is straightened, at most. */
export const MOST_GUIDES = 12;
