import { transform } from "../geometry/matrix3";
import { rotationOf, type Attitude, type Vector3 } from "./camera";

interface Place {
  x: number;
  y: number;
}

/** The horizon as it runs through a picture, from left to right. */
export interface HorizonLine {
  points: Place[];
  /** px from end to end */
  length: number;
}

const STEP_DEG = 0.5;
const FEWEST = 8;

/**
 * The longest unbroken piece of the horizon in a picture; null where little or none of it is shown.
 * @param level the attitude in which the horizon lies level @param toPicture px of a direction, null outside the picture
 */
export function horizonIn(level: Attitude, toPicture: (ray: Vector3) => [number, number] | null): HorizonLine | null {
  const turn = rotationOf(level);
  let best: Place[] = [];
  let run: Place[] = [];
  // once round and as far again, so that no piece is cut where the round begins
  for (let deg = -180; deg < 540; deg += STEP_DEG) {
    const a = (deg * Math.PI) / 180;
    const p = toPicture(transform(turn, [Math.sin(a), 0, Math.cos(a)]));
    const last = run[run.length - 1];
    // where a full circle is cut, the picture goes on at its other side
    if (!p || (last && p[0] < last.x)) run = [];
    if (p) run.push({ x: p[0], y: p[1] });
    if (run.length > best.length) best = [...run];
  }
  if (best.length < FEWEST) return null;
  const [from, to] = [best[0], best[best.length - 1]];
  return { points: best, length: Math.hypot(to.x - from.x, to.y - from.y) };
}

/** How far a line is from being straight, px, and where. */
export function bowOf({ points, length }: HorizonLine): { px: number; at: Place } {
  const [from, to] = [points[0], points[points.length - 1]];
  return points.reduce(
    (most, p) => {
      const px = Math.abs((p.x - from.x) * (to.y - from.y) - (p.y - from.y) * (to.x - from.x)) / Math.max(1e-9, length);
      return px > most.px ? { px, at: p } : most;
    },
    { px: 0, at: from },
  );
}

/** How much a line falls to the right, degrees. */
export function tiltOf({ points }: HorizonLine): number {
  const [from, to] = [points[0], points[points.length - 1]];
  return (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
}
