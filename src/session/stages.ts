import { mergeKind } from "../kinds/merges/records";
import { MERGE_WORDS } from "../kinds/merges/words";
import type { Records } from "../document/records/types";
import { activeFramesOf, framesOf, geometryOf, ghostsOf, composedLayersOf, mergeOf, registrationOf, finishStepsOf } from "../document/selectors";
import type { Finding } from "../document/finding";

export const STAGES = ["plan", "gather", "register", "merge", "compose", "finish", "proof", "handover"] as const;
export type Stage = (typeof STAGES)[number];

export const STAGE_NAMES: Record<Stage, string> = {
  plan: "Plan",
  gather: "Gather",
  register: "Register",
  merge: "Merge",
  compose: "Compose",
  finish: "Finish",
  proof: "Proof",
  handover: "Hand over",
};

export type StageState = "notUsed" | "notBegun" | "working" | "finding" | "clear";
export const STATE_WORDS: Record<StageState, string> = {
  notUsed: "not used",
  notBegun: "not begun",
  working: "working",
  finding: "open finding",
  clear: "clear",
};

export interface StageInputs {
  records: Records;
  oddities: number;
  /** null: the proof has not been run on the picture as it is */
  findings: Finding[] | null;
  openFindings: number;
  working: Stage | null;
  lastExportAt: string | null;
}

/** The state and the one live figure of a stage. */
export function describeStage(stage: Stage, s: StageInputs): { state: StageState; figure: string } {
  const { records } = s;
  const frames = activeFramesOf(records);
  const registration = registrationOf(records);
  const merge = mergeOf(records);
  const described = ((): { state: StageState; figure: string } => {
    switch (stage) {
      case "plan":
        return { state: "notUsed", figure: "not used" };
      case "gather":
        if (framesOf(records).length === 0) return { state: "notBegun", figure: "no frames" };
        return {
          state: s.oddities ? "finding" : "clear",
          figure: `${frames.length} frame${frames.length === 1 ? "" : "s"}${s.oddities ? `, ${s.oddities} to check` : ""}`,
        };
      case "register": {
        if (!registration) return { state: "notBegun", figure: "not begun" };
        const out = registration.placements.filter((p) => !p.registered).length;
        const worst = Math.max(0, ...registration.placements.map((p) => p.residualPx));
        const unsure = registration.placements.filter((p) => p.otherPx.length > 0).length;
        const figure = out ? `${out} left out` : unsure ? `${unsure} unsure` : `within ${worst.toFixed(2)} px`;
        return { state: out || unsure ? "finding" : "clear", figure };
      }
      case "merge":
        if (!merge) return { state: "notBegun", figure: "not begun" };
        return {
          state: mergeKind(merge.method).smearsMotion && ghostsOf(records).some((g) => g.donorId === null && g.strength > 0) ? "finding" : "clear",
          figure: MERGE_WORDS[merge.method].name.toLowerCase(),
        };
      case "compose": {
        const layers = composedLayersOf(records).length;
        return layers ? { state: "clear", figure: `${layers} layer${layers === 1 ? "" : "s"}` } : { state: "notBegun", figure: "no layers" };
      }
      case "finish": {
        const steps = finishStepsOf(records).length + (geometryOf(records) ? 1 : 0);
        return steps ? { state: "clear", figure: `${steps} step${steps === 1 ? "" : "s"}` } : { state: "notBegun", figure: "not begun" };
      }
      case "proof":
        if (!s.findings) return { state: "notBegun", figure: merge ? "to be run" : "not begun" };
        return {
          state: s.openFindings ? "finding" : "clear",
          figure: s.openFindings ? `${s.openFindings} finding${s.openFindings === 1 ? "" : "s"}` : "clear",
        };
      case "handover":
        return s.lastExportAt ? { state: "clear", figure: "delivered" } : { state: "notBegun", figure: "not begun" };
    }
  })();
  return s.working === stage ? { ...described, state: "working" } : described;
}

/** The last stage at which something stands. */
export function reachedStage(records: Records, findings: Finding[] | null): Stage {
  const told = { records, oddities: 0, findings, openFindings: 0, working: null, lastExportAt: null };
  return STAGES.filter((s) => !["notUsed", "notBegun"].includes(describeStage(s, told).state)).at(-1) ?? "gather";
}
