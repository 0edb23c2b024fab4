import type { ReactNode } from "react";
import { controlsOf } from "../../kinds/maskParts/controls";
import type { MaskPart } from "../../kinds/maskParts/records";
import { useDrawn } from "./useShape";

type ToScreen = (x: number, y: number) => [number, number];

/** The shape of a part on the picture, as it is while it is drawn. */
export function ShapeOverlay({ part: chosen, toScreen, scale, turnDeg }: { part: MaskPart; toScreen: ToScreen; scale: number; turnDeg: number }) {
  const drawn = useDrawn((s) => s.part);
  const part = drawn?.id === chosen.id ? drawn : chosen;
  const { Outline } = controlsOf(part);
  if (!Outline) return null;
  return (
    <DoubleLine>
      <Outline part={part} at={(x, y) => toScreen(x + 0.5, y + 0.5)} scale={scale} turnDeg={turnDeg} />
    </DoubleLine>
  );
}

/** A double hairline, light and dark, so that it shows on any ground. */
export function DoubleLine({ children }: { children: ReactNode }) {
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
