import { create } from "zustand";

/** The brush in hand; it belongs to the person, not to the job. Shares 0..1, diameter in px at full size. */
export interface Brush {
  reveal: boolean;
  diameterPx: number;
  softness: number;
  flow: number;
  opacity: number;
}

export const useBrush = create<Brush>(() => ({ reveal: true, diameterPx: 160, softness: 0.8, flow: 0.35, opacity: 1 }));
