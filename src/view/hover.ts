import { create } from "zustand";

/** The place of the picture that the pointer was at last, px; apart from the views, so that pointing draws nothing else anew. */
export const useHover = create<{ at: [number, number] | null; over: boolean; spoken: boolean }>(() => ({ at: null, over: false, spoken: false }));

export function hoverOver(x: number, y: number): void {
  const [now, next] = [useHover.getState().at, [Math.round(x), Math.round(y)]];
  if (now?.[0] !== next[0] || now[1] !== next[1]) useHover.setState({ at: [next[0], next[1]], over: true, spoken: false });
}

/** The values of a place are asked for by somebody who does not see them. */
export const speakOf = (x: number, y: number) => useHover.setState({ at: [Math.round(x), Math.round(y)], spoken: true });

/** The pointer is not on the picture any more. */
export const hoverEnds = () => useHover.setState({ over: false });
