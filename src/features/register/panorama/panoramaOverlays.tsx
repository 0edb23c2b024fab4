"use client";
import { rayOf, type Camera } from "../../../core/panorama/camera";
import type { ViewMap } from "../../../core/panorama/layout";
import type { LevelLine } from "../../../core/panorama/level";
import type { PanoramaPair } from "../../../document/records/panoramaTypes";
import type { ToScreen } from "../overlays";

const SIDES = 16;

/** The border of each frame where it lies in the picture, with its number in a corner of it. */
export function FrameOutlines({ at, map, frames }: { at: ToScreen; map: ViewMap; frames: { camera: Camera; label: string }[] }) {
  return (
    <g fill="none">
      {frames.map(({ camera, label }) => {
        const path = outline(camera, map, at);
        const middle = map.toPixel(rayOf(camera, (camera.width - 1) / 2, (camera.height - 1) / 2));
        const [x, y] = middle ? at(...middle) : [0, 0];
        return (
          <g key={label}>
            <path d={path} stroke="#000" strokeWidth="3" />
            <path d={path} stroke="#fff" strokeWidth="1.2" />
            {middle && (
              <>
                <rect x={x - 11} y={y - 10} width="22" height="20" fill="#141414" />
                <text x={x} y={y + 4.5} textAnchor="middle" fontSize="13" fontWeight="600" fill="#f4f4f4">
                  {label}
                </text>
              </>
            )}
          </g>
        );
      })}
    </g>
  );
}

function outline(camera: Camera, map: ViewMap, at: ToScreen): string {
  let path = "";
  let last: [number, number] | null = null;
  for (let i = 0; i <= SIDES * 4; i++) {
    const [side, t] = [Math.floor(i / SIDES) % 4, (i % SIDES) / SIDES];
    const [u, v] = [
      [t, 0],
      [1, t],
      [1 - t, 1],
      [0, 1 - t],
    ][side];
    const p = map.toPixel(rayOf(camera, u * (camera.width - 1), v * (camera.height - 1)));
    const q: [number, number] | null = p && at(...p);
    // a frame that lies across the cut of a full circle goes on at the other side
    const cut = !last || !q || Math.hypot(q[0] - last[0], q[1] - last[1]) > 600;
    if (q) path += `${cut ? "M" : "L"}${q[0].toFixed(1)} ${q[1].toFixed(1)} `;
    last = q;
  }
  return path;
}

/** Screen px of the radius of a place for one px that is left. */
const RADIUS_PX = 14;
const FAR_PX = 1;

/** Places that two frames share: the more px are left, the larger. */
export function MisfitPlaces({ at, map, pairs }: { at: ToScreen; map: ViewMap; pairs: PanoramaPair[] }) {
  return (
    <g>
      {pairs.flatMap((pair) =>
        pair.places.map(([x, y, z, left], i) => {
          const p = map.toPixel([x, y, z]);
          if (!p) return null;
          const [sx, sy] = at(...p);
          const far = left > Math.max(FAR_PX, 4 * pair.residualPx);
          return far ? (
            <g key={`${pair.aId}-${pair.bId}-${i}`} fill="none">
              <path d={`M${sx - 4} ${sy - 4} l8 8 m0 -8 l-8 8`} stroke="#000" strokeWidth="3" />
              <path d={`M${sx - 4} ${sy - 4} l8 8 m0 -8 l-8 8`} stroke="#fff" strokeWidth="1.2" />
            </g>
          ) : (
            <g key={`${pair.aId}-${pair.bId}-${i}`} fill="none">
              <circle cx={sx} cy={sy} r={1.6 + left * RADIUS_PX} stroke="#000" strokeWidth="3" />
              <circle cx={sx} cy={sy} r={1.6 + left * RADIUS_PX} stroke="#fff" strokeWidth="1.2" />
            </g>
          );
        }),
      )}
    </g>
  );
}

const STEPS = 24;

/** Lines that were said to be level or upright, as they run in the picture, with their numbers. */
export function LevelLines({ at, map, lines }: { at: ToScreen; map: ViewMap; lines: LevelLine[] }) {
  return (
    <g fill="none">
      {lines.map(({ a, b }, k) => {
        const points = Array.from({ length: STEPS + 1 }, (_, i) => map.toPixel([0, 1, 2].map((c) => a[c] + ((b[c] - a[c]) * i) / STEPS))).flatMap((p) =>
          p ? [at(...p)] : [],
        );
        if (points.length < 2) return null;
        const path = points.map(([x, y], i) => `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`).join(" ");
        const [x, y] = points[points.length >> 1];
        return (
          <g key={k}>
            <path d={path} stroke="#000" strokeWidth="3" />
            <path d={path} stroke="#fff" strokeWidth="1.2" strokeDasharray="7 4" />
            <text x={x + 5} y={y - 5} fontSize="12" fontWeight="600" fill="#fff" stroke="#000" strokeWidth="3" paintOrder="stroke">
              {k + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}
