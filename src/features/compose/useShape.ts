import { message } from "../../messages/message";
import { useEffect, useRef } from "react";
import { create } from "zustand";
import { updatePart } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { controlsOf } from "../../kinds/maskParts/controls";
import type { MaskPart } from "../../kinds/maskParts/records";
import { PART_WORDS } from "../../kinds/maskParts/words";
import { edit } from "../../session/openJob";
import type { PicturePointer } from "../../view/pictureTool";

/** Corners of an outline closer than this on the way are left out, px of the picture. */
const LEAST_STEP = 3;
const MOST_CORNERS = 4000;

/** Whether a part is drawn on the picture by dragging. */
export function isDrawn(part: MaskPart | null): part is MaskPart {
  if (!part) return false;
  const { drawn, isDrawn: asItIs } = controlsOf(part);
  return drawn !== undefined && (asItIs?.(part) ?? true);
}

/** A shape while it is drawn. */
export const useDrawn = create<{ part: MaskPart | null }>(() => ({ part: null }));
const setDrawn = (part: MaskPart | null) => useDrawn.setState({ part });

/** Draws the shape of a part; it becomes one step when the pen is lifted. @param even both sides are alike */
export function useShape(layer: LayerRecord | null, part: MaskPart | null, even: boolean) {
  // left in the middle of it, nothing was drawn
  useEffect(() => () => setDrawn(null), []);
  const start = useRef<[number, number] | null>(null);
  const outline = useRef<number[]>([]);

  const draw = ({ x, y }: PicturePointer): MaskPart | null => {
    if (!isDrawn(part) || !start.current) return null;
    const points = outline.current;
    const n = points.length;
    if (n < 2 * MOST_CORNERS && Math.hypot(x - points[n - 2], y - points[n - 1]) >= LEAST_STEP) points.push(Math.round(x * 10) / 10, Math.round(y * 10) / 10);
    return controlsOf(part).drawn?.(part, { from: start.current, to: [x, y], along: [...points], even }) ?? null;
  };
  const down = (p: PicturePointer) => {
    start.current = [p.x, p.y];
    outline.current = [p.x, p.y];
    if (part && controlsOf(part).atOnce?.(part)) setDrawn(draw(p));
  };
  const move = (list: PicturePointer[]) => {
    let next: MaskPart | null = null;
    for (const p of list) next = draw(p) ?? next;
    if (next) setDrawn(next);
  };
  const up = () => {
    start.current = null;
    const drawn = useDrawn.getState().part;
    setDrawn(null);
    if (drawn && layer)
      edit(updatePart(layer.id, drawn.id, drawn), {
        stage: "compose",
        label: message("step.partDrawn", { part: PART_WORDS[drawn.kind].name, name: layer.name }),
      });
  };
  return { down, move, up };
}
