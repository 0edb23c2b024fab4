import type { SetSummary } from "../document/sets";
import { SET_WORDS } from "../kinds/sets/words";
import { say } from "../messages/say";

/** A set in few words: its kind, its frames, its steps of exposure. */
export function setSentence({ kind, frames, stepMetered, stepMeasured }: SetSummary): string {
  if (frames === 0) return "No frames yet";
  const parts = [say("{kind}, {frames, plural, one {# frame} other {# frames}}", { kind: SET_WORDS[kind].name, frames })];
  if (stepMetered !== null) parts.push(say("step {stepMetered, number, ::.0} EV as metered", { stepMetered }));
  if (stepMeasured !== null)
    parts.push(say(stepMetered === null ? "step {ev, number, ::.00} EV as measured" : "{ev, number, ::.00} as measured", { ev: stepMeasured }));
  return parts.join(", ");
}
