import { create } from "zustand";

/** The place of the picture that the pointer was at last, px; apart from the views, so that pointing draws nothing else anew. */
export const useHover = create<{ at: [number, number] | null; over: boolean }>(() => ({ at: null, over: false }));

export function hoverOver(x: number, y: number): void {
  const [now, next] = [useHover.getState().at, [Math.round(x), Math.round(y)]];
  if (now?.[0] !== next[0] || now[1] !== next[1]) useHover.setState({ at: [next[0], next[1]], over: true });
}

/** The pointer is not on the picture any more. */
export const hoverEnds = () => useHover.setState({ over: false });
