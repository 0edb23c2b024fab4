import type { ReactNode } from "react";
import type { MaskPart } from "../../document/records/layerTypes";

type ToScreen = (x: number, y: number) => [number, number];

/** The shape of a part on the picture. */
export function ShapeOverlay({ part, toScreen, scale, turnDeg }: { part: MaskPart; toScreen: ToScreen; scale: number; turnDeg: number }) {
  const outline = outlineOf(part, toScreen, scale, turnDeg);
  if (!outline) return null;
  return <DoubleLine>{outline}</DoubleLine>;
}

/** A double hairline, light and dark, so that it shows on any ground. */
function DoubleLine({ children }: { children: ReactNode }) {
  return (
    <g fill="none">
      <g stroke="#000" strokeWidth={3} opacity={0.6}>
        {children}
      </g>
      <g stroke="#fff" strokeWidth={1}>
        {children}
      </g>
    </g>
  );
}

/** The outline of a frame that is moved about, with its corners to pull. */
export function CornerOverlay({ corners, toScreen }: { corners: [number, number][]; toScreen: ToScreen }) {
  const at = corners.map(([x, y]) => toScreen(x + 0.5, y + 0.5));
  const points = at.map((p) => p.join(",")).join(" ");
  return (
    <g fill="none">
      <DoubleLine>
        <polygon points={points} />
      </DoubleLine>
      {at.map(([x, y], i) => (
        <rect key={i} x={x - 5} y={y - 5} width={10} height={10} fill="#fff" stroke="#000" />
      ))}
    </g>
  );
}

/** The area of a retouch and where it is taken from, with a line from one to the other. */
export function SourceOverlay({ area, source, toScreen }: { area: [number, number][]; source: [number, number][]; toScreen: ToScreen }) {
  const points = (corners: [number, number][]) => corners.map(([x, y]) => toScreen(x, y).join(",")).join(" ");
  const middle = (corners: [number, number][]) => toScreen((corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2);
  const [[x1, y1], [x2, y2]] = [middle(source), middle(area)];
  return (
    <DoubleLine>
      <polygon points={points(area)} strokeDasharray="4 3" />
      <polygon points={points(source)} />
      <line x1={x1} y1={y1} x2={x2} y2={y2} />
      <circle cx={x1} cy={y1} r={4} />
    </DoubleLine>
  );
}

function outlineOf(part: MaskPart, toScreen: ToScreen, scale: number, turnDeg: number) {
  const at = (x: number, y: number) => toScreen(x + 0.5, y + 0.5);
  if (part.kind === "ellipse") {
    const [x, y] = at(part.cx, part.cy);
    return <ellipse cx={x} cy={y} rx={part.rx * scale} ry={part.ry * scale} transform={`rotate(${part.angleDeg + turnDeg} ${x} ${y})`} />;
  }
  if (part.kind === "polygon") {
    const corners = Array.from({ length: part.points.length / 2 }, (_, i) => at(part.points[2 * i], part.points[2 * i + 1]).join(","));
    return <polygon points={corners.join(" ")} />;
  }
  if (part.kind === "found") {
    const corners = [at(part.x0, part.y0), at(part.x1, part.y0), at(part.x1, part.y1), at(part.x0, part.y1)];
    if (part.what === "near") return <circle cx={corners[0][0]} cy={corners[0][1]} r={6} />;
    return <polygon points={corners.map((c) => c.join(",")).join(" ")} />;
  }
  if (part.kind !== "ramp") return null;
  const [[x0, y0], [x1, y1]] = [at(part.x0, part.y0), at(part.x1, part.y1)];
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const [nx, ny] = [(-(y1 - y0) / length) * 60, ((x1 - x0) / length) * 60];
  return (
    <>
      <line x1={x0} y1={y0} x2={x1} y2={y1} />
      <line x1={x0 - nx} y1={y0 - ny} x2={x0 + nx} y2={y0 + ny} />
      <line x1={x1 - nx} y1={y1 - ny} x2={x1 + nx} y2={y1 + ny} />
      <circle cx={x1} cy={y1} r={5} />
    </>
  );
}
