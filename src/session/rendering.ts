import { message } from "../messages/message";
import type { Character } from "../core/render/characters";
import { asMerged, renderedSo, sameWithoutFinish } from "../document/renderingEdits";
import type { Records } from "../document/records/types";
import type { Rendering, Renderings } from "../engine/operations/finish/renderings";
import { edit, openJob } from "./openJob";
import { useSession } from "./store";

/** Renderings that were proposed, and the state of the job that they were measured in. */
export interface ToldRenderings {
  records: Records;
  told: Renderings;
}

/** Looks for renderings of the merge. */
export async function lookForRenderings(): Promise<ToldRenderings | null> {
  const { records } = useSession.getState();
  const job = openJob();
  const told = await job.run("finish", "task.rendering", (signal, onProgress) => job.ask("proposeRenderings", { records }, { signal, onProgress }));
  return told && { records, told };
}

/** Whether renderings still hold: nothing but the finish was changed since. */
export const holds = ({ records }: ToldRenderings, now: Records): boolean => sameWithoutFinish(records, now);

/** Takes a rendering as ordinary steps of the finish, and remembers its character. @param strength how far it goes, 0..1 */
export function takeRendering({ character, values }: Rendering, strength: number): boolean {
  rememberCharacter(character);
  return edit(renderedSo(values, strength), {
    stage: "finish",
    label: message("step.rendered", { character: message(`finish/character.${character}`, {}), percent: Math.round(100 * strength) }),
  });
}

/** Takes every step of the finish back. */
export const takeAsMerged = (): boolean => edit(asMerged, { stage: "finish", label: "step.asMerged" });

const KEPT = "marsh-character";

/** The character that was taken last. */
export function rememberedCharacter(): string | null {
  try {
    return localStorage.getItem(KEPT);
  } catch {
    return null;
  }
}

function rememberCharacter(character: Character): void {
  try {
    localStorage.setItem(KEPT, character);
  } catch {
    // a browser that keeps nothing offers them in their usual order
  }
}
