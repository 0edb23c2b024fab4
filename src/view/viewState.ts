import { create } from "zustand";
import type { Surround } from "../ui/tokens/tokens";
import type { Judged } from "./judgedAs";
import { useHover } from "./hover";

/** How the person looks at pictures; nothing here changes the job. */
export interface ViewState {
  /** "fit", or CSS px a picture px */
  zoom: "fit" | number;
  /** the place in the middle, picture px; null until one was looked at more closely */
  cx: number | null;
  cy: number | null;
  /** how far pictures that are worked on are turned clockwise, degrees */
  turnDeg: number;
  surround: Surround;
  /** how pictures are shown for judging */
  judged: Judged;
  /** ask the picture to jump: a place in its px, shown at 100 % */
  jump: { x: number; y: number; serial: number } | null;
}

export const useView = create<ViewState>(() => ({ zoom: "fit", cx: null, cy: null, turnDeg: 0, surround: "middle", judged: "colour", jump: null }));

let serial = 0;

export function jumpTo(place: { x: number; y: number; width: number; height: number }): void {
  useView.setState({ jump: { x: place.x + place.width / 2, y: place.y + place.height / 2, serial: ++serial } });
}

/** Turns the picture on the screen, as one turns a sheet of paper. */
export const turnView = (byDeg: number) => useView.setState((s) => ({ turnDeg: ((s.turnDeg + byDeg + 540) % 360) - 180 }));

export const judgeIn = (judged: Judged): void => useView.setState({ judged });

/** Mono and back. */
export const judgeMono = (): void => useView.setState(({ judged }) => ({ judged: judged === "mono" ? "colour" : "mono" }));

export const showWhole = () => useView.setState({ zoom: "fit" });

/** At one to one: about the place that is pointed at, else the one looked at last, else the one pointed at last. */
export function showOneToOne(): void {
  const { cx, cy } = useView.getState();
  const { at, over } = useHover.getState();
  const pointed = at && { cx: at[0] + 0.5, cy: at[1] + 0.5 };
  const looked = cx !== null && cy !== null ? { cx, cy } : null;
  useView.setState({ zoom: 1 / (globalThis.devicePixelRatio || 1), ...((over ? pointed : null) ?? looked ?? pointed ?? { cx: null, cy: null }) });
}
