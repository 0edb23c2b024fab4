"use client";
import { useEffect } from "react";
import { actOf, takesLetters, useKeys, type Act } from "./keys";

/** Tells while the key of an act is held; not while something is typed. */
export function useHeldKey(act: Act, set: (held: boolean) => void): void {
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (actOf(e) === act && !e.repeat && !takesLetters(e.target)) set(true);
    };
    // Shift may have come or gone in between
    const up = (e: KeyboardEvent) => e.key.toLowerCase() === useKeys.getState().of[act].toLowerCase() && set(false);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [act, set]);
}
