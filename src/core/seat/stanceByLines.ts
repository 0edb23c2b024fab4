import type { Size } from "../geometry/lens";
import { fitStance, type FittedStance, type KnownFocal, type Point } from "./fitStance";
import { lineOf } from "./lines";
import type { Stance } from "./upright";

/** What a drawn line is in the world: upright; level, in one of two directions that all lines of that kind share; or a length along the ground or up from it. */
export const LINE_KINDS = ["upright", "ahead", "across", "length", "height"] as const;
export type LineKind = (typeof LINE_KINDS)[number];

/** A line that a person drew on a plate, px. */
export interface DrawnLine {
  is: LineKind;
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  /** of a length or a height; else 0 */
  metres: number;
}

/** How exactly a person places an end, px (1 standard deviation). */
const DRAWN_PX = 1;

/**
 * How a camera stands by lines that a person drew: upright ones meet straight up or down, level ones of a kind on the horizon.
 * @param start where it is looked for @returns null where no line tells
 */
export function stanceByLines(drawn: readonly DrawnLine[], size: Size, start: Stance, focal: KnownFocal): FittedStance<Point> | null {
  const used = drawn.filter((l) => l.is === "upright" || l.is === "ahead" || l.is === "across");
  // one level line alone leads somewhere on any horizon
  const kinds = (["upright", "ahead", "across"] as const).filter((kind) => used.filter((l) => l.is === kind).length >= (kind === "upright" ? 1 : 2));
  if (kinds.length === 0) return null;
  const lines = used.map((l, index) => {
    const length = Math.hypot(l.x1 - l.x0, l.y1 - l.y0);
    return lineOf({ ...l, sigma: (DRAWN_PX * Math.SQRT2) / Math.max(1, length) }, index, size);
  });
  const belongs = Int8Array.from(used, (l) => kinds.findIndex((kind) => kind === l.is));
  // least squares finds the nearest meeting: each kind is begun in several azimuths
  const azimuths = kinds.map((kind) => (kind === "upright" ? [0] : kind === "ahead" ? [-40, -15, 0, 15, 40] : [-80, -55, 55, 80]));
  let best: FittedStance<Point> | null = null;
  for (const azimuth of combinations(azimuths)) {
    const points: Point[] = kinds.map((kind, k) => ({ of: kind === "upright" ? "upright" : "level", azimuthDeg: azimuth[k] }));
    let fitted: FittedStance<Point> | null = { stance: start, points, horizonSigmaDeg: 0, focalSigma: 0, rms: Infinity };
    for (let pass = 0; pass < 4 && fitted; pass++) fitted = fitStance(lines, fitted.stance, fitted.points, belongs, focal, null, 0, size);
    if (fitted && Math.abs(fitted.stance.pitchDeg) < 60 && Math.abs(fitted.stance.rollDeg) < 45 && (!best || fitted.rms < best.rms)) best = fitted;
  }
  return best;
}

function combinations(lists: readonly number[][]): number[][] {
  return lists.reduce<number[][]>((all, list) => all.flatMap((head) => list.map((v) => [...head, v])), [[]]);
}
