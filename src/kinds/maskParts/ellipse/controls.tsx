import type { PartControls } from "../controlling";
import type { Ellipse } from "./record";

export const ellipse: PartControls<Ellipse> = {
  begin: ({ width, height }) => ({ kind: "ellipse", cx: width / 2, cy: height / 2, rx: width / 5, ry: height / 5, angleDeg: 0 }),
  drawn: (part, { from: [cx, cy], to, even }) => {
    const [rx, ry] = [Math.max(1, Math.abs(to[0] - cx)), Math.max(1, Math.abs(to[1] - cy))];
    return { ...part, cx, cy, rx: even ? Math.max(rx, ry) : rx, ry: even ? Math.max(rx, ry) : ry };
  },
  Outline: ({ part, at, scale, turnDeg }) => {
    const [x, y] = at(part.cx, part.cy);
    return <ellipse cx={x} cy={y} rx={part.rx * scale} ry={part.ry * scale} transform={`rotate(${part.angleDeg + turnDeg} ${x} ${y})`} />;
  },
};
