import { ValidationError } from "yup";
import type { History, Step } from "./history";
import { recordsAt } from "./history";
import { DOCUMENT_VERSION, MIGRATIONS } from "./migrations";
import type { AnyRecord, Records } from "./records/types";
import { VALIDATORS } from "./records/validators";

/** A job as it is stored: the history is the document; the records are what it leads to. */
export interface StoredJob {
  version: number;
  id: string;
  history: History;
}

/** Why a stored job cannot be opened; `message` is one sentence for people. */
export class DocumentError extends Error {
  override readonly name = "DocumentError";
}

/**
 * @param from a file comes from anywhere, so that every record of every step is checked; of what this browser stored, the records in use are, and others when
 * they are gone to @throws DocumentError where the job is damaged or from a newer version
 */
export function parseDocument(json: unknown, from: "file" | "storage" = "file"): { job: StoredJob; records: Records } {
  if (typeof json !== "object" || json === null) throw new DocumentError("The job file holds no job.");
  let value = json as Record<string, unknown>;
  const version = value.version;
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1) throw new DocumentError("The job file states no version.");
  if (version > DOCUMENT_VERSION) {
    throw new DocumentError(`The job was written by a newer Marsh (job version ${version}, this one reads up to ${DOCUMENT_VERSION}). Nothing was changed.`);
  }
  for (let v = version; v < DOCUMENT_VERSION; v++) value = MIGRATIONS[v](value) as Record<string, unknown>;
  const history = value.history as History | undefined;
  if (typeof value.id !== "string" || !/^[\w-]{1,64}$/.test(value.id) || !history || !Array.isArray(history.steps)) {
    throw new DocumentError("The job file is damaged: its history is missing.");
  }
  const seen = new Set<string>();
  for (const step of history.steps) {
    checkStep(step, seen);
    seen.add(step.id);
  }
  if (history.head !== null && !seen.has(history.head)) throw new DocumentError("The job file is damaged: its history points to a step that is missing.");
  const records = recordsAt(history, history.head);
  for (const record of Object.values(records)) checkRecord(record);
  // what lies on branches that were left is gone back to as well
  for (const { diff } of from === "file" ? history.steps : []) {
    for (const [id, record] of [...Object.entries(diff.added), ...Object.entries(diff.removed)]) checkNamed(id, record);
    for (const [id, pair] of Object.entries(diff.updated)) for (const record of Array.isArray(pair) ? pair : [pair]) checkNamed(id, record);
  }
  return { job: { version: DOCUMENT_VERSION, id: value.id, history: { steps: history.steps, head: history.head } }, records };
}

function checkStep(step: Step, seen: Set<string>): void {
  const sound =
    step &&
    typeof step.id === "string" &&
    !seen.has(step.id) &&
    (step.parent === null || seen.has(step.parent)) &&
    typeof step.label === "string" &&
    typeof step.stage === "string" &&
    typeof step.at === "string" &&
    typeof step.diff === "object" &&
    step.diff !== null &&
    [step.diff.added, step.diff.updated, step.diff.removed].every((part) => typeof part === "object" && part !== null);
  if (!sound) throw new DocumentError("The job file is damaged: a step of its history cannot be read.");
}

function checkNamed(id: string, record: AnyRecord): void {
  checkRecord(record);
  if (record.id !== id) throw new DocumentError("The job file is damaged: a record does not lie under its own name.");
}

/** Records that were found sound: they are never changed in place, and one step's after is the next one's before. */
const sound = new WeakSet<object>();

/** @throws DocumentError naming the first thing that is wrong with a record */
export function checkRecord(record: AnyRecord): void {
  if (typeof record === "object" && record !== null && sound.has(record)) return;
  const kind: unknown = record?.kind;
  // one of ours, not what every object has
  const validator = typeof kind === "string" && Object.hasOwn(VALIDATORS, kind) ? VALIDATORS[record.kind] : null;
  if (!validator) throw new DocumentError(`The job file holds a record of an unknown kind (${typeof kind === "string" ? kind.slice(0, 40) : "none"}).`);
  try {
    validator.validateSync(record, { strict: true });
    sound.add(record);
  } catch (error) {
    if (error instanceof ValidationError) throw new DocumentError(`The job file is damaged: ${record.kind} ${record.id}, ${error.message}.`);
    throw error;
  }
}
