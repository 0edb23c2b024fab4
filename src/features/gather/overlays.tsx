"use client";
import type { Rectangle } from "../../core/geometry/rectangle";
import { GRID } from "../../core/measure/frameGrid";
import type { FocusLeader } from "../../core/measure/sets/verifySet";
import type { FrameRecord, PinRecord } from "../../document/records/types";

type ToScreen = (x: number, y: number) => [number, number];

/** For each cell the frame of the set that is sharpest there; cells that are sharp in no frame are struck through. */
export function FocusMap({ at, frame, leaders }: { at: ToScreen; frame: FrameRecord; leaders: FocusLeader[] }) {
  return (
    <g>
      {leaders.map((leader, i) => {
        if (leader.number === null) return null;
        const [c, r] = [i % GRID.columns, Math.floor(i / GRID.columns)];
        const [x, y] = at(((c + 0.5) * frame.width) / GRID.columns, ((r + 0.5) * frame.height) / GRID.rows);
        const mine = leader.frameId === frame.id;
        return (
          <g key={i}>
            {mine && <rect x={x - 8} y={y - 9} width="16" height="17" fill="#f2f2f2" />}
            <text
              x={x}
              y={y + 4}
              fontSize="12"
              textAnchor="middle"
              fill={mine ? "#141414" : "#f2f2f2"}
              stroke={mine ? "none" : "#141414"}
              strokeWidth="3"
              paintOrder="stroke"
            >
              {leader.number}
            </text>
            {!leader.sharp && (
              <>
                <line x1={x - 9} y1={y + 8} x2={x + 9} y2={y - 9} stroke="#000" strokeWidth="3" />
                <line x1={x - 9} y1={y + 8} x2={x + 9} y2={y - 9} stroke="#fff" />
              </>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** Sharpness per cell against the frame's sharpest, as a figure; cells without structure stay empty. */
export function SharpnessMap({ at, frame }: { at: ToScreen; frame: FrameRecord }) {
  const cells = frame.measures.sharpness;
  const top = Math.max(0.001, ...cells.map((v) => v ?? 0));
  return (
    <g>
      {cells.map((v, i) => {
        if (v === null) return null;
        const [cx, cy] = [(i % GRID.columns) + 0.5, Math.floor(i / GRID.columns) + 0.5];
        const [x, y] = at((cx * frame.width) / GRID.columns, (cy * frame.height) / GRID.rows);
        const share = v / top;
        return (
          <g key={i}>
            <rect x={x - 17} y={y - 11} width="34" height="20" fill="#141414" opacity="0.78" />
            <rect x={x - 15} y={y + 5} width={30 * share} height="2" fill="#f2f2f2" />
            <text x={x} y={y + 2} fontSize="12" textAnchor="middle" fill="#f2f2f2">
              {Math.round(100 * share)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The place that frames are ranked by. */
export function PlaceFrame({ at, place }: { at: ToScreen; place: Rectangle }) {
  const [x0, y0] = at(place.x, place.y);
  const [x1, y1] = at(place.x + place.width, place.y + place.height);
  return (
    <g fill="none">
      <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#000" strokeWidth="3" />
      <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#fff" />
    </g>
  );
}

/** Where grey cards were marked. */
export function Cards({ at, places }: { at: ToScreen; places: PinRecord[] }) {
  return (
    <g fill="none">
      {places.map((p) => {
        const [x0, y0] = at(p.x - p.radius, p.y - p.radius);
        const [x1, y1] = at(p.x + p.radius + 1, p.y + p.radius + 1);
        const side = Math.max(12, x1 - x0);
        return (
          <g key={p.id}>
            <rect x={(x0 + x1) / 2 - side / 2} y={(y0 + y1) / 2 - side / 2} width={side} height={side} stroke="#000" strokeWidth="3" />
            <rect x={(x0 + x1) / 2 - side / 2} y={(y0 + y1) / 2 - side / 2} width={side} height={side} stroke="#fff" />
          </g>
        );
      })}
    </g>
  );
}
