import type { Rectangle } from "../geometry/rectangle";

/** How far over the lowest of a thing another of its feet may stand, and how much of one is looked at, shares of its height. */
const HIGHEST = 0.12;
const SOLE = 0.03;
/** A foot is at least as wide as that share of the height. */
const NARROWEST = 0.012;

/**
 * Where a thing touches the ground, where it does so in two places side by side, from left to right; null where it stands on one, or on more.
 * @param alpha 0..1 @returns samples
 */
export function twoFeet(alpha: Float32Array, width: number, extent: Rectangle | null): [[number, number], [number, number]] | null {
  if (!extent) return null;
  const bottoms = new Int32Array(extent.width).fill(-1);
  let lowest = -1;
  for (let i = 0; i < extent.width; i++) {
    for (let y = extent.y + extent.height - 1; y >= extent.y; y--) {
      if (alpha[y * width + extent.x + i] <= 0.5) continue;
      bottoms[i] = y;
      lowest = Math.max(lowest, y);
      break;
    }
  }
  const stands = (i: number) => bottoms[i] >= 0 && bottoms[i] > lowest - HIGHEST * extent.height;
  const runs: [number, number][] = [];
  for (let i = 0; i < extent.width; i++) {
    if (!stands(i)) continue;
    if (i > 0 && stands(i - 1)) runs[runs.length - 1][1] = i;
    else runs.push([i, i]);
  }
  const feet = runs.filter(([from, to]) => to - from + 1 >= NARROWEST * extent.height);
  if (feet.length !== 2) return null;
  const [left, right] = feet.map(([from, to]): [number, number] => {
    let low = -1;
    for (let i = from; i <= to; i++) low = Math.max(low, bottoms[i]);
    let [sum, count] = [0, 0];
    for (let i = from; i <= to; i++) {
      if (bottoms[i] <= low - SOLE * extent.height) continue;
      sum += extent.x + i;
      count++;
    }
    return [sum / count, low + 0.5];
  });
  return [left, right];
}
