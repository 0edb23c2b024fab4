import { KEEP, LEAVE, OPEN } from "../../../core/matte/growBand";
import { BACKGROUND, FOREGROUND, UNKNOWN } from "../../../core/matte/trimap";
import type { CutMark } from "../../../kinds/contents/frame/record";

const CODES = { keep: KEEP, leave: LEAVE, open: OPEN };
const KNOWN = { keep: FOREGROUND, leave: BACKGROUND, open: UNKNOWN };

/** What a mark says of the samples it lies on, for a proposal. */
export const codeOf = (mark: CutMark): number => CODES[mark.what];
/** What is known by a mark of the samples it lies on. */
export const knownBy = (mark: CutMark): number => KNOWN[mark.what];

interface Window {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Visits the samples of a window of a level that a mark lies on, by their place in the window. */
export function eachMarked({ points, diameterPx }: CutMark, level: number, { x, y, width, height }: Window, visit: (i: number) => void): void {
  const s = 2 ** level;
  const at = (v: number) => (v + 0.5) / s - 0.5;
  const r = Math.max(0.5, diameterPx / 2 / s);
  for (let p = 0; p < points.length; p += 2) {
    const [bx, by] = [at(points[p]) - x, at(points[p + 1]) - y];
    const [ax, ay] = p > 0 ? [at(points[p - 2]) - x, at(points[p - 1]) - y] : [bx, by];
    const [dx, dy] = [bx - ax, by - ay];
    const length = dx * dx + dy * dy;
    for (let v = Math.max(0, Math.ceil(Math.min(ay, by) - r)); v <= Math.min(height - 1, Math.max(ay, by) + r); v++) {
      for (let u = Math.max(0, Math.ceil(Math.min(ax, bx) - r)); u <= Math.min(width - 1, Math.max(ax, bx) + r); u++) {
        const t = length ? Math.min(1, Math.max(0, ((u - ax) * dx + (v - ay) * dy) / length)) : 0;
        if ((u - ax - t * dx) ** 2 + (v - ay - t * dy) ** 2 <= r * r) visit(v * width + u);
      }
    }
  }
}
