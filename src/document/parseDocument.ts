import { asMessage, isMessage, message, ToldError, type Telling } from "../messages/message";
import { ValidationError } from "yup";
import type { Diff, Effect, History, Step } from "./history";
import { recordsAt } from "./history";
import { FILE_LIMITS, JOB_LIMITS } from "./limits";
import { DOCUMENT_VERSION, MIGRATIONS } from "./migrations/migrations";
import type { AnyRecord, Records } from "./records/types";
import { VALIDATORS } from "./records/validators";

/** A job as it is stored: the history is the document; the records are what it leads to. */
export interface StoredJob {
  version: number;
  id: string;
  history: History;
}

/** A job as it was read, and how many of its steps were left out because they are damaged, or follow one that is. */
export interface ParsedJob {
  job: StoredJob;
  records: Records;
  lost: number;
}

/** Why a stored job cannot be opened. */
export class DocumentError extends ToldError {
  override readonly name = "DocumentError";

  /** @param reason `damaged` where a part of it may be whole */
  constructor(
    told: Telling,
    readonly reason: "damaged" | "unsupported" = "damaged",
  ) {
    super(told);
  }
}

const damaged = (why: Telling) => new DocumentError(message("job.damaged", { why: asMessage(why) }));

/**
 * @param from a file comes from anywhere, so that every record of every step is checked; of what this browser stored, the records in use are, and others when
 * they are gone to @throws DocumentError where the job is damaged or from a newer version
 */
export function parseDocument(json: unknown, from: "file" | "storage" = "file"): ParsedJob {
  const { id, version, history } = envelopeOf(json);
  const steps = stepsOf(
    migrated(
      id,
      version,
      history.steps.map((step) => checkedShape(step, version)),
    ),
  );
  checkFamily(steps, history.head);
  const counter = new Counter();
  for (const step of steps) counter.add(step);
  if (from === "file") steps.forEach(checkDiff);
  const head = history.head as string | null;
  const records = recordsAt({ steps, head }, head);
  for (const record of Object.values(records)) checkRecord(record);
  return { job: { version: DOCUMENT_VERSION, id, history: { steps, head } }, records, lost: 0 };
}

/**
 * What is whole of a damaged job: the steps that can be read and whose ancestors can, up to the last of them on the way to where the job stood.
 * @throws DocumentError where nothing is left, or the job is from a newer version
 */
export function salvageDocument(json: unknown): ParsedJob {
  const { id, version, history } = envelopeOf(json);
  const shaped = history.steps.flatMap((step) => quietly(() => checkedShape(step, version)) ?? []);
  const whole: Step[] = [];
  const known = new Set<string>();
  const counter = new Counter();
  for (const step of stepsOf(migrated(id, version, shaped))) {
    const readable = quietly(() => {
      checkDiff(step);
      if (known.has(step.id) || (step.parent !== null && !known.has(step.parent))) throw damaged("job.noParent");
      counter.add(step);
      return true;
    });
    if (!readable) continue;
    whole.push(step);
    known.add(step.id);
  }
  if (whole.length === 0) throw damaged("job.noStep");
  const head = lastKnown(history, known) ?? whole[whole.length - 1].id;
  const records = recordsAt({ steps: whole, head }, head);
  for (const record of Object.values(records)) checkRecord(record);
  return { job: { version: DOCUMENT_VERSION, id, history: { steps: whole, head } }, records, lost: history.steps.length - whole.length };
}

function quietly<T>(work: () => T): T | null {
  try {
    return work();
  } catch (error) {
    if (error instanceof DocumentError) return null;
    throw error;
  }
}

/** The head, or the nearest step before it that is known. */
function lastKnown({ steps, head }: Envelope["history"], known: Set<string>): string | null {
  const parents = new Map(steps.filter(isPlain).map((s) => [s.id, s.parent]));
  let at: unknown = head;
  for (let k = 0; k <= steps.length && typeof at === "string"; k++, at = parents.get(at)) if (known.has(at)) return at;
  return null;
}

interface Envelope {
  id: string;
  version: number;
  history: { steps: unknown[]; head: unknown };
}

const isPlain = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null && !Array.isArray(value);

function envelopeOf(json: unknown): Envelope {
  if (!isPlain(json)) throw new DocumentError("job.none", "unsupported");
  const { id, version, history } = json;
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1) throw new DocumentError("job.noVersion");
  if (version > DOCUMENT_VERSION) {
    throw new DocumentError(message("job.newer", { version, known: DOCUMENT_VERSION }), "unsupported");
  }
  if (typeof id !== "string" || !/^[\w-]{1,64}$/.test(id) || !isPlain(history) || !Array.isArray(history.steps)) throw damaged("job.noHistory");
  if (history.steps.length > FILE_LIMITS.steps) {
    throw new DocumentError(message("job.steps", { count: history.steps.length, most: FILE_LIMITS.steps }), "unsupported");
  }
  return { id, version, history: { steps: history.steps, head: history.head } };
}

/** The version since which the label of a step is a message; before it was a sentence. */
const LABELS_ARE_MESSAGES = 14;

const isName = (value: unknown): value is string => typeof value === "string" && value.length > 0 && value.length <= 200;
/** Names of records: nothing that every object has. */
const isRecordName = (value: string) => isName(value) && !(value in Object.prototype);
/** A step whose parts are of the right kind, whatever version its records are of. */
function checkedShape(value: unknown, version: number): Step {
  const step = value as Step;
  const sound =
    isPlain(value) &&
    isName(value.id) &&
    (value.parent === null || isName(value.parent)) &&
    (version < LABELS_ARE_MESSAGES ? typeof value.label === "string" : isMessage(value.label)) &&
    typeof value.stage === "string" &&
    typeof value.at === "string" &&
    isPlain(value.diff) &&
    [value.diff.added, value.diff.removed].every((part) => isPlain(part) && Object.values(part).every(isPlain)) &&
    isPlain(value.diff.updated) &&
    Object.values(value.diff.updated).every((pair) => Array.isArray(pair) && pair.length === 2 && pair.every(isPlain)) &&
    [value.diff.added, value.diff.removed, value.diff.updated].every((part) => Object.keys(part as object).every(isRecordName));
  if (!sound) throw damaged("job.badStep");
  const { id, parent, at, stage, label, diff, note, effect } = step;
  return { id, parent, at, stage, label, diff, note: typeof note === "string" ? note : "", effect: isEffect(effect) ? effect : null };
}

const isEffect = (value: unknown): value is Effect => isPlain(value) && Number.isFinite(value.share) && Number.isFinite(value.meanDeltaE);

/** Steps of an older version as they are now. */
function migrated(id: string, version: number, steps: Step[]): unknown {
  let value: unknown = { id, version, history: { steps } };
  try {
    for (let v = version; v < DOCUMENT_VERSION; v++) value = MIGRATIONS[v](value);
  } catch (error) {
    // migrations trust what the program of that version wrote
    if (error instanceof TypeError || error instanceof RangeError) throw damaged(message("job.wrongVersion", { version }));
    throw error;
  }
  return value;
}

const stepsOf = (job: unknown): Step[] => (job as StoredJob).history.steps;

/** Every step follows one that stands before it, and the head is one of them. */
function checkFamily(steps: Step[], head: unknown): void {
  const seen = new Set<string>();
  for (const { id, parent } of steps) {
    if (seen.has(id) || (parent !== null && !seen.has(parent))) throw damaged("job.badStep");
    seen.add(id);
  }
  if (head !== null && !(typeof head === "string" && seen.has(head))) throw damaged("job.missingStep");
}

/** What lies on branches that were left is gone back to as well. */
function checkDiff({ diff }: Step): void {
  for (const part of [diff.added, diff.removed]) for (const [id, record] of Object.entries(part)) checkNamed(id, record);
  for (const [id, pair] of Object.entries(diff.updated)) for (const record of pair) checkNamed(id, record);
}

function checkNamed(id: string, record: AnyRecord): void {
  checkRecord(record);
  if (record.id !== id) throw damaged("job.wrongName");
}

/** How many frames, strokes and layers of each set there are after a step. */
interface Counts {
  frames: number;
  strokes: number;
  layers: ReadonlyMap<string, number>;
}
const NOTHING: Counts = { frames: 0, strokes: 0, layers: new Map() };

/** Holds every state that steps lead to, to the limits of a job. */
class Counter {
  private readonly after = new Map<string, Counts>();

  /** @param step whose parent was counted */
  add({ id, parent, diff }: Step): void {
    const counts = countsOf(diff, (parent !== null && this.after.get(parent)) || NOTHING);
    for (const [count, most, what] of [
      [counts.frames, JOB_LIMITS.frames, "job.frames"],
      [Math.max(0, ...counts.layers.values()), JOB_LIMITS.layers, "job.layers"],
      [counts.strokes, JOB_LIMITS.strokes, "job.strokes"],
      [counts.layers.size, JOB_LIMITS.frames, "job.sets"],
    ] as const) {
      if (count > most) throw new DocumentError(message("job.holds", { count, what: asMessage(what), most }), "unsupported");
    }
    this.after.set(id, counts);
  }
}

function countsOf({ added, removed }: Diff, { frames, strokes, layers }: Counts): Counts {
  let changed: Map<string, number> | null = null;
  for (const [part, by] of [
    [added, 1],
    [removed, -1],
  ] as const) {
    for (const record of Object.values(part)) {
      if (record.kind === "frame") frames += by;
      else if (record.kind === "stroke") strokes += by;
      else if (record.kind === "layer") {
        changed ??= new Map(layers);
        const count = (changed.get(record.setId) ?? 0) + by;
        if (count > 0) changed.set(record.setId, count);
        else changed.delete(record.setId);
      }
    }
  }
  return { frames, strokes, layers: changed ?? layers };
}

/** Records that were found sound: they are never changed in place, and one step's after is the next one's before. */
const sound = new WeakSet<object>();

/** @throws DocumentError naming the first thing that is wrong with a record */
export function checkRecord(record: AnyRecord): void {
  if (typeof record === "object" && record !== null && sound.has(record)) return;
  const kind: unknown = record?.kind;
  // one of ours, not what every object has
  const validator = typeof kind === "string" && Object.hasOwn(VALIDATORS, kind) ? VALIDATORS[record.kind] : null;
  if (!validator) throw new DocumentError(message("job.unknownKind", { kind: typeof kind === "string" ? kind.slice(0, 40) : "none" }));
  try {
    validator.validateSync(record, { strict: true });
    sound.add(record);
  } catch (error) {
    if (error instanceof ValidationError)
      throw damaged(message("job.record", { kind: record.kind, id: String(record.id).slice(0, 60), fault: error.message.slice(0, 200) }));
    throw error;
  }
}
