import { message } from "../../messages/message";
import { FormatError } from "../../formats/formatError";

/** When a task that does not come to an end is ended, counted from when it is begun, and what is said of it. */
export interface Deadline {
  ms: number;
  error: Error;
}

/** How long a file may be decoded before it is given up: machines may be slow and busy, so it is ample. */
const PATIENCE_MS = 120_000;
const PATIENCE_MS_PER_MB = 10_000;

/** Readers of our own do work in proportion to what a file holds; of others' nobody knows. */
export function deadlineOf(bytes: Uint8Array): Deadline {
  const ms = PATIENCE_MS + (bytes.length / 1e6) * PATIENCE_MS_PER_MB;
  return { ms, error: new FormatError("limit", message("file.givenUp", { seconds: Math.round(ms / 1000) })) };
}
