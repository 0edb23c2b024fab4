/** What went wrong, as a person is told it. */
export interface Told {
  /** names the kind, for what asks about it: "FormatError.damaged" */
  code: string;
  text: string;
}

/** Errors whose message was written for people. */
const FOR_PEOPLE = new Set(["FormatError", "DocumentError", "StorageError", "Refusal", "WorkerError", "LostRaster"]);

/** What browsers throw where a file was moved, changed or locked since it was chosen, and where their storage is full; their own words are for programmers. */
const OF_BROWSERS: Record<string, string> = {
  NotReadableError: "The file could not be read: it was moved, changed or locked since it was chosen. Choose it again.",
  NotFoundError: "The file could not be found: it was moved or removed since it was chosen. Choose it again.",
  NotAllowedError: "The browser did not allow it. Allow it when it asks, or choose the file again.",
  QuotaExceededError: "The browser's storage is full. Nothing stored was lost; save a job file now, then remove jobs you no longer need.",
};

/** One sentence of whatever was thrown. What nobody wrote a sentence for is said to be that, with what was kept and what to do. */
export function toldOf(error: unknown): Told {
  const { name = "Error", message = String(error), code, reason } = (error ?? {}) as { name?: string; message?: string; code?: unknown; reason?: unknown };
  const kind = typeof code === "string" ? code : typeof reason === "string" ? reason : null;
  const named = kind ? `${name}.${kind}` : name;
  if (FOR_PEOPLE.has(name)) return { code: named, text: message };
  if (Object.hasOwn(OF_BROWSERS, name)) return { code: named, text: OF_BROWSERS[name] };
  return {
    code: named,
    text: `Something went wrong that Marsh has no words for (${message.slice(0, 200).replace(/\.$/, "")}). The job is as it was after its last step. Try it again; if it stays so, save the job as a file and reload the page.`,
  };
}
