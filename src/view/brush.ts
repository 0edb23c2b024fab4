import { useEffect, useRef } from "react";
import { create } from "zustand";
import { isSwitchedOff, takesArrows } from "./keys";

/** The brush in hand; it belongs to the person, not to the job. Shares 0..1, diameter in px at full size. */
export interface Brush {
  reveal: boolean;
  diameterPx: number;
  softness: number;
  flow: number;
  opacity: number;
  /** ΔE (Oklab, in hundredths) that it stays within of where a stroke began; 0 without limit */
  edgeTolerance: number;
  /** distance between dabs as a share of the diameter */
  spacing: number;
  /** exponent that a pen's pressure 0..1 is raised to: above 1 it takes a firmer hand */
  pressureCurve: number;
  /** how far the brush lags behind the pointer, 0..1 */
  steadiness: number;
}

export const useBrush = create<Brush>(() => ({
  reveal: true,
  diameterPx: 160,
  softness: 0.8,
  flow: 0.35,
  opacity: 1,
  edgeTolerance: 0,
  spacing: 0.08,
  pressureCurve: 1,
  steadiness: 0,
}));

const SMALLEST_PX = 2;
const LARGEST_PX = 4000;

/** Sets the size, within what a brush can be. */
export function setDiameter(diameterPx: number): void {
  useBrush.setState({ diameterPx: Math.min(LARGEST_PX, Math.max(SMALLEST_PX, diameterPx)) });
}

/** Arrow up and down change the brush's size, with Shift in larger steps. @returns whether the key was one of them */
export function sizeByKey({ key, shiftKey }: KeyboardEvent): boolean {
  const factor = shiftKey ? 1.5 : 1.12;
  const { diameterPx } = useBrush.getState();
  if (key === "ArrowUp") setDiameter(diameterPx * factor);
  else if (key === "ArrowDown") setDiameter(diameterPx / factor);
  else return false;
  return true;
}

/** Keys that work on the picture, unless a field, a slider, a row or a dialog has them. @param act says whether it took the key */
export function usePictureKeys(act: (event: KeyboardEvent) => boolean): void {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!takesArrows(event.target) && !isSwitchedOff(event) && !event.ctrlKey && !event.metaKey && !event.altKey && latest.current(event))
        event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
