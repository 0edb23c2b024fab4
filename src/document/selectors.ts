import type {
  AcceptanceRecord,
  AdjustmentRecord,
  AdjustmentType,
  AnyRecord,
  ExposuresRecord,
  FrameRecord,
  GeometryRecord,
  JobRecord,
  LayerRecord,
  MergeRecord,
  PinRecord,
  Records,
  RegistrationRecord,
  StrokeRecord,
} from "./records/types";

function ofKind<T extends AnyRecord>(records: Records, kind: T["kind"]): T[] {
  return Object.values(records).filter((r): r is T => r.kind === kind);
}

const byIndex = (a: { index: number }, b: { index: number }) => a.index - b.index;

export const jobOf = (r: Records) => r.job as JobRecord | undefined;
export const framesOf = (r: Records) => ofKind<FrameRecord>(r, "frame").sort(byIndex);
export const activeFramesOf = (r: Records) => framesOf(r).filter((f) => !f.excluded);
export const exposuresOf = (r: Records) => r.exposures as ExposuresRecord | undefined;
export const registrationOf = (r: Records) => r.registration as RegistrationRecord | undefined;
export const mergeOf = (r: Records) => r.merge as MergeRecord | undefined;
export const layersOf = (r: Records) => ofKind<LayerRecord>(r, "layer").sort(byIndex);
export const strokesOf = (r: Records, layerId: string) =>
  ofKind<StrokeRecord>(r, "stroke")
    .filter((s) => s.layerId === layerId)
    .sort(byIndex);
export const geometryOf = (r: Records) => r.geometry as GeometryRecord | undefined;
export const pinsOf = (r: Records) => ofKind<PinRecord>(r, "pin").sort(byIndex);
export const acceptancesOf = (r: Records) => ofKind<AcceptanceRecord>(r, "acceptance");

export function adjustmentOf(r: Records, type: AdjustmentType): AdjustmentRecord | undefined {
  return r[`adjustment-${type}`] as AdjustmentRecord | undefined;
}

/** What an adjustment does when nothing was set: the neutral values, with their units. */
export const NEUTRAL: Record<AdjustmentType, Record<string, number>> = {
  exposure: { ev: 0 },
  whiteBalance: { mired: 0, duv: 0 },
  contrast: { factor: 1, pivot: 0.18 },
  chroma: { factor: 1 },
  tone: { headroomEv: 4 },
};

/** Values in force: neutral where the record is missing or switched off. */
export function adjustmentValues(r: Records, type: AdjustmentType): Record<string, number> {
  const record = adjustmentOf(r, type);
  return record && record.enabled ? { ...NEUTRAL[type], ...record.values } : NEUTRAL[type];
}

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
    return placement ? [{ frame, matrix: placement.matrix! }] : [];
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

/** Size of the reference, which is the size of the document before the crop; null before registration. */
export function documentSize(r: Records): { width: number; height: number } | null {
  const reference = framesOf(r).find((f) => f.id === registrationOf(r)?.referenceId);
  return reference ? { width: reference.width, height: reference.height } : null;
}

export const ADJUSTMENT_NAMES: Record<AdjustmentType, string> = {
  exposure: "Exposure",
  whiteBalance: "White balance",
  contrast: "Contrast",
  chroma: "Chroma",
  tone: "Tone response",
};
