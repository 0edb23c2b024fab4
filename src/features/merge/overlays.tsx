"use client";
import { useMemo } from "react";
import { create } from "zustand";
import { outlineOf, runBounds } from "../../core/masks/cellRuns";
import type { GhostRecord } from "../../document/records/types";
import { tokens } from "../../ui/tokens/tokens";

type ToScreen = (x: number, y: number) => [number, number];

/** Outlines of places with their numbers; the chosen one is heavier. */
export function GhostOutlines({
  ghosts,
  chosenId,
  at,
}: {
  ghosts: Pick<GhostRecord, "id" | "number" | "runs" | "cellPx">[];
  chosenId: string | null;
  at: ToScreen;
}) {
  return ghosts.map((g) => <Outline key={g.id} ghost={g} isChosen={g.id === chosenId} at={at} />);
}

function Outline({ ghost, isChosen, at }: { ghost: Pick<GhostRecord, "number" | "runs" | "cellPx">; isChosen: boolean; at: ToScreen }) {
  const path = useMemo(() => outlineOf(ghost.runs), [ghost.runs]);
  const bounds = runBounds(ghost.runs);
  if (!bounds) return null;
  const [x0, y0] = at(0, 0);
  const scale = at(ghost.cellPx, 0)[0] - x0 || 1;
  const [x, y] = at(bounds.x * ghost.cellPx, bounds.y * ghost.cellPx);
  const line = { d: path, fill: "none", vectorEffect: "non-scaling-stroke" as const, transform: `translate(${x0} ${y0}) scale(${scale})` };
  return (
    <g>
      <path {...line} stroke="#000" strokeWidth={isChosen ? 5 : 3} />
      <path {...line} stroke="#fff" strokeWidth={isChosen ? 2.5 : 1} />
      {ghost.number > 0 && (
        <text x={x} y={y - 5} fontSize="15" fontFamily={tokens.sans} fontWeight={600} fill="#fff" stroke="#000" strokeWidth="4" paintOrder="stroke">
          {ghost.number}
        </text>
      )}
    </g>
  );
}

/** Points of the stroke under way: x, y and pressure of each, so that nothing but its trace follows the pen. */
export const useTrace = create<{ points: number[] }>(() => ({ points: [] }));

/** The stroke under way. */
export function StrokeTrace({ diameterPx, at }: { diameterPx: number; at: ToScreen }) {
  const points = useTrace((s) => s.points);
  if (points.length < 3) return null;
  const scale = at(1, 0)[0] - at(0, 0)[0];
  const list = points.filter((_, i) => i % 3 === 0).map((x, i) => at(x + 0.5, points[i * 3 + 1] + 0.5).join(","));
  // one point alone draws nothing
  if (list.length === 1) list.push(list[0]);
  return (
    <polyline
      points={list.join(" ")}
      fill="none"
      stroke="#fff"
      strokeOpacity={0.45}
      strokeLinecap="round"
      strokeLinejoin="round"
      strokeWidth={diameterPx * scale}
    />
  );
}
