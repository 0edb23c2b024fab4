import { useEffect, useRef, type KeyboardEvent } from "react";
import type { PicturePointer, PictureTool } from "./pictureTool";

/** The middle of the view as a pointer for whoever has no other: Space is its button, and the picture is moved under it while that is held. With Shift it is in the right one of two pictures. */
export function useMiddlePointer(tool: PictureTool | null, middle: { x: number; y: number }) {
  const isHeld = useRef(false);
  const pane = useRef<0 | 1>(0);
  const latest = useRef({ tool, middle });
  useEffect(() => {
    latest.current = { tool, middle };
  });
  const at = (): PicturePointer => ({ ...latest.current.middle, pane: pane.current, eraser: false, pressure: 1 });
  const { x, y } = middle;
  useEffect(() => {
    if (isHeld.current) latest.current.tool?.move?.([{ x, y, pane: pane.current, eraser: false, pressure: 1 }]);
  }, [x, y]);
  const release = () => {
    if (!isHeld.current) return;
    isHeld.current = false;
    latest.current.tool?.up?.();
  };
  return {
    /** @returns whether the key was its button */
    down: (event: Pick<KeyboardEvent, "key" | "repeat" | "shiftKey">): boolean => {
      if (event.key !== " " || !latest.current.tool) return false;
      if (!event.repeat && !isHeld.current) {
        isHeld.current = true;
        pane.current = latest.current.tool.beside && event.shiftKey ? 1 : 0;
        latest.current.tool.down(at());
      }
      return true;
    },
    up: (event: Pick<KeyboardEvent, "key">): void => {
      if (event.key === " ") release();
    },
    release,
  };
}
