import type { AnyRecord, Records, StrokeRecord } from "./records/types";

/** What makes one state of a document from another that the other side knows; null: from nothing. A stroke that only grew sends what is new of it. */
export interface DocumentChange {
  revision: number;
  base: number | null;
  put: AnyRecord[];
  grown: { id: string; points: number[] }[];
  removed: string[];
  /** revisions that will not be named again */
  forget: number[];
}

/** States that are kept on both sides: the one worked on, what it is compared with, and those that tasks still run on. */
const KEPT = 24;

/** Names states of a document by a revision and says what the other side has to know before it meets one. Records are never changed in place, so the same object is the same state. */
export class DocumentSender {
  private states: { revision: number; records: Records }[] = [];
  private latest = 0;

  /** @returns the revision, and the change to send first, or null where the other side knows that state */
  name(records: Records): { revision: number; change: DocumentChange | null } {
    const known = this.states.findIndex((s) => s.records === records);
    if (known >= 0) {
      const [state] = this.states.splice(known, 1);
      this.states.push(state);
      return { revision: state.revision, change: null };
    }
    const base = this.states.at(-1) ?? null;
    const revision = ++this.latest;
    this.states.push({ revision, records });
    const forget = this.states.splice(0, Math.max(0, this.states.length - KEPT)).map((s) => s.revision);
    return { revision, change: { revision, base: base?.revision ?? null, ...changeBetween(base?.records ?? {}, records), forget } };
  }

  /** The other side began anew and knows nothing. */
  reset(): void {
    this.states = [];
  }
}

function changeBetween(before: Records, after: Records): Pick<DocumentChange, "put" | "grown" | "removed"> {
  const put: AnyRecord[] = [];
  const grown: DocumentChange["grown"] = [];
  for (const [id, record] of Object.entries(after)) {
    const old = before[id];
    if (old === record) continue;
    const points = old ? addedPoints(old, record) : null;
    if (points) grown.push({ id, points });
    else put.push(record);
  }
  return { put, grown, removed: Object.keys(before).filter((id) => !(id in after)) };
}

/** Points that a stroke has more than before, where nothing else of it changed. */
function addedPoints(old: AnyRecord, record: AnyRecord): number[] | null {
  if (old.kind !== "stroke" || record.kind !== "stroke" || record.points.length < old.points.length) return null;
  for (const key of Object.keys({ ...old, ...record }) as (keyof StrokeRecord)[]) if (key !== "points" && old[key] !== record[key]) return null;
  for (let i = 0; i < old.points.length; i++) if (old.points[i] !== record.points[i]) return null;
  return record.points.slice(old.points.length);
}

/** The document as the other side has told it. */
export class DocumentReplica {
  private readonly states = new Map<number, Records>();

  /** @throws RangeError where the change is made on a state that was never told */
  apply({ revision, base, put, grown, removed, forget }: DocumentChange): void {
    const records: Record<string, AnyRecord> = { ...(base === null ? {} : this.at(base)) };
    for (const id of removed) delete records[id];
    for (const record of put) records[record.id] = record;
    for (const { id, points } of grown) {
      const stroke = records[id] as StrokeRecord;
      records[id] = { ...stroke, points: [...stroke.points, ...points] };
    }
    this.states.set(revision, records);
    for (const old of forget) this.states.delete(old);
  }

  at(revision: number): Records {
    const records = this.states.get(revision);
    if (!records) throw new RangeError(`State ${revision} of the document is not known here.`);
    return records;
  }
}
