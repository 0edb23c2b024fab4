"use client";
import { useEffect } from "react";
import { isSwitchedOff, takesLetters } from "./letters";

/** Tells while a key is held; not while something is typed. */
export function useHeldKey(key: string, set: (held: boolean) => void): void {
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.key === key && !isSwitchedOff(e) && !e.repeat && !e.ctrlKey && !e.metaKey && !takesLetters(e.target)) set(true);
    };
    const up = (e: KeyboardEvent) => e.key === key && set(false);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [key, set]);
}
