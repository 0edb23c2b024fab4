import type { LateralColour } from "../../core/measure/lateralColour";
import { setRecord, type SetKind } from "../sets/records";
import { base } from "./base/record";
import { clippedMean } from "./clippedMean/record";
import type { MergeKind } from "./fields";
import { focus } from "./focus/record";
import { fusion } from "./fusion/record";
import { mean } from "./mean/record";
import { median } from "./median/record";
import { panorama } from "./panorama/record";
import { radiance } from "./radiance/record";

/** How frames become one picture. */
export const MERGE_RECORDS = { radiance, fusion, focus, clippedMean, mean, median, base, panorama };

export type MergeMethod = keyof typeof MERGE_RECORDS;
export const MERGE_METHODS = Object.keys(MERGE_RECORDS) as MergeMethod[];

/** What every merge holds. */
export interface MergeCommon {
  kind: "merge";
  /** merge-<set id> */
  id: string;
  setId: string;
  operationVersion: number;
  /** the lateral colour that frames are placed without; null: as shot */
  lateral: LateralColour | null;
  /** multiples of the noise from which frames are taken to differ */
  ghostThreshold: number;
  /** frame that moving things are taken from where it can be, or that others come into; null: proposed for each, the reference */
  baseId: string | null;
  /** frame id → share of the picture that it gave */
  shares: Record<string, number>;
}

type OwnOf<M extends MergeMethod> = (typeof MERGE_RECORDS)[M] extends MergeKind<infer Own> ? Own : never;
/** What a method knows besides, and how it was set. */
export type MergeOwn = { [M in MergeMethod]: { method: M } & OwnOf<M> }[MergeMethod];
export type MergeRecord = MergeCommon & MergeOwn;
export type MergeOf<M extends MergeMethod> = MergeCommon & { method: M } & OwnOf<M>;

/** Of a method, whatever it is. */
export const mergeKind = (method: MergeMethod) => MERGE_RECORDS[method] as MergeKind<object>;
export const isMergeMethod = (method: unknown): method is MergeMethod => typeof method === "string" && Object.hasOwn(MERGE_RECORDS, method);

/** What a record holds that a method knows, and the rest as that begins: merges of one set hand on what they share. */
export function ownOf<M extends MergeMethod>(method: M, from: object | undefined): OwnOf<M> {
  const fresh = mergeKind(method).fresh() as Record<string, unknown>;
  const given = (from ?? {}) as Record<string, unknown>;
  return Object.fromEntries(Object.keys(fresh).map((key) => [key, given[key] ?? fresh[key]])) as OwnOf<M>;
}

/** The methods that suit a kind of set, the first proposed; where none says so, those for a frame on its own. */
export function methodsFor(kind: SetKind): MergeMethod[] {
  const suiting = (Object.keys(MERGE_RECORDS) as MergeMethod[]).filter((m) => mergeKind(m).suits[kind]);
  if (suiting.length === 0) return methodsFor("single");
  return suiting.sort((a, b) => mergeKind(b).suits[kind]! - mergeKind(a).suits[kind]!);
}

/** The method whose scene light is written for a merge: where it has none and compares light, the same frames are merged to radiance. */
export const lightMethod = (method: MergeMethod): MergeMethod => (mergeKind(method).comparesLight && !mergeKind(method).givesSceneLight ? "radiance" : method);

/** Whether the frame proposed for a place that moved is taken at once: where all are merged and the frames are one moment's. */
export const seatsAtOnce = (method: MergeMethod, kind: SetKind): boolean =>
  (mergeKind(method).seatsByItself ?? false) && (setRecord(kind).isOfOneMoment ?? false);
