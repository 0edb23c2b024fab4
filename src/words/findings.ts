import type { Cause, Finding, Remedy } from "../document/finding";
import { ADJUSTMENT_WORDS } from "../kinds/adjustments/words";
import { isFindingKind } from "../kinds/findings/records";
import { FINDING_WORDS } from "../kinds/findings/words";
import { say } from "../messages/say";

export const findingTitle = ({ kind, values }: Finding): string => say(FINDING_WORDS[kind].title, values);
export const findingSentence = ({ kind, values }: Finding): string => say(FINDING_WORDS[kind].sentence, values);

const CAUSES: Record<Cause, string> = {
  scene: "The scene",
  gather: "Gather",
  register: "Register",
  merge: "Merge",
  compose: "Compose",
  finish: "Finish",
  crop: "Crop",
  whiteBalance: "White balance",
  toneAndExposure: "Tone response and exposure",
  mergeAndExposure: "Merge and exposure",
  exposureAndContrast: "Exposure and contrast",
  print: "The paper",
};

/** The step that brings a finding. */
export const causeName = (cause: Cause): string => CAUSES[cause];

/** What a remedy does, as it stands on its button. */
export function remedyName(remedy: Remedy): string {
  switch (remedy.kind) {
    case "show":
      return "Show";
    case "crop":
      return "Crop to the covered area";
    case "removeLayer":
      return "Remove the layer";
    case "changeLayer":
      return remedy.change.clipped ? "Only on the layer below" : say('Hide "{name}"', { name: remedy.name });
    case "changeTarget":
      return remedy.change.blackPoint ? "Bring black to the paper's black" : "Leave black as it is";
    case "changeMask": {
      const { refinePx, base } = remedy.change;
      if (refinePx !== undefined) return say("Let the mask follow edges within {refinePx} px", { refinePx });
      return base === undefined ? "Do not invert the mask" : base ? "Begin the mask revealed" : "Begin the mask concealed";
    }
    case "setFinish": {
      const { step, by } = remedy;
      if (step === "whiteBalance") return say("Take {by, number, ::sign-always .} mired", { by });
      const what = step === "toneResponse" ? "white point" : ADJUSTMENT_WORDS[step].name.toLowerCase();
      return say("{way} the {what} by {by, number, ::.0} EV", { way: by < 0 ? "Lower" : "Raise", what, by: Math.abs(by) });
    }
  }
}

/** What an acceptance is of, for people. @param findingId of one finding, or "kind:" and a kind */
export function acceptedName(findingId: string, findings: Finding[] | null): string {
  const found = findings?.find((f) => f.id === findingId);
  if (found) return findingTitle(found);
  const [kind] = findingId.replace(/^kind:/, "").split("-");
  const name = isFindingKind(kind) ? FINDING_WORDS[kind].name : "A finding that is gone";
  return findingId.startsWith("kind:") ? `${name}, all of them` : name;
}
