import type { Rectangle } from "../core/geometry/rectangle";
import type { LayerRecord, MaskGroup } from "./records/layerTypes";
import type { FinishStep } from "./finishEdits";
import type { Records } from "./records/types";
import { acceptancesOf } from "./selectors";

export type FindingKind =
  | "clipped"
  | "blocked"
  | "lightSource"
  | "emptyBorder"
  | "edgeCut"
  | "cast"
  | "noEffect"
  | "motion"
  | "seam"
  | "softFrame"
  | "doubledEdge"
  | "bowedHorizon"
  | "leaningHorizon"
  | "halo"
  | "twins"
  | "spill"
  | "turnedMask"
  | "leak"
  | "sharpenedTwice";

/** What can be done about a finding with one action. */
export type Remedy =
  | { kind: "setFinish"; step: FinishStep; values: Record<string, number>; label: string }
  | { kind: "crop"; label: string }
  | { kind: "changeLayer"; layerId: string; change: Partial<Pick<LayerRecord, "clipped" | "visible">>; label: string }
  | { kind: "changeMask"; layerId: string; change: Partial<Pick<MaskGroup, "refinePx" | "ground" | "inverted">>; label: string }
  | { kind: "removeLayer"; layerId: string; label: string }
  | { kind: "show"; label: string };

export interface Finding {
  /** the same finding keeps its id between runs */
  id: string;
  kind: FindingKind;
  title: string;
  sentence: string;
  /** in output px, or null where it concerns the whole picture */
  place: Rectangle | null;
  /** share of the picture concerned, 0..1 */
  share: number;
  /** larger is more visible */
  weight: number;
  /** the step that brings it, in words */
  cause: string;
  remedy: Remedy | null;
  /** told apart and let through: lamps, the sun, glints */
  harmless: boolean;
}

/** Whether what was stored is a finding: what a screen shows of it has to be there. */
export function isFinding(value: unknown): value is Finding {
  const f = value as Partial<Finding> | null;
  const texts = [f?.id, f?.kind, f?.title, f?.sentence, f?.cause];
  const place = f?.place;
  return (
    texts.every((t) => typeof t === "string") &&
    Number.isFinite(f?.share) &&
    Number.isFinite(f?.weight) &&
    (place === null || (typeof place === "object" && [place.x, place.y, place.width, place.height].every(Number.isFinite))) &&
    (f?.remedy === null || (typeof f?.remedy === "object" && typeof f.remedy.kind === "string" && typeof f.remedy.label === "string"))
  );
}

/** What findings of a kind are called, where none of them is at hand. */
export const FINDING_NAMES: Record<FindingKind, string> = {
  clipped: "Clipped areas",
  blocked: "Blocked areas",
  lightSource: "Lights and glints",
  emptyBorder: "Uncovered border",
  edgeCut: "Things cut by the edge",
  cast: "Colour cast",
  noEffect: "Steps without effect",
  motion: "Things that moved",
  seam: "Visible seams",
  softFrame: "Soft frames",
  doubledEdge: "Doubled edges",
  bowedHorizon: "Bowed horizon",
  leaningHorizon: "Leaning horizon",
  halo: "Lines along masks",
  twins: "Things shown twice",
  spill: "Masks over an edge",
  turnedMask: "Inverted masks",
  leak: "Layers that reach too far",
  sharpenedTwice: "Sharpened twice",
};

/** What an acceptance is of, for people. @param findingId of one finding, or "kind:" and a kind */
export function acceptedName(findingId: string, findings: Finding[] | null): string {
  const found = findings?.find((f) => f.id === findingId);
  if (found) return found.title;
  const [kind] = findingId.replace(/^kind:/, "").split("-");
  const name = Object.hasOwn(FINDING_NAMES, kind) ? FINDING_NAMES[kind as FindingKind] : "A finding that is gone";
  return findingId.startsWith("kind:") ? `${name}, all of them` : name;
}

/** Findings that are neither harmless nor accepted. */
export function openFindingsOf(records: Records, findings: Finding[] | null): Finding[] {
  const accepted = new Set(acceptancesOf(records).map((a) => a.findingId));
  return (findings ?? []).filter((f) => !f.harmless && !accepted.has(f.id) && !accepted.has(`kind:${f.kind}`));
}
