"use client";
import { useEffect } from "react";
import { saveJobFile } from "../session/jobCopy";
import { redo, undo } from "../session/openJob";
import { useSession } from "../session/store";
import { actOf, takesLetters } from "../view/keys";
import { COMMANDS } from "./commands";
import { chooseFiles } from "./receive";

/** Ctrl, or the platform's own key, with these; the first two stay the field's own where something is typed. */
const COMBINED: Record<string, (event: KeyboardEvent) => void> = {
  z: (event) => (event.shiftKey ? redo : undo)(),
  y: redo,
  s: () => void saveJobFile(),
  o: chooseFiles,
};

/** Keys that work everywhere. */
export function useKeyboard(sheetOpen: boolean, setSheet: (s: "find" | "keys") => void): void {
  useEffect(() => {
    const act = (event: KeyboardEvent): (() => void) | null | undefined => {
      const [typing, combined] = [takesLetters(event.target), event.ctrlKey || event.metaKey];
      const letter = event.key.toLowerCase();
      if (combined && !event.altKey) return typing && (letter === "z" || letter === "y") ? null : COMBINED[letter]?.bind(null, event);
      if (typing || sheetOpen || event.altKey || (event.target as HTMLElement).closest("[role=dialog]")) return null;
      if (event.key === "Escape") return () => useSession.getState().busy?.stop();
      const meant = actOf(event);
      if (meant === "findAction") return () => setSheet("find");
      if (meant === "keySheet") return () => setSheet("keys");
      return useSession.getState().jobId ? COMMANDS.find((c) => c.act === meant)?.run : null;
    };
    const onKey = (event: KeyboardEvent) => {
      const run = act(event);
      if (!run) return;
      event.preventDefault();
      run();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [sheetOpen, setSheet]);
}
