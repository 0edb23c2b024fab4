"use client";
import { useRef } from "react";
import type { RegionShape } from "../../core/register/regions";
import { addRegion } from "../../document/edits";
import { edit } from "../../session/openJob";
import type { PicturePointer, PictureTool } from "../../view/pictureTool";
import type { Marking } from "./RegionSection";

/** Diameter of the brush against the longer side. */
const BRUSH_SHARE = 0.04;

/** Draws a region: a box between two corners, or a stroke. */
export function useMarkTool(
  marking: Marking | null,
  size: { width: number; height: number },
  draft: RegionShape | null,
  setDraft: (s: RegionShape | null) => void,
  setMarking: (m: Marking | null) => void,
): PictureTool | null {
  const from = useRef<PicturePointer | null>(null);
  if (!marking) return null;
  const brushPx = Math.max(12, Math.round(BRUSH_SHARE * Math.max(size.width, size.height)));
  const finish = () => {
    const enough = draft && (draft.kind === "brush" || (draft.rectangle.width >= 12 && draft.rectangle.height >= 12));
    if (enough) {
      const label = marking.purpose === "lineUp" ? "step.regionMarked" : "step.regionIgnored";
      edit(addRegion({ purpose: marking.purpose, shape: draft }), { stage: "register", label });
      setMarking(null);
    }
    from.current = null;
    setDraft(null);
  };
  return {
    cursor: "crosshair",
    ring: marking.with === "brush" ? brushPx : undefined,
    down: (p) => {
      from.current = p;
      if (marking.with === "brush") setDraft({ kind: "brush", points: [Math.round(p.x), Math.round(p.y)], diameterPx: brushPx });
    },
    move: (list) => {
      const start = from.current;
      const last = list[list.length - 1];
      if (!start || !last) return;
      if (marking.with === "brush") {
        const before = draft?.kind === "brush" ? draft.points : [];
        setDraft({ kind: "brush", points: [...before, Math.round(last.x), Math.round(last.y)], diameterPx: brushPx });
        return;
      }
      const x = Math.max(0, Math.round(Math.min(start.x, last.x)));
      const y = Math.max(0, Math.round(Math.min(start.y, last.y)));
      const width = Math.max(1, Math.round(Math.abs(last.x - start.x)));
      const height = Math.max(1, Math.round(Math.abs(last.y - start.y)));
      setDraft({ kind: "box", rectangle: { x, y, width, height } });
    },
    up: finish,
  };
}
