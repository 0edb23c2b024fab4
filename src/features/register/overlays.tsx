"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import type { RegionShape } from "../../core/register/regions";
import type { RegionRecord } from "../../document/records/types";

export type ToScreen = (x: number, y: number) => [number, number];

/** Our double hairline, light and dark. */
function Outline({ d }: { d: string }) {
  return (
    <g fill="none">
      <path d={d} stroke="#000" strokeWidth="3" />
      <path d={d} stroke="#fff" strokeWidth="1" />
    </g>
  );
}

const boxPath = (at: ToScreen, r: { x: number; y: number; width: number; height: number }) => {
  const [x0, y0] = at(r.x, r.y);
  const [x1, y1] = at(r.x + r.width, r.y + r.height);
  return `M${x0} ${y0} H${x1} V${y1} H${x0} Z`;
};

export function CropOutline({ at, crop }: { at: ToScreen; crop: { x: number; y: number; width: number; height: number } }) {
  return <Outline d={boxPath(at, crop)} />;
}

/** Screen px a line has for one px that is left. */
export const LINE_PX = 60;

/** What is left at each place as a line; places that disagree carry a cross. */
export function ResidualMap({ at, shifts }: { at: ToScreen; shifts: number[][] }) {
  return (
    <g>
      {shifts.map(([x, y, dx, dy, correlation], i) => {
        const [sx, sy] = at(x + 0.5, y + 0.5);
        const agrees = correlation >= 0.6 && Math.hypot(dx, dy) <= 1.5;
        const line = agrees ? `M${sx} ${sy} l${dx * LINE_PX} ${dy * LINE_PX}` : `M${sx - 4} ${sy - 4} l8 8 m0 -8 l-8 8`;
        return (
          <g key={i} fill="none">
            <path d={line} stroke="#000" strokeWidth="3" />
            <path d={line} stroke="#fff" strokeWidth="1.2" />
            {agrees && <circle cx={sx} cy={sy} r="1.8" fill="#fff" stroke="#000" strokeWidth="0.8" />}
          </g>
        );
      })}
    </g>
  );
}

/** Regions with their number; what is ignored is crossed out. */
export function Regions({ at, scale, regions, draft }: { at: ToScreen; scale: number; regions: RegionRecord[]; draft: RegionShape | null }) {
  const shapes = [
    ...regions.map((r, i) => ({ shape: r.shape, label: `${i + 1}`, ignore: r.purpose === "ignore" })),
    ...(draft ? [{ shape: draft, label: "", ignore: false }] : []),
  ];
  return (
    <g>
      {shapes.map(({ shape, label, ignore }, i) => (
        <g key={i}>
          {shape.kind === "box" ? <Box at={at} shape={shape} ignore={ignore} /> : <Stroke at={at} scale={scale} shape={shape} />}
          {label && <Label at={at} shape={shape} text={ignore ? sentence(message("register/ignoredLabel", { label })) : label} />}
        </g>
      ))}
    </g>
  );
}

function Box({ at, shape, ignore }: { at: ToScreen; shape: RegionShape & { kind: "box" }; ignore: boolean }) {
  const { x, y, width, height } = shape.rectangle;
  const [x0, y0] = at(x, y);
  const [x1, y1] = at(x + width, y + height);
  return <Outline d={boxPath(at, shape.rectangle) + (ignore ? ` M${x0} ${y0} L${x1} ${y1} M${x1} ${y0} L${x0} ${y1}` : "")} />;
}

function Stroke({ at, scale, shape }: { at: ToScreen; scale: number; shape: RegionShape & { kind: "brush" } }) {
  const d = shape.points.reduce((path, _, i, p) => (i % 2 ? path : `${path}${i ? "L" : "M"}${at(p[i] + 0.5, p[i + 1] + 0.5).join(" ")} `), "");
  const width = shape.diameterPx * scale;
  return (
    <g fill="none" strokeLinecap="round" strokeLinejoin="round" opacity="0.55">
      <path d={`${d}l0.01 0`} stroke="#000" strokeWidth={width + 2} />
      <path d={`${d}l0.01 0`} stroke="#d9d9d9" strokeWidth={width} />
    </g>
  );
}

function Label({ at, shape, text }: { at: ToScreen; shape: RegionShape; text: string }) {
  const [x, y] = shape.kind === "box" ? at(shape.rectangle.x, shape.rectangle.y) : at(shape.points[0], shape.points[1]);
  return (
    <g transform={`translate(${x + 3} ${y + 3})`}>
      <rect width={10 + text.length * 6.5} height={17} fill="#141414" />
      <text x="5" y="13" fontSize="12" fill="#f2f2f2">
        {text}
      </text>
    </g>
  );
}

/** Numbered places that are the same thing in both frames. */
export function Points({ at, places }: { at: ToScreen; places: { x: number; y: number; label: string }[] }) {
  return (
    <g>
      {places.map((p) => {
        const [x, y] = at(p.x + 0.5, p.y + 0.5);
        const d = `M${x - 9} ${y} h6 m6 0 h6 M${x} ${y - 9} v6 m0 6 v6`;
        return (
          <g key={p.label}>
            <Outline d={d} />
            <text x={x + 8} y={y - 6} fontSize="13" fontWeight="600" fill="#fff" stroke="#000" strokeWidth="3" paintOrder="stroke">
              {p.label}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The frame's outline as placed, with handles at its corners. */
export function Corners({ at, corners }: { at: ToScreen; corners: [number, number][] }) {
  const on = corners.map(([x, y]) => at(x + 0.5, y + 0.5));
  return (
    <g>
      <Outline d={`M${on.map((p) => p.join(" ")).join(" L")} Z`} />
      {on.map(([x, y], i) => (
        <rect key={i} x={x - 5} y={y - 5} width="10" height="10" fill="#fff" stroke="#000" />
      ))}
    </g>
  );
}
