"use client";
import { useEffect, useRef } from "react";
import { toFrame } from "../../core/geometry/lens";
import { invert } from "../../core/geometry/matrix3";
import { fitPoints } from "../../core/register/models";
import type { FrameRecord } from "../../document/records/types";
import { takesArrows } from "../../view/keys";
import { report, useSession } from "../../session/store";
import type { PicturePointer, PictureTool } from "../../view/pictureTool";
import { cornersOf, shifted, turned, withCorner } from "./handMoves";
import type { HandWork } from "./HandSection";
import { ask } from "../../session/openJob";

const ARROWS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Arrow keys move a frame that is placed by hand: 0.1 px, with shift 1 px. */
export function useArrowKeys(work: HandWork | null, set: (w: HandWork) => void): void {
  useEffect(() => {
    if (!work) return;
    const onKey = (e: KeyboardEvent) => {
      const arrow = ARROWS[e.key];
      if (!arrow || takesArrows(e.target)) return;
      e.preventDefault();
      const step = e.shiftKey ? 1 : 0.1;
      set({ ...work, placing: { ...work.placing, matrix: shifted(work.placing.matrix, arrow[0] * step, arrow[1] * step) } });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [work, set]);
}

/** Moves, turns, bends a frame or sets control points. */
export function useHandTool(work: HandWork | null, frame: FrameRecord, reference: FrameRecord, set: (w: HandWork | null) => void): PictureTool | null {
  const grip = useRef<{ start: PicturePointer; placing: HandWork["placing"]; corner: number } | null>(null);
  const records = useSession((s) => s.records);
  const latest = useRef(work);
  useEffect(() => {
    latest.current = work;
  }, [work]);
  if (!work) return null;
  if (work.tool === "points") {
    /** The frame follows its points at once. */
    const withPoints = (now: HandWork, points: number[][]) => {
      const fit = fitPoints(points, reference, frame, now.placing.lens);
      set({ ...now, points, placing: fit ? { ...now.placing, matrix: invert(fit.matrix) } : now.placing });
    };
    const snap = async (index: number, x: number, y: number, u: number, v: number) => {
      try {
        const found = await ask("snapPoint", { records, frameId: frame.id, placing: work.placing, point: { x, y }, guess: { u, v } });
        const now = latest.current;
        if (!now || !found) return;
        withPoints(
          now,
          now.points.map((p, i) => (i === index ? [x, y, found.u, found.v] : p)),
        );
      } catch (error) {
        report(error);
      }
    };
    return {
      cursor: "crosshair",
      beside: true,
      down: (p) => {
        const [u, v] = toFrame(invert(work.placing.matrix), work.placing.lens, frame, p.x, p.y);
        if (p.pane === 0) {
          withPoints(work, [...work.points, [p.x, p.y, u, v]]);
          void snap(work.points.length, p.x, p.y, u, v);
        } else if (work.points.length > 0) {
          // a click on the right corrects the point it hits, else the newest
          const distances = work.points.map((q) => Math.hypot(q[2] - u, q[3] - v));
          const hit = distances.indexOf(Math.min(...distances));
          const index = distances[hit] < frame.width / 100 ? hit : work.points.length - 1;
          const [x, y] = work.points[index];
          withPoints(
            work,
            work.points.map((q, i) => (i === index ? [x, y, u, v] : q)),
          );
          void snap(index, x, y, u, v);
        }
      },
    };
  }
  const [cx, cy] = [(reference.width - 1) / 2, (reference.height - 1) / 2];
  return {
    cursor: work.tool === "move" ? "move" : "default",
    down: (p) => {
      const distances = cornersOf(work.placing.matrix, frame).map(([x, y]) => Math.hypot(x - p.x, y - p.y));
      grip.current = { start: p, placing: work.placing, corner: distances.indexOf(Math.min(...distances)) };
    },
    move: (list) => {
      const last = list[list.length - 1];
      const g = grip.current;
      if (!g || !last) return;
      const { matrix } = g.placing;
      const { start } = g;
      const angle = (Math.atan2(last.y - cy, last.x - cx) - Math.atan2(start.y - cy, start.x - cx)) * (180 / Math.PI);
      const scale = Math.hypot(last.x - cx, last.y - cy) / Math.max(1, Math.hypot(start.x - cx, start.y - cy));
      const moved =
        work.tool === "move"
          ? shifted(matrix, last.x - start.x, last.y - start.y)
          : work.tool === "turn"
            ? turned(matrix, angle, Math.min(2, Math.max(0.5, scale)), cx, cy)
            : withCorner(matrix, frame, g.corner, last.x, last.y);
      set({ ...work, placing: { ...g.placing, matrix: moved } });
    },
    up: () => {
      grip.current = null;
    },
  };
}
