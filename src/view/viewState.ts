import { create } from "zustand";
import type { Surround } from "../ui/tokens/tokens";

/** How the person looks at pictures; nothing here changes the job. */
export interface ViewState {
  /** "fit", or CSS px a picture px */
  zoom: "fit" | number;
  cx: number;
  cy: number;
  surround: Surround;
  /** ask the picture to jump: a place in its px, shown at 100 % */
  jump: { x: number; y: number; serial: number } | null;
}

export const useView = create<ViewState>(() => ({ zoom: "fit", cx: 0, cy: 0, surround: "middle", jump: null }));

let serial = 0;

export function jumpTo(place: { x: number; y: number; width: number; height: number }): void {
  useView.setState({ jump: { x: place.x + place.width / 2, y: place.y + place.height / 2, serial: ++serial } });
}

export const showWhole = () => useView.setState({ zoom: "fit" });
export const showOneToOne = () => useView.setState((s) => ({ zoom: 1 / (globalThis.devicePixelRatio || 1), cx: s.cx, cy: s.cy }));
