import { message, written, type Telling } from "../messages/message";
import { mergeKind } from "../kinds/merges/records";
import { MERGE_WORDS } from "../kinds/merges/words";
import type { Records } from "../document/records/types";
import { activeFramesOf, framesOf, geometryOf, ghostsOf, composedLayersOf, mergeOf, registrationOf, finishStepsOf } from "../document/selectors";
import type { Finding } from "../document/finding";

export const STAGES = ["plan", "gather", "register", "merge", "compose", "finish", "proof", "handover"] as const;
export type Stage = (typeof STAGES)[number];

export type StageState = "notUsed" | "notBegun" | "working" | "finding" | "clear";

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
export function describeStage(stage: Stage, s: StageInputs): { state: StageState; figure: Telling } {
  const { records } = s;
  const frames = activeFramesOf(records);
  const registration = registrationOf(records);
  const merge = mergeOf(records);
  const described = ((): { state: StageState; figure: Telling } => {
    switch (stage) {
      case "plan":
        return { state: "notUsed", figure: "state.notUsed" };
      case "gather":
        if (framesOf(records).length === 0) return { state: "notBegun", figure: "stage.noFrames" };
        return {
          state: s.oddities ? "finding" : "clear",
          figure: s.oddities ? message("stage.framesToCheck", { count: frames.length, odd: s.oddities }) : message("stage.frames", { count: frames.length }),
        };
      case "register": {
        if (!registration) return { state: "notBegun", figure: "state.notBegun" };
        const out = registration.placements.filter((p) => !p.registered).length;
        const worst = Math.max(0, ...registration.placements.map((p) => p.residualPx));
        const unsure = registration.placements.filter((p) => p.otherPx.length > 0).length;
        const figure = out
          ? message("stage.leftOut", { count: out })
          : unsure
            ? message("stage.unsure", { count: unsure })
            : registration.placements.length === 1
              ? "stage.asItIs"
              : message("stage.within", { px: worst });
        return { state: out || unsure ? "finding" : "clear", figure };
      }
      case "merge":
        if (!merge) return { state: "notBegun", figure: "state.notBegun" };
        return {
          state: mergeKind(merge.method).smearsMotion && ghostsOf(records).some((g) => g.donorId === null && g.strength > 0) ? "finding" : "clear",
          figure: written(MERGE_WORDS[merge.method].name.toLowerCase()),
        };
      case "compose": {
        const layers = composedLayersOf(records).length;
        return layers ? { state: "clear", figure: message("stage.layers", { count: layers }) } : { state: "notBegun", figure: "stage.noLayers" };
      }
      case "finish": {
        const steps = finishStepsOf(records).length + (geometryOf(records) ? 1 : 0);
        return steps ? { state: "clear", figure: message("stage.steps", { count: steps }) } : { state: "notBegun", figure: "state.notBegun" };
      }
      case "proof":
        if (!s.findings) return { state: "notBegun", figure: merge ? "stage.toBeRun" : "state.notBegun" };
        return {
          state: s.openFindings ? "finding" : "clear",
          figure: s.openFindings ? message("stage.findings", { count: s.openFindings }) : "state.clear",
        };
      case "handover":
        return s.lastExportAt ? { state: "clear", figure: "stage.delivered" } : { state: "notBegun", figure: "state.notBegun" };
    }
  })();
  return s.working === stage ? { ...described, state: "working" } : described;
}

/** The last stage at which something stands. */
export function reachedStage(records: Records, findings: Finding[] | null): Stage {
  const told = { records, oddities: 0, findings, openFindings: 0, working: null, lastExportAt: null };
  return STAGES.filter((s) => !["notUsed", "notBegun"].includes(describeStage(s, told).state)).at(-1) ?? "gather";
}
