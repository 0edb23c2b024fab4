import { quantile } from "../numeric/statistics";
import { solveSymmetric } from "../numeric/linearSystem";

/** How far what is shown went while it was taken, px, and which way, degrees clockwise from the right, −90..90. */
export interface Motion {
  px: number;
  deg: number;
}

interface Grey {
  width: number;
  height: number;
  data: Uint16Array;
}

/** Directions across which edges are looked for: steps of a sample. */
const ACROSS = [
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
] as const;
/** Codes of contrast that are an edge, and as much of it may run along the edge. */
const EDGE = 2500;
const ALONG = 0.35;
/** Edges of a direction, at least. */
const FEWEST = 8;
/** Edges across the way are that much wider than along it, at least, and that many px. Common practice, no source. */
const [WIDER, LEAST_PX] = [1.35, 2];
/** Codes that count as clipped. */
const CLIPPED = 64_000;

/**
 * The motion that a picture shows, by how much wider edges across one direction are than across the others; null where none is told.
 * @param reach how far an edge is followed to either side, samples
 */
export function measureMotion(grey: Grey, reach: number): Motion | null {
  const widths = ACROSS.map(([dx, dy]) => widthAcross(grey, dx, dy, reach));
  const told = widths.flatMap((w, k) => (w > 0 ? [{ square: w * w, deg: (Math.atan2(ACROSS[k][1], ACROSS[k][0]) * 180) / Math.PI }] : []));
  if (told.length < 4) return null;
  // squares of widths add: width² = sharp² + length² cos²(direction − way)
  const normal = new Float64Array(9);
  const right = new Float64Array(3);
  for (const { square, deg } of told) {
    const turned = (2 * deg * Math.PI) / 180;
    const row = [1, Math.cos(turned), Math.sin(turned)];
    for (let a = 0; a < 3; a++) {
      right[a] += row[a] * square;
      for (let b = 0; b < 3; b++) normal[3 * a + b] += row[a] * row[b];
    }
  }
  const found = solveSymmetric(normal, right);
  if (!found) return null;
  const swing = Math.hypot(found[1], found[2]);
  const [widest, narrowest] = [found[0] + swing, Math.max(1, found[0] - swing)];
  const px = Math.sqrt(2 * swing);
  if (Math.sqrt(widest / narrowest) < WIDER || px < LEAST_PX) return null;
  return { px, deg: (Math.atan2(found[2], found[1]) * 90) / Math.PI };
}

/** Width of the sharpest edges across a direction, samples: contrast over the steepest slope, which of a motion is its length; 0 where too few are there. */
function widthAcross({ width, height, data }: Grey, dx: number, dy: number, reach: number): number {
  const step = dy * width + dx;
  const beside = dx * width - dy;
  const size = Math.hypot(dx, dy);
  const tile = Math.max(24, Math.floor(Math.max(width, height) / 48));
  const margin = reach + 2;
  const widths: number[] = [];
  for (let ty = margin; ty + tile <= height - margin; ty += tile) {
    for (let tx = margin; tx + tile <= width - margin; tx += tile) {
      let best = 0;
      let at = -1;
      for (let y = ty; y < ty + tile; y += 2) {
        for (let x = tx; x < tx + tile; x++) {
          const i = y * width + x;
          const g = Math.abs(data[i + step] - data[i - step]);
          if (g > best && Math.abs(data[i + beside] - data[i - beside]) < ALONG * g) {
            best = g;
            at = i;
          }
        }
      }
      if (at < 0) continue;
      const rising = data[at + step] > data[at - step] ? 1 : -1;
      let [low, high] = [at, at];
      for (let k = 0; k < reach && (data[low] - data[low - step]) * rising > 0; k++) low -= step;
      for (let k = 0; k < reach && (data[high + step] - data[high]) * rising > 0; k++) high += step;
      const contrast = Math.abs(data[high] - data[low]);
      if (contrast < EDGE || data[high] > CLIPPED || data[low] > CLIPPED) continue;
      widths.push((2 * contrast * size) / best);
    }
  }
  return widths.length < FEWEST ? 0 : quantile(widths, 0.15);
}
