"use client";
import { useMemo } from "react";
import { outlineOf, runBounds } from "../../core/masks/cellRuns";
import { GRID } from "../../core/measure/frameGrid";
import { focusLeaders } from "../../core/measure/sets/verifySet";
import type { GhostRecord } from "../../document/records/types";
import { mergedFramesOf } from "../../document/selectors";
import { gatheredFrame } from "../../document/sets";
import { useSession } from "../../session/store";
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

/** The stroke under way. */
export function StrokeTrace({ points, diameterPx, at }: { points: number[]; diameterPx: number; at: ToScreen }) {
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

/** Cells that no frame of a focus stack shows sharp. */
export function FocusGaps({ at, size }: { at: ToScreen; size: { width: number; height: number } }) {
  const records = useSession((s) => s.records);
  const leaders = focusLeaders(mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame)));
  return leaders.map((l, i) => {
    if (l.sharp || l.number === null) return null;
    const [c, r] = [i % GRID.columns, Math.floor(i / GRID.columns)];
    const [x0, y0] = at((c * size.width) / GRID.columns, (r * size.height) / GRID.rows);
    const [x1, y1] = at(((c + 1) * size.width) / GRID.columns, ((r + 1) * size.height) / GRID.rows);
    return (
      <g key={i} fill="none">
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#000" strokeWidth="3" />
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#fff" strokeWidth="1" />
      </g>
    );
  });
}
