import { useEffect, useRef, type KeyboardEvent } from "react";
import type { PicturePointer, PictureTool } from "./pictureTool";

/** The middle of the view as a pointer for whoever has no other: Space is its button, and the picture is moved under it while that is held. */
export function useMiddlePointer(tool: PictureTool | null, middle: { x: number; y: number }) {
  const isHeld = useRef(false);
  const latest = useRef({ tool, middle });
  useEffect(() => {
    latest.current = { tool, middle };
  });
  const at = (): PicturePointer => ({ ...latest.current.middle, pane: 0, eraser: false, pressure: 1 });
  const { x, y } = middle;
  useEffect(() => {
    if (isHeld.current) latest.current.tool?.move?.([{ x, y, pane: 0, eraser: false, pressure: 1 }]);
  }, [x, y]);
  const release = () => {
    if (!isHeld.current) return;
    isHeld.current = false;
    latest.current.tool?.up?.();
  };
  return {
    /** @returns whether the key was its button */
    down: (event: Pick<KeyboardEvent, "key" | "repeat">): boolean => {
      if (event.key !== " " || !latest.current.tool) return false;
      if (!event.repeat && !isHeld.current) {
        isHeld.current = true;
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
