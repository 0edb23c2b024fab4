import { gaussianBlur } from "../raster/blur";

/** A dark round spot in an even place. */
export interface Spot {
  /** samples of the plane */
  x: number;
  y: number;
  /** radius, samples */
  radius: number;
  /** how much darker than around, EV, positive */
  contrastEv: number;
  /** contrast against the spread of its surroundings */
  clear: number;
}

/** Standard deviations of the two blurs whose difference answers to a spot of radius 3 samples. */
const [FINE, COARSE] = [2.1, 4.2];
const RADIUS = 3;
/** Share of its contrast that a spot of that radius answers with: e^(−r²/2·COARSE²) − e^(−r²/2·FINE²). */
const ANSWER = 0.415;
/** Weakest contrast that shows in print, EV, and how far it has to rise above the spread around. Common practice, no source. */
const LEAST_EV = 0.012;
/** Dust is far out of focus and never darker than this; what is darker stands in the scene. Common practice, no source. */
const MOST_EV = 0.6;
const CLEAR = 6;
/** A spot is round: its two curvatures are as alike as this. */
const ROUND = 3.5;
const TILE = 48;

/**
 * Dark spots of about six samples across in even places of a plane of log2 light. Dust on a sensor is such a spot, at the same place of every
 * frame. @param margin samples at the border that are not looked at
 */
export function findSpots(light: Float32Array, width: number, height: number, margin = 0): Spot[] {
  const size = { width, height };
  const [fine, coarse] = [gaussianBlur({ ...size, data: light }, FINE), gaussianBlur({ ...size, data: light }, COARSE)];
  const answer = coarse.map((v, i) => v - fine[i]);
  const spread = spreadOf(answer, width, height);
  const columns = Math.ceil(width / TILE);
  const spots: Spot[] = [];
  const from = Math.max(2 * RADIUS, margin);
  for (let y = from; y < height - from; y++) {
    for (let x = from; x < width - from; x++) {
      const i = y * width + x;
      const v = answer[i];
      if (v < LEAST_EV * ANSWER || v > MOST_EV * ANSWER) continue;
      if (!(v > answer[i - 1] && v >= answer[i + 1] && v > answer[i - width] && v >= answer[i + width])) continue;
      const around = spread[Math.floor(y / TILE) * columns + Math.floor(x / TILE)];
      const clear = v / Math.max(1e-4, around);
      if (clear < CLEAR || !isRound(answer, i, width) || !isEven(fine, x, y, width, v)) continue;
      spots.push({ x, y, radius: RADIUS, contrastEv: v / ANSWER, clear });
    }
  }
  return spots;
}

/** Robust standard deviation of a plane by tile: 1.4826 times the median of its absolute values. */
function spreadOf(plane: Float32Array, width: number, height: number): Float32Array {
  const [columns, rows] = [Math.ceil(width / TILE), Math.ceil(height / TILE)];
  return Float32Array.from({ length: columns * rows }, (_, k) => {
    const [x0, y0] = [(k % columns) * TILE, Math.floor(k / columns) * TILE];
    const values: number[] = [];
    for (let y = y0; y < Math.min(height, y0 + TILE); y += 2)
      for (let x = x0; x < Math.min(width, x0 + TILE); x += 2) values.push(Math.abs(plane[y * width + x]));
    values.sort((a, b) => a - b);
    return 1.4826 * values[values.length >> 1];
  });
}

function isRound(plane: Float32Array, i: number, width: number): boolean {
  const d = RADIUS - 1;
  const xx = plane[i + d] + plane[i - d] - 2 * plane[i];
  const yy = plane[i + d * width] + plane[i - d * width] - 2 * plane[i];
  const xy = (plane[i + d * width + d] + plane[i - d * width - d] - plane[i + d * width - d] - plane[i - d * width + d]) / 4;
  const [trace, det] = [xx + yy, xx * yy - xy * xy];
  return trace < 0 && det > 0 && (trace * trace) / det < (ROUND + 1) ** 2 / ROUND;
}

const RING = 16;

/** Whether the ring around a spot is even but for a slope: no side of it is as dark as the spot, and its sides are alike. */
function isEven(fine: Float32Array, x: number, y: number, width: number, v: number): boolean {
  const height = fine.length / width;
  const ring: number[] = [];
  let [mean, across, down] = [0, 0, 0];
  for (let k = 0; k < RING; k++) {
    const [c, s] = [Math.cos((2 * k * Math.PI) / RING), Math.sin((2 * k * Math.PI) / RING)];
    const [px, py] = [Math.round(x + 2.8 * RADIUS * c), Math.round(y + 2.8 * RADIUS * s)];
    if (px < 0 || py < 0 || px >= width || py >= height) return false;
    const value = fine[py * width + px];
    ring.push(value);
    mean += value / RING;
    across += (2 * value * c) / RING;
    down += (2 * value * s) / RING;
  }
  const rest = ring.map((value, k) => value - mean - across * Math.cos((2 * k * Math.PI) / RING) - down * Math.sin((2 * k * Math.PI) / RING));
  return Math.max(...rest) - Math.min(...rest) < 2.2 * v && mean + Math.min(...rest) > fine[y * width + x];
}
