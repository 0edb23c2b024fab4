import { asMessage, message, type Message, type Telling } from "../messages/message";
import { IDENTITY } from "../core/geometry/matrix3";
import type { Link } from "../core/measure/sets/proposeSets";
import { setRecord, type SetKind } from "../kinds/sets/records";
import type { Rectangle } from "../core/geometry/rectangle";
import { append, diffRecords, EMPTY_HISTORY, isEmptyDiff, type History, type Step } from "./history";
import type {
  AnyRecord,
  Development,
  FramePlacement,
  FrameRecord,
  GeometryRecord,
  PinRecord,
  Records,
  RegionRecord,
  RegistrationRecord,
  SetRecord,
} from "./records/types";
import { AS_SHOT, exposuresOf, framesOf, framesOfSet, geometryOf, ghostsOf, registrationOf, seatsOf, setsOf, swapsOf, workingSetIdOf } from "./selectors";

/** Edits make new records from old ones; nothing is changed in place. Each becomes one step of the logbook. */
export type Edit = (records: Records) => Records;

export function newId(prefix: string): string {
  return `${prefix}-${crypto.randomUUID().slice(0, 13)}`;
}

/** The records with these in them. */
export const put = (records: Records, ...items: AnyRecord[]): Records => ({ ...records, ...Object.fromEntries(items.map((r) => [r.id, r])) });

/** The records without these. */
export const without = (records: Records, ids: string[]): Records => {
  const out: Record<string, AnyRecord> = { ...records };
  for (const id of ids) delete out[id];
  return out;
};

const PLAIN_SET: Omit<SetRecord, "id" | "index"> = { kind: "set", setKind: "separate", reasons: [], confidence: 0, by: "proposed", links: [], parity: null };

/** @param setId of the set that the job begins with, unlike that of any other job */
export function createJob(name: string, createdAt: string, setId = newId("set")): Edit {
  return (records) => put(records, { kind: "job", id: "job", name, createdAt, workingSetId: setId }, { ...PLAIN_SET, id: setId, index: 0 });
}

export function renameJob(name: string): Edit {
  return (records) => (records.job?.kind === "job" ? put(records, { ...records.job, name }) : records);
}

/** A frame as imported, without its place in the job. */
export type NewFrame = Omit<FrameRecord, "id" | "index" | "kind" | "excluded" | "setId" | "development">;

/**
 * Adds imported frames behind those that are there; registration and merge of their set no longer hold. What comes with alpha beside other frames is no frame of their scene, and stands by itself.
 * @param ids their names, where they have some already @param beside all of them stand by themselves: pictures to be laid over what is there
 */
export function addFrames(frames: NewFrame[], ids: string[] = frames.map(() => newId("frame")), beside = false): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const isBeside = framesOfSet(records, setId).length > 0 ? (f: NewFrame) => beside || f.alpha !== null : () => false;
    const start = framesOf(records).reduce((top, f) => Math.max(top, f.index + 1), 0);
    const first = setsOf(records).reduce((top, s) => Math.max(top, s.index + 1), 0);
    const added = frames.map((f, i): FrameRecord => {
      const own = { kind: "frame" as const, id: ids[i], index: start + i, development: AS_SHOT, excluded: false };
      return { ...f, ...own, setId: isBeside(f) ? besideSet(ids[i]) : setId };
    });
    const sets = frames.flatMap((f, i): SetRecord[] => {
      if (!isBeside(f)) return [];
      const setKind = f.alpha === null ? "single" : "cutout";
      return [{ ...PLAIN_SET, id: besideSet(ids[i]), index: first + i, setKind, by: "hand", reasons: [message("set.beside", {})], confidence: 1 }];
    });
    return put(added.some((f) => f.setId === setId) ? dropResults(records, setId) : records, ...sets, ...added);
  };
}

/** The set of a frame that stands by itself: the same each time it is added. */
const besideSet = (frameId: string) => `set-${frameId}`;

/** A grouping of frames as proposed. */
export interface Grouping {
  kind: SetKind;
  frameIds: string[];
  reasons: Message[];
  confidence: number;
  links: Link[];
}

/**
 * Takes proposed sets over: their frames leave the sets they were in; the largest becomes the one worked on.
 * @param order in which these frames were taken: those of a set that is a sequence stand in it from now on
 */
export function takeGroupings(groupings: Grouping[], order: string[] = []): Edit {
  return (records) => {
    const moving = new Set(groupings.flatMap((g) => g.frameIds));
    const free = setsOf(records).filter((s) => framesOfSet(records, s.id).every((f) => moving.has(f.id)));
    const ids = groupings.map((_, i) => free[i]?.id ?? newId("set"));
    const indices = setsOf(records).reduce((top, s) => Math.max(top, s.index + 1), 0);
    const sets = groupings.map((g, i): SetRecord => {
      const { kind, reasons, confidence, links } = g;
      return { kind: "set", id: ids[i], index: free[i]?.index ?? indices + i, setKind: kind, reasons, confidence, by: "proposed", links, parity: null };
    });
    const rank = new Map(order.map((id, i) => [id, i]));
    const frames = groupings.flatMap((g, i) => {
      const moved = g.frameIds.flatMap((id) => {
        const frame = records[id];
        return frame?.kind === "frame" ? [{ ...frame, setId: ids[i] }] : [];
      });
      if (!setRecord(g.kind).isSequence || !moved.every((f) => rank.has(f.id))) return moved;
      const places = moved.map((f) => f.index).sort((a, b) => a - b);
      return moved.sort((a, b) => rank.get(a.id)! - rank.get(b.id)!).map((f, k) => ({ ...f, index: places[k] }));
    });
    const dropped = free.slice(groupings.length).map((s) => s.id);
    const largest = groupings.reduce((best, g, i) => (g.frameIds.length > groupings[best].frameIds.length ? i : best), 0);
    const rest = without(dropResults(records, ...free.map((s) => s.id), ...ids), dropped);
    const went = new Map(frames.map((f) => [f.id, f.setId]));
    return workOnSet(ids[largest])(followFrames(records, put(rest, ...sets, ...frames), (id) => went.get(id) ?? null));
  };
}

export function workOnSet(setId: string): Edit {
  return (records) => (records.job?.kind === "job" && records[setId]?.kind === "set" ? put(records, { ...records.job, workingSetId: setId }) : records);
}

/**
 * Layers that show a frame of their own set go with it into another, out of any group; what shows a picture of elsewhere stays.
 * @param before the records before the frames went @param setOf where a frame went, or null
 */
function followFrames(before: Records, records: Records, setOf: (frameId: string) => string | null): Records {
  const layers = Object.values(records).flatMap((r) => {
    const frame = r.kind === "layer" && r.content.type === "frame" ? before[r.content.frameId] : undefined;
    const setId = r.kind === "layer" && frame?.kind === "frame" && frame.setId === r.setId ? setOf(frame.id) : null;
    return r.kind === "layer" && setId && r.setId !== setId ? [{ ...r, setId, parentId: null }] : [];
  });
  return layers.length ? put(records, ...layers) : records;
}

/** Moves frames into a set, or into a new one where none is named; what was measured of both sets no longer holds. */
export function moveFrames(frameIds: string[], toSetId: string | null): Edit {
  return (records) => {
    const frames = frameIds.flatMap((id) => (records[id]?.kind === "frame" ? [records[id]] : []));
    const from = new Set(frames.map((f) => f.setId));
    if (frames.length === 0 || (toSetId && [...from].every((id) => id === toSetId))) return records;
    const target = toSetId ?? newId("set");
    const index = setsOf(records).reduce((top, s) => Math.max(top, s.index + 1), 0);
    const old = records[toSetId ?? [...from][0]] as SetRecord;
    const setKind = toSetId ? old.setKind : frames.length === 1 ? "single" : old.setKind;
    const made: SetRecord = {
      ...old,
      id: target,
      index: toSetId ? old.index : index,
      setKind,
      reasons: [message("set.byHand", {})],
      confidence: 1,
      by: "hand",
      links: [],
      parity: null,
    };
    const moved = new Set(frames.map((f) => f.id));
    let next = put(dropResults(records, target, ...from), made, ...frames.map((f) => ({ ...f, setId: target })));
    next = followFrames(records, next, (frameId) => (moved.has(frameId) ? target : null));
    for (const id of from) {
      if (id === target) continue;
      if (framesOfSet(next, id).length === 0) next = without(next, [id]);
      else next = put(next, { ...(next[id] as SetRecord), links: [], parity: null });
    }
    return next[workingSetIdOf(next)] ? next : workOnSet(target)(next);
  };
}

/** Makes a set of frames that were chosen from many, and works on it. */
export function chooseFrames(frameIds: string[]): Edit {
  return (records) => {
    const next = moveFrames(frameIds, null)(records);
    const made = next[frameIds[0]];
    return made?.kind === "frame" ? workOnSet(made.setId)(next) : records;
  };
}

export function setKindOf(setId: string, setKind: SetKind): Edit {
  return updateRecord<SetRecord>(setId, { setKind, by: "hand", reasons: [message("set.named", {})], confidence: 1 });
}

/** Gives frames a development, whole or in part; what was registered and merged with another one no longer holds. */
export function developFrames(frameIds: string[], change: Partial<Development>): Edit {
  return (records) => {
    const frames = frameIds.flatMap((id) => (records[id]?.kind === "frame" ? [records[id]] : []));
    const bends = change.lens !== undefined;
    const sets = [...new Set(frames.map((f) => f.setId))];
    const rest = without(
      records,
      sets.flatMap((id) => [`merge-${id}`, ...(bends ? [`registration-${id}`, `panorama-${id}`, `geometry-${id}`] : [])]),
    );
    return put(rest, ...frames.map((f) => ({ ...f, development: { ...f.development, ...change } })));
  };
}

/** What turning by quarters changes of a frame. */
export type TurnedFrame = Pick<FrameRecord, "quarterTurns" | "width" | "height" | "measures">;

/** Turns frames: what was measured, placed or marked on their sets no longer holds. */
export function turnFrames(turned: Record<string, TurnedFrame>): Edit {
  return (records) => {
    const frames = Object.keys(turned).flatMap((id) => (records[id]?.kind === "frame" ? [records[id]] : []));
    const sets = [...new Set(frames.map((f) => f.setId))];
    const dropped = sets.reduce((all, id) => dropResults(all, id), records);
    const marks = Object.values(dropped).filter(
      (r) =>
        (r.kind === "region" ||
          r.kind === "pin" ||
          r.kind === "swap" ||
          r.kind === "plate" ||
          r.kind === "seat" ||
          (r.kind === "parity" && (r.aspect === "rotation" || r.aspect === "size"))) &&
        (sets.includes(r.setId) || (r.kind === "pin" && r.frameId !== null && Object.hasOwn(turned, r.frameId))),
    );
    const rest = without(
      dropped,
      marks.map((r) => r.id),
    );
    const compared = sets.flatMap((id) => (rest[id]?.kind === "set" ? [{ ...rest[id], parity: null }] : []));
    return put(rest, ...compared, ...frames.map((f) => ({ ...f, ...turned[f.id] })));
  };
}

/** A second development of the same file, as a frame of its own in the same set. */
export function developAgain(frameId: string): Edit {
  return (records) => {
    const frame = records[frameId];
    if (frame?.kind !== "frame") return records;
    const index = framesOf(records).reduce((top, f) => Math.max(top, f.index + 1), 0);
    return put(dropResults(records, frame.setId), { ...frame, id: newId("frame"), index });
  };
}

/** Lets a difference between the frames of a set stand, with its reason. */
export function acceptDifference(setId: string, aspect: string, reason: Message): Edit {
  return (records) => put(records, { kind: "parity", id: `parity-${setId}-${aspect}`, setId, aspect, reason });
}

/** EV of some frames, measured against each other; those of other frames stay. */
export function setMeasuredExposures(measuredEv: Record<string, number>): Edit {
  return (records) => put(records, { kind: "exposures", id: "exposures", measuredEv: { ...exposuresOf(records)?.measuredEv, ...measuredEv } });
}

export function setExcluded(frameId: string, excluded: boolean): Edit {
  return (records) => {
    const frame = records[frameId];
    return frame?.kind === "frame" ? put(dropResults(records, frame.setId), { ...frame, excluded }) : records;
  };
}

/** Registration and merge derive from the frames of their set; layers, strokes and adjustments stay. */
export function dropResults(records: Records, ...setIds: string[]): Records {
  return without(
    records,
    setIds.flatMap((id) => [`registration-${id}`, `panorama-${id}`, `merge-${id}`, `geometry-${id}`, `weave-${id}`, ...ghostsOf(records, id).map((g) => g.id)]),
  );
}

export function setRegistration(registration: RegistrationRecord, measuredEv: Record<string, number>): Edit {
  return (records) => {
    const { setId, referenceId } = registration;
    // what was painted lies on the reference, and stays while that is the same
    const stays = registrationOf(records, setId)?.referenceId === referenceId;
    const gone = ghostsOf(records, setId).filter((g) => !stays || g.by === "found");
    // boxes of parts lie on the reference too; what they laid stays, as all layers do
    const parts = stays ? [] : [...swapsOf(records, setId), ...seatsOf(records, setId)].map((s) => s.id);
    // and so does what is known of the plate
    if (!stays) parts.push(`plate-${setId}`);
    const rest = without(records, [`merge-${setId}`, `geometry-${setId}`, `panorama-${setId}`, `weave-${setId}`, ...gone.map((g) => g.id), ...parts]);
    return put(rest, registration, { kind: "exposures", id: "exposures", measuredEv: { ...exposuresOf(records)?.measuredEv, ...measuredEv } });
  };
}

/** What a placement holds beside its matrix when nothing was measured. */
const UNBENT = { lens: null, model: "translation" as const, by: "hand" as const, points: [], models: [], drift: null, otherPx: [] };

/** A registration in which every frame stays where it is. */
export function unmovedRegistration(frames: FrameRecord[], reference: FrameRecord, operationVersion: number): RegistrationRecord {
  const unmoved = { registered: true, matrix: IDENTITY, residualPx: 0, residualBeforePx: 0, agreeing: 1, confidence: 1, reason: null, shifts: [], ...UNBENT };
  return {
    kind: "registration",
    id: `registration-${reference.setId}`,
    setId: reference.setId,
    operationVersion,
    model: "translation",
    referenceId: reference.id,
    referenceReason: message("placing.none", {}),
    placements: frames.map((f) => ({ frameId: f.id, ...unmoved })),
    proposedCrop: { x: 0, y: 0, width: reference.width, height: reference.height },
  };
}

export function updateRecord<T extends AnyRecord>(id: string, change: Partial<T>): Edit {
  return (records) => (records[id] ? put(records, { ...records[id], ...change } as AnyRecord) : records);
}

export function addRecord(record: AnyRecord): Edit {
  return (records) => put(records, record);
}

export function removeRecord(id: string): Edit {
  return (records) => without(records, [id]);
}

/** A picture that is not turned, nor its camera. */
export const AS_TAKEN = { angleDeg: 0, tilt: undefined, lines: undefined };

/** Turns and crops the picture; how its camera was turned, and the lines that told it, stay unless they are given. */
export function setGeometry(geometry: Pick<GeometryRecord, "angleDeg" | "crop" | "ratio"> & Partial<Pick<GeometryRecord, "tilt" | "lines">>): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const { tilt, lines } = { ...geometryOf(records), ...geometry };
    const { angleDeg, crop, ratio } = geometry;
    const camera = { ...(tilt && (tilt.pitchDeg !== 0 || tilt.yawDeg !== 0) ? { tilt } : {}), ...(lines?.length ? { lines } : {}) };
    return put(records, { angleDeg, crop, ratio, ...camera, kind: "geometry", id: `geometry-${setId}`, setId });
  };
}

export function addPin(pin: Omit<PinRecord, "kind" | "id" | "index" | "setId" | "frameId"> & { frameId?: string }): Edit {
  return (records) => {
    const pins = Object.values(records).filter((r): r is PinRecord => r.kind === "pin");
    const index = pins.reduce((top, p) => Math.max(top, p.index + 1), 0);
    return put(records, { ...pin, kind: "pin", id: newId("pin"), index, setId: workingSetIdOf(records), frameId: pin.frameId ?? null });
  };
}

/** Marks something that has to line up, or that must not count, in the set worked on. */
export function addRegion(region: Pick<RegionRecord, "purpose" | "shape">): Edit {
  return (records) => {
    const index = Object.values(records).reduce((top, r) => (r.kind === "region" ? Math.max(top, r.index + 1) : top), 0);
    return put(records, { ...region, kind: "region", id: newId("region"), index, setId: workingSetIdOf(records) });
  };
}

/** Puts one frame somewhere else; what was merged no longer holds. */
export function setPlacement(placement: FramePlacement, proposedCrop: Rectangle): Edit {
  return (records) => {
    const registration = registrationOf(records);
    if (!registration) return records;
    const placements = registration.placements.map((p) => (p.frameId === placement.frameId ? placement : p));
    return put(without(records, [`merge-${registration.setId}`, `geometry-${registration.setId}`]), { ...registration, placements, proposedCrop });
  };
}

export interface StepText {
  stage: string;
  label: Telling;
  note?: string;
}

/** Carries out an edit as one step. @param id of the step, where it takes the place of one @returns the same objects where nothing changed */
export function takeStep(
  history: History,
  records: Records,
  edit: Edit,
  text: StepText,
  at: string,
  id = newId("step"),
): { history: History; records: Records; step: Step | null } {
  const after = edit(records);
  const diff = diffRecords(records, after);
  if (isEmptyDiff(diff)) return { history, records, step: null };
  const step: Step = { id, parent: history.head, at, stage: text.stage, label: asMessage(text.label), diff, effect: null, note: text.note ?? "" };
  return { history: append(history, step), records: after, step };
}

/** A job with its first step. */
export function startJob(name: string, at: string, setId?: string): { history: History; records: Records } {
  return takeStep(EMPTY_HISTORY, {}, createJob(name, at, setId), { stage: "gather", label: message("step.begun", { name }) }, at);
}
