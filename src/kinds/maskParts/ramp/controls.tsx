import type { PartControls } from "../controlling";
import type { Ramp } from "./record";

/** Half the length of the lines across its ends, px of the screen. */
const ACROSS = 60;

export const ramp: PartControls<Ramp> = {
  begin: ({ width, height }) => ({ kind: "ramp", x0: width / 2, y0: height * 0.6, x1: width / 2, y1: height * 0.3 }),
  drawn: (part, { from, to }) => ({ ...part, x0: from[0], y0: from[1], x1: to[0], y1: to[1] }),
  Outline: ({ part, at }) => {
    const [[x0, y0], [x1, y1]] = [at(part.x0, part.y0), at(part.x1, part.y1)];
    const length = Math.hypot(x1 - x0, y1 - y0) || 1;
    const [nx, ny] = [(-(y1 - y0) / length) * ACROSS, ((x1 - x0) / length) * ACROSS];
    return (
      <>
        <line x1={x0} y1={y0} x2={x1} y2={y1} />
        <line x1={x0 - nx} y1={y0 - ny} x2={x0 + nx} y2={y0 + ny} />
        <line x1={x1 - nx} y1={y1 - ny} x2={x1 + nx} y2={y1 + ny} />
        <circle cx={x1} cy={y1} r={5} />
      </>
    );
  },
};
