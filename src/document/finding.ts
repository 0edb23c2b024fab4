import type { Rectangle } from "../core/geometry/rectangle";
import { findingRecord, isFindingKind, type FindingKind, type FindingOwn, type ValuesOf } from "../kinds/findings/records";
import type { FinishStep } from "./finishEdits";
import type { LayerRecord, MaskGroup } from "./records/layerTypes";
import type { TargetRecord } from "./records/targetTypes";
import type { Records } from "./records/types";
import { acceptancesOf } from "./selectors";

/** What can be done about a finding with one action. */
export type Remedy =
  /** @property by how much the step is moved, in the unit of its first value */
  | { kind: "setFinish"; step: FinishStep; values: Record<string, number>; by: number }
  | { kind: "crop" }
  /** @property name of the layer */
  | { kind: "changeLayer"; layerId: string; name: string; change: Partial<Pick<LayerRecord, "clipped" | "visible">> }
  | { kind: "changeMask"; layerId: string; change: Partial<Pick<MaskGroup, "refinePx" | "base" | "inverted">> }
  | { kind: "changeTarget"; change: Partial<Pick<TargetRecord, "blackPoint">> }
  | { kind: "removeLayer"; layerId: string }
  | { kind: "show" };

const REMEDIES: Remedy["kind"][] = ["setFinish", "crop", "changeLayer", "changeMask", "changeTarget", "removeLayer", "show"];

/** The step that brings a finding. */
export const CAUSES = [
  "scene",
  "gather",
  "register",
  "merge",
  "compose",
  "finish",
  "crop",
  "whiteBalance",
  "toneAndExposure",
  "mergeAndExposure",
  "exposureAndContrast",
  "print",
] as const;
export type Cause = (typeof CAUSES)[number];

/** Something wrong with the picture, as codes and values: words are made of it where it is shown. */
export type Finding = FindingOwn & {
  /** the same finding keeps its id between runs */
  id: string;
  /** in output px, or null where it concerns the whole picture */
  place: Rectangle | null;
  /** share of the picture concerned, 0..1 */
  share: number;
  /** larger is more visible */
  weight: number;
  cause: Cause;
  remedy: Remedy | null;
};

/** A finding of a kind. */
export const finding = <K extends FindingKind>(kind: K, values: ValuesOf<K>, of: Omit<Finding, "kind" | "values">): Finding =>
  ({ ...of, kind, values }) as unknown as Finding;

/** Whether a finding is told apart and let through. */
export const isHarmless = ({ kind }: Finding): boolean => findingRecord(kind).isHarmless ?? false;

/** Whether what was stored is a finding: what a screen shows of it has to be there. */
export function isFinding(value: unknown): value is Finding {
  const f = value as Partial<Finding> | null;
  if (typeof f?.id !== "string" || !isFindingKind(f.kind) || !CAUSES.includes(f.cause!)) return false;
  const told = (f.values ?? {}) as Record<string, unknown>;
  const { place } = f;
  return (
    Object.entries(findingRecord(f.kind).values).every(([name, type]) => (type === "number" ? Number.isFinite(told[name]) : typeof told[name] === "string")) &&
    Number.isFinite(f.share) &&
    Number.isFinite(f.weight) &&
    (place === null || (typeof place === "object" && [place.x, place.y, place.width, place.height].every(Number.isFinite))) &&
    (f.remedy === null || (typeof f.remedy === "object" && REMEDIES.includes(f.remedy.kind)))
  );
}

/** Findings that are neither harmless nor accepted. */
export function openFindingsOf(records: Records, findings: Finding[] | null): Finding[] {
  const accepted = new Set(acceptancesOf(records).map((a) => a.findingId));
  return (findings ?? []).filter((f) => !isHarmless(f) && !accepted.has(f.id) && !accepted.has(`kind:${f.kind}`));
}
