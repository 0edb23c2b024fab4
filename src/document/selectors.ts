import type { TargetRecord } from "./records/targetTypes";
import { remember } from "../core/numeric/remember";
import { rayOf, type Camera } from "../core/panorama/camera";
import type { LevelLine } from "../core/panorama/level";
import type { LevelPin, PanoramaRecord, SeamFacts } from "./records/panoramaTypes";
import type {
  AcceptanceRecord,
  AnyRecord,
  Development,
  ExposuresRecord,
  FramePlacement,
  FrameRecord,
  GeometryRecord,
  GhostRecord,
  JobRecord,
  PinRecord,
  Records,
  RegionRecord,
  RegistrationRecord,
  ParityRecord,
  SetRecord,
  StrokeRecord,
} from "./records/types";
import type { MergeRecord } from "../kinds/merges/records";
import type { RecoveredResponse } from "../kinds/merges/fields";
import { valuesOf, type Adjustment } from "../kinds/adjustments/records";
import { isTold, wholeFrame, type Cut } from "../kinds/contents/frame/record";
import type { LayerRecord } from "./records/layerTypes";
import type { PlateRecord, SeatRecord } from "./records/plateTypes";
import type { SwapRecord } from "./records/swapTypes";
import type { WeaveRecord } from "./records/weaveTypes";

/** A state of a job is never changed in place, so each is gone through once. */
const byKind = remember((records: Records) => {
  const kinds = new Map<AnyRecord["kind"], AnyRecord[]>();
  for (const record of Object.values(records)) {
    const known = kinds.get(record.kind);
    if (known) known.push(record);
    else kinds.set(record.kind, [record]);
  }
  return kinds;
});

const ofKind = <T extends AnyRecord>(records: Records, kind: T["kind"]): readonly T[] => (byKind(records).get(kind) ?? []) as T[];

const byIndex = (a: { index: number }, b: { index: number }) => a.index - b.index;

export const jobOf = (r: Records) => r.job as JobRecord | undefined;
/** All frames of the job, of every set. */
export const framesOf = (r: Records) => [...ofKind<FrameRecord>(r, "frame")].sort(byIndex);
export const setsOf = (r: Records) => [...ofKind<SetRecord>(r, "set")].sort(byIndex);
export const framesOfSet = (r: Records, setId: string) => framesOf(r).filter((f) => f.setId === setId);
export const workingSetIdOf = (r: Records) => jobOf(r)?.workingSetId ?? "";
export const workingSetOf = (r: Records) => r[workingSetIdOf(r)] as SetRecord | undefined;
/** Frames of the set worked on that take part. */
export const activeFramesOf = (r: Records) => framesOfSet(r, workingSetIdOf(r)).filter((f) => !f.excluded);
export const exposuresOf = (r: Records) => r.exposures as ExposuresRecord | undefined;
/** Registration, merge and geometry belong to a set; without a name that of the set worked on. */
export const registrationOf = (r: Records, setId = workingSetIdOf(r)) => r[`registration-${setId}`] as RegistrationRecord | undefined;
export const mergeOf = (r: Records, setId = workingSetIdOf(r)) => r[`merge-${setId}`] as MergeRecord | undefined;
/** Directions of the frames, where the set worked on is a panorama that was registered. */
export const panoramaOf = (r: Records, setId = workingSetIdOf(r)) => r[`panorama-${setId}`] as PanoramaRecord | undefined;
/** Cameras of the frames of a panorama that have a direction. */
export const panoramaCamerasOf = (r: Records): Camera[] => panoramaFramesOf(r).map((f) => f.camera);
/** The same with their frames and their light. */
export function panoramaFramesOf(r: Records): { frame: FrameRecord; camera: Camera; gainEv: number[] }[] {
  const panorama = panoramaOf(r);
  if (!panorama) return [];
  const { focalPx, k1, k2, shiftX, shiftY } = panorama.lens;
  return panorama.frames.flatMap(({ frameId, rotation, gainEv }) => {
    const frame = r[frameId];
    if (frame?.kind !== "frame" || frame.excluded || !rotation) return [];
    return [{ frame, gainEv, camera: { width: frame.width, height: frame.height, rotation, focalPx, k1, k2, shiftX, shiftY } }];
  });
}
/** Lines that were said to be level or upright, as directions of the world; those whose frames take no part are left out. */
export function levelLinesFor(pins: LevelPin[], placed: { frame: FrameRecord; camera: Camera }[]): { pin: LevelPin; line: LevelLine }[] {
  const ray = ({ frameId, x, y }: LevelPin["a"]) => {
    const camera = placed.find((p) => p.frame.id === frameId)?.camera;
    return camera && rayOf(camera, x, y);
  };
  return pins.flatMap((pin) => {
    const [a, b] = [ray(pin.a), ray(pin.b)];
    return a && b ? [{ pin, line: { kind: pin.kind, a, b } }] : [];
  });
}
/** The same of the panorama worked on. */
export const levelLinesOf = (r: Records) => levelLinesFor(panoramaOf(r)?.levels ?? [], panoramaFramesOf(r));

/** Regions × frames of a set, where they were found. */
export const weaveOf = (r: Records, setId = workingSetIdOf(r)) => r[`weave-${setId}`] as WeaveRecord | undefined;
/** Parts that may come from other frames, in the order they were drawn. */
export const swapsOf = (r: Records, setId = workingSetIdOf(r)) =>
  ofKind<SwapRecord>(r, "swap")
    .filter((s) => s.setId === setId)
    .sort(byIndex);
export const plateOf = (r: Records, setId = workingSetIdOf(r)) => r[`plate-${setId}`] as PlateRecord | undefined;
/** What is seated, in the order of its layers, and shown by one still. */
export const seatsOf = (r: Records, setId = workingSetIdOf(r)) =>
  ofKind<SeatRecord>(r, "seat")
    .filter((s) => s.setId === setId && layerOf(r, s.layerId))
    .sort((a, b) => layerOf(r, a.layerId)!.index - layerOf(r, b.layerId)!.index);
/** Places where something moved, in the order of their numbers. */
export const ghostsOf = (r: Records, setId = workingSetIdOf(r)) =>
  ofKind<GhostRecord>(r, "ghost")
    .filter((x) => x.setId === setId)
    .sort((a, b) => a.number - b.number);
export const regionsOf = (r: Records, setId = workingSetIdOf(r)) =>
  ofKind<RegionRecord>(r, "region")
    .filter((x) => x.setId === setId)
    .sort(byIndex);
export const parityOf = (r: Records, setId = workingSetIdOf(r)) => ofKind<ParityRecord>(r, "parity").filter((x) => x.setId === setId);
/** Layers of the set worked on, in groups and out, bottom first. */
export const layersOf = (r: Records) =>
  ofKind<LayerRecord>(r, "layer")
    .filter((l) => l.setId === workingSetIdOf(r))
    .sort(byIndex);
export const layerOf = (r: Records, id: string) => (r[id]?.kind === "layer" ? (r[id] as LayerRecord) : undefined);
/** Layers of a group, or those in none, bottom first; the finish lies on top of all. */
export function childrenOf(r: Records, parentId: string | null): LayerRecord[] {
  const children = layersOf(r).filter((l) => l.parentId === parentId);
  return parentId === null ? [...children.filter((l) => !isFinish(l)), ...children.filter(isFinish)] : children;
}
/** The layer below, if it shows in places only and an adjustment without a mask lies right on it, which then may reach beyond it; else null. */
export function leaksBeyond(r: Records, layer: LayerRecord): LayerRecord | null {
  if (layer.content.type !== "adjustment" || layer.clipped || layer.mask.parts.length > 0) return null;
  const siblings = childrenOf(r, layer.parentId);
  const below = siblings[siblings.findIndex((l) => l.id === layer.id) - 1];
  return below && below.content.type !== "adjustment" && below.mask.parts.length > 0 ? below : null;
}
const NOT_SKY: Cut = { by: "sky", box: null, plateId: null, plateMatrix: null, marks: [] };
/** Layers that are shown and cut something out of a frame, where it is said what. */
export const cutoutsOf = (r: Records) =>
  layersOf(r).flatMap((layer) => {
    const { id, content, visible } = layer;
    // what stands before another sky
    if (visible && content.type === "otherSky") return [{ id, content: { ...wholeFrame(content.landId), cut: NOT_SKY } }];
    if (!visible || content.type !== "frame" || !content.cut || !isTold(content.cut)) return [];
    return [{ id, content: { ...content, cut: content.cut } }];
  });
/** The frame that a layer shows, or null. */
export const frameOfLayer = (l: LayerRecord) => (l.content.type === "frame" ? l.content.frameId : null);
export const strokesOf = (r: Records, layerId: string) =>
  ofKind<StrokeRecord>(r, "stroke")
    .filter((s) => s.layerId === layerId)
    .sort(byIndex);
export const geometryOf = (r: Records) => r[`geometry-${workingSetIdOf(r)}`] as GeometryRecord | undefined;
/** Pins of the set worked on; cards lie in single frames and are asked for by frame. */
export const pinsOf = (r: Records) =>
  ofKind<PinRecord>(r, "pin")
    .filter((p) => p.setId === workingSetIdOf(r) && p.purpose !== "card")
    .sort(byIndex);
/** Pins that are judged in Finish; they are numbered in this order. */
export const finishPinsOf = (r: Records) => pinsOf(r).filter((p) => p.purpose !== "stay");
/** Places that ought to look as places of a reference do. */
export const pairsOf = (r: Records, referenceId: string) => pinsOf(r).filter((p) => p.purpose === "pair" && p.frameId === referenceId);
export const cardsOf = (r: Records, frameId: string) => ofKind<PinRecord>(r, "pin").filter((p) => p.purpose === "card" && p.frameId === frameId);

/** What a frame is developed with when nothing was set. */
export const AS_SHOT: Development = { exposureEv: 0, mired: 0, duv: 0, tone: 1, lens: null };
/** What the picture is printed on, or undefined. */
export const targetOf = (r: Records): TargetRecord | undefined => ofKind<TargetRecord>(r, "target")[0];
export const acceptancesOf = (r: Records) => ofKind<AcceptanceRecord>(r, "acceptance");

/** The group on top of all layers of a set, in which its finish lies. */
export const finishId = (setId: string) => `finish-${setId}`;
export const isFinish = (layer: LayerRecord) => layer.id === finishId(layer.setId);
export const finishGroupOf = (r: Records) => layerOf(r, finishId(workingSetIdOf(r)));
/** The group on top of a finish, in which lies what brings the picture to a reference. */
export const lookId = (setId: string) => `look-${setId}`;
export const lookOf = (r: Records) => layerOf(r, lookId(workingSetIdOf(r)));
/** The group over all else of a finish, in which lies what mends single places. */
export const mendedId = (setId: string) => `mended-${setId}`;
/** The layers that the finish is made of, in groups and out. */
export function isInFinish(r: Records, layer: LayerRecord): boolean {
  for (let at: LayerRecord | undefined = layer; at; at = at.parentId === null ? undefined : layerOf(r, at.parentId)) if (isFinish(at)) return true;
  return false;
}
/** The layers that lie below the finish. */
export const composedLayersOf = (r: Records) => layersOf(r).filter((l) => !isInFinish(r, l));
/** The step of the finish that is an adjustment, the lowest where there are more. */
export const finishLayerOf = (r: Records, adjustment: Adjustment): LayerRecord | undefined =>
  childrenOf(r, finishId(workingSetIdOf(r))).find((l) => l.content.type === "adjustment" && l.content.adjustment === adjustment);
/** The layers of the finish in which something was set. */
export const finishStepsOf = (r: Records): LayerRecord[] =>
  childrenOf(r, finishId(workingSetIdOf(r))).filter(({ content }) => content.type !== "adjustment" || Object.keys(content.values).length > 0);
/** Values of a step of the finish: neutral where there is none, or it is hidden. */
export function finishValues(r: Records, adjustment: Adjustment): Record<string, number> {
  const layer = finishLayerOf(r, adjustment);
  return valuesOf(adjustment, layer?.visible && layer.content.type === "adjustment" ? layer.content.values : {});
}

/** Whether anything could be measured of a placement: where nothing could, its residual of 0 says nothing. */
export const isMeasured = (p: FramePlacement) => p.registered && (p.agreeing > 0 || p.residualPx > 0);

/** The picture's one-based frame number, as the ledger shows it. */
export function frameNumber(r: Records, frameId: string): number {
  return framesOf(r).findIndex((f) => f.id === frameId) + 1;
}

/** The frames that take part in a merge, in ledger order, with their placement. */
export function mergedFramesOf(r: Records) {
  const registration = registrationOf(r);
  if (!registration) return [];
  return activeFramesOf(r).flatMap((frame) => {
    const placement = registration.placements.find((p) => p.frameId === frame.id && p.registered && p.matrix);
    return placement ? [{ frame, matrix: placement.matrix!, lens: placement.lens }] : [];
  });
}

/** EV of a frame against the reference, measured from the pixels where known, else from metadata, else 0. */
export function relativeEvOf(r: Records, frameId: string): number {
  const registration = registrationOf(r);
  const measured = exposuresOf(r)?.measuredEv;
  const reference = registration?.referenceId;
  if (!reference) return 0;
  if (measured && measured[frameId] !== undefined && measured[reference] !== undefined) return measured[frameId] - measured[reference];
  const frames = framesOf(r);
  const a = frames.find((f) => f.id === frameId)?.meteredEv;
  const b = frames.find((f) => f.id === reference)?.meteredEv;
  return a != null && b != null ? a - b : 0;
}

/** Where frames of a panorama meet, the most visible first; none before it is joined. */
export function seamsOf(r: Records): SeamFacts[] {
  const merge = mergeOf(r);
  return (merge?.method === "panorama" && merge.seams) || [];
}

/** The response that a merge uses instead of the assumed curve, or null. */
export function responseInForce(r: Records): RecoveredResponse | null {
  const merge = mergeOf(r);
  const response = merge && "response" in merge ? merge.response : null;
  if (!response?.found || response.choice === "assumed") return null;
  return response.choice === "recovered" || response.found.convincing ? response.found : null;
}

/** Size of the document before the crop: that of a panorama's picture, else of the reference; null before registration. The same object while it is the same. */
export function documentSize(r: Records): { width: number; height: number } | null {
  const panorama = panoramaOf(r);
  if (panorama) return panorama.view;
  const reference = framesOf(r).find((f) => f.id === registrationOf(r)?.referenceId);
  return reference ?? null;
}
