import type { Message } from "../messages/message";
import { whiteBalanceMatrix } from "../core/color/whiteBalance";
import { transform } from "../core/geometry/matrix3";
import { compareParity, GEOMETRIC, type ParityAspect, type ParityDifference } from "../core/measure/sets/parity";
import { setRecord, type SetKind } from "../kinds/sets/records";
import { describeSteps, verifySet, type Oddity, type VerifiedFrame } from "../core/measure/sets/verifySet";
import type { FrameRecord, Records, SetRecord } from "./records/types";
import { exposuresOf, framesOf, framesOfSet, parityOf, registrationOf, workingSetIdOf } from "./selectors";
import { pictureIdOf } from "./sourceIds";

/** Seconds of a camera's "2026:09:18 19:02:12.17"; null where there is no time. */
export function secondsOf(takenAt: string | null): number | null {
  const parts = takenAt?.match(/^(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d):(\d\d(?:\.\d+)?)/);
  if (!parts) return null;
  const [, y, mo, d, h, mi, s] = parts.map(Number);
  return Date.UTC(y, mo - 1, d, h, mi) / 1000 + s;
}

/** A frame as the naming and the verification of sets want it. */
export function gatheredFrame(records: Records, frame: FrameRecord): VerifiedFrame {
  const { measures: m } = frame;
  return {
    id: frame.id,
    number: framesOf(records).findIndex((f) => f.id === frame.id) + 1,
    width: frame.width,
    height: frame.height,
    takenS: secondsOf(frame.takenAt),
    camera: frame.model,
    aperture: frame.aperture,
    focalLengthMm: frame.focalLengthMm,
    meteredEv: frame.meteredEv,
    measuredEv: exposuresOf(records)?.measuredEv[frame.id] ?? null,
    brightness: m.brightness,
    sharpness: m.sharpness.map((v) => v ?? NaN),
    stars: m.stars,
    plainBorder: m.plainBorder,
    fingerprint: pictureIdOf(frame) + JSON.stringify(frame.development),
    edgeWidthPx: m.edgeWidthPx,
  };
}

export interface SetSummary {
  kind: SetKind;
  frames: number;
  /** median step between neighbours, EV; null where there is none */
  stepMetered: number | null;
  stepMeasured: number | null;
  oddities: Oddity[];
  /** differences nobody has accepted or removed yet */
  differences: ParityDifference[];
  /** numbers of the frames that could not be laid on the others, so that nothing is known of their geometry and light */
  incomparable: number[];
  /** accepted differences, with the reason */
  accepted: { aspect: string; reason: Message; id: string }[];
}

/** All that is known and odd about a set. */
export function summarizeSet(records: Records, setId = workingSetIdOf(records)): SetSummary {
  const set = records[setId] as SetRecord | undefined;
  const members = framesOfSet(records, setId).filter((f) => !f.excluded);
  const frames = members.map((f) => gatheredFrame(records, f));
  const kind = set?.setKind ?? "separate";
  const steps = setRecord(kind).hasSteps ? describeSteps(frames) : { metered: null, measured: null };
  const accepted = parityOf(records, setId);
  return {
    kind,
    frames: frames.length,
    stepMetered: steps.metered,
    stepMeasured: steps.measured,
    oddities: verifySet(setRecord(kind).checks, frames, set?.links ?? [], set?.parity ?? []),
    differences: differencesOf(records, setId, members).filter((d) => !accepted.some((a) => a.aspect === d.aspect)),
    incomparable: frames.filter((f) => set?.parity?.some((p) => p.frameId === f.id && !p.comparable)).map((f) => f.number),
    accepted: accepted.map(({ aspect, reason, id }) => ({ aspect, reason, id })),
  };
}

/** Differences as developed: what a development makes equal is gone. */
function differencesOf(records: Records, setId: string, members: FrameRecord[]): ParityDifference[] {
  const set = records[setId] as SetRecord | undefined;
  if (!set?.parity || members.length < 2) return [];
  const frames = members.map((f) => ({ ...gatheredFrame(records, f), colorName: f.colorName, software: f.software, bits: f.bits }));
  const measured = set.parity
    .filter((p) => members.some((f) => f.id === p.frameId))
    .map((p) => {
      const { development } = members.find((f) => f.id === p.frameId)!;
      const [r, g, b] = transform(whiteBalanceMatrix(development.mired, development.duv), [2 ** p.redEv, 1, 2 ** p.blueEv]);
      return { ...p, k1: p.k1 - (development.lens?.k1 ?? 0), redEv: Math.log2(r / g), blueEv: Math.log2(b / g), tone: p.tone * development.tone };
    });
  const found = compareParity(frames, measured);
  return setRecord(set.setKind).comparesTone ? found : found.filter((d) => d.aspect !== "tone");
}

/** Whether a difference in geometry holds up registration: nobody has decided on it, and nothing is registered yet. */
export function blockingAspects(records: Records, setId = workingSetIdOf(records)): ParityAspect[] {
  if (registrationOf(records, setId)) return [];
  return summarizeSet(records, setId)
    .differences.filter((d) => GEOMETRIC.includes(d.aspect))
    .map((d) => d.aspect);
}
