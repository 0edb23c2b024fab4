import { message, type Message } from "../../messages/message";
import { median } from "../numeric/statistics";
import type { Feature } from "../register/features/detectFeatures";
import type { FeatureTools } from "../register/features/FeatureTools";
import { matchFeatures } from "../register/features/matchFeatures";
import { limitOf, type Candidate, type Start } from "./chooseLens";
import { findTurn, plainCamera } from "./findRotation";
import { featuresOf, type PanoramaFrame } from "./tieFrames";

/** Why each frame outside the largest group is left out. */
export function rejectionReason(
  frames: PanoramaFrame[],
  features: Feature[][],
  candidates: Candidate[],
  start: Start,
  groups: number[][],
  tools?: FeatureTools,
): (Message | null)[] {
  const [main, ...others] = groups;
  return frames.map((frame, i) => {
    if (main.includes(i)) return null;
    const own = others.find((g) => g.includes(i))!;
    const scaled = candidates.filter((c) => c.a === i || c.b === i).map((c) => scaleOf(c, i, limitOf(frames)));
    const odd = scaled.find((s) => s !== null && Math.abs(Math.log2(s)) > 0.15);
    if (odd) return message("left.otherFocalLength", { scale: odd });
    const flipped = featuresOf(frame, tools?.convolve, true);
    const mirrored = main.some((m) => {
      const matches = matchFeatures(features[m], flipped, tools?.products);
      const [a, b] = [m, i].map((k) => plainCamera(frames[k], start.focalPx, start.k1));
      const turn = findTurn(matches, a, b, limitOf(frames));
      return turn !== null && turn.agreeing.length > 8 + 0.3 * matches.length;
    });
    if (mirrored) return message("left.mirrored", {});
    if (own.length > 1) return message("left.otherPanorama", { count: own.length - 1 });
    return message(features[i].length < 40 ? "left.plain" : "left.noOverlap", {});
  });
}

/** How much larger frame i shows what the other of a pair shows, where most matches say the same; else null. */
function scaleOf({ a, matches }: Candidate, i: number, limit: number): number | null {
  const scales = matches.map((m) => Math.log2(m.b.sigma / m.a.sigma));
  const middle = median(scales);
  const same = matches.filter((_, k) => Math.abs(scales[k] - middle) < 0.12);
  if (same.length < 12 || same.length < 0.5 * matches.length) return null;
  // they must agree on one shift at that scale too
  const s = 2 ** middle;
  const dx = median(same.map((m) => m.b.x - s * m.a.x));
  const dy = median(same.map((m) => m.b.y - s * m.a.y));
  const agree = same.filter((m) => Math.hypot(m.b.x - s * m.a.x - dx, m.b.y - s * m.a.y - dy) < 4 * limit).length;
  if (agree < 0.5 * same.length) return null;
  return a === i ? 1 / s : s;
}
