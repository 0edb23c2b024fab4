import { useRef, useState } from "react";
import { updatePart } from "../../document/layerEdits";
import type { LayerRecord, MaskPart } from "../../document/records/layerTypes";
import { edit } from "../../session/openJob";
import type { PicturePointer } from "../../view/PictureView";
import { PART_NAMES } from "./layerWords";

/** Corners of an outline closer than this on the way are left out, px of the picture. */
const LEAST_STEP = 3;
const MOST_CORNERS = 4000;

/** Whether a part is drawn on the picture by dragging. */
export const isDrawn = (part: MaskPart | null): part is MaskPart & { kind: "ramp" | "ellipse" | "polygon" | "found" } =>
  part !== null &&
  (part.kind === "ramp" || part.kind === "ellipse" || part.kind === "polygon" || (part.kind === "found" && (part.what === "subject" || part.what === "near")));

/** A shape while it is drawn; it becomes one step when the pen is lifted. @param even an ellipse is a circle */
export function useShape(layer: LayerRecord | null, part: MaskPart | null, even: boolean) {
  const [live, setLive] = useState<MaskPart | null>(null);
  const start = useRef<[number, number] | null>(null);
  const outline = useRef<number[]>([]);

  const draw = ({ x, y }: PicturePointer): MaskPart | null => {
    if (!isDrawn(part) || !start.current) return null;
    const [x0, y0] = start.current;
    if (part.kind === "found") return part.what === "near" ? { ...part, x0: x, y0: y } : { ...part, x0, y0, x1: x, y1: y };
    if (part.kind === "ramp") return { ...part, x0, y0, x1: x, y1: y };
    if (part.kind === "ellipse") {
      const [rx, ry] = [Math.max(1, Math.abs(x - x0)), Math.max(1, Math.abs(y - y0))];
      return { ...part, cx: x0, cy: y0, rx: even ? Math.max(rx, ry) : rx, ry: even ? Math.max(rx, ry) : ry };
    }
    const points = outline.current;
    const n = points.length;
    if (n < 2 * MOST_CORNERS && Math.hypot(x - points[n - 2], y - points[n - 1]) >= LEAST_STEP) points.push(Math.round(x * 10) / 10, Math.round(y * 10) / 10);
    return points.length >= 6 ? { ...part, points: [...points] } : null;
  };
  const down = (p: PicturePointer) => {
    start.current = [p.x, p.y];
    outline.current = [p.x, p.y];
    if (part?.kind === "found" && part.what === "near") setLive(draw(p));
  };
  const move = (list: PicturePointer[]) => {
    let next: MaskPart | null = null;
    for (const p of list) next = draw(p) ?? next;
    if (next) setLive(next);
  };
  const up = () => {
    start.current = null;
    if (live && layer) edit(updatePart(layer.id, live.id, live), { stage: "compose", label: `${PART_NAMES[live.kind]} drawn for "${layer.name}"` });
    setLive(null);
  };
  return { shape: live ?? part, handlers: { down, move, up } };
}
