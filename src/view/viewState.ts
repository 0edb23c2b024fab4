import { create } from "zustand";
import type { Surround } from "../ui/tokens/tokens";

/** How the person looks at pictures; nothing here changes the job. */
export interface ViewState {
  /** "fit", or CSS px a picture px */
  zoom: "fit" | number;
  cx: number;
  cy: number;
  /** how far pictures that are worked on are turned clockwise, degrees */
  turnDeg: number;
  surround: Surround;
  /** ask the picture to jump: a place in its px, shown at 100 % */
  jump: { x: number; y: number; serial: number } | null;
}

export const useView = create<ViewState>(() => ({ zoom: "fit", cx: 0, cy: 0, turnDeg: 0, surround: "middle", jump: null }));

let serial = 0;

export function jumpTo(place: { x: number; y: number; width: number; height: number }): void {
  useView.setState({ jump: { x: place.x + place.width / 2, y: place.y + place.height / 2, serial: ++serial } });
}

/** Turns the picture on the screen, as one turns a sheet of paper. */
export const turnView = (byDeg: number) => useView.setState((s) => ({ turnDeg: ((s.turnDeg + byDeg + 540) % 360) - 180 }));

export const showWhole = () => useView.setState({ zoom: "fit" });
export const showOneToOne = () => useView.setState((s) => ({ zoom: 1 / (globalThis.devicePixelRatio || 1), cx: s.cx, cy: s.cy }));
