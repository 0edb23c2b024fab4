import type { Size } from "../geometry/lens";
import type { Vector3 } from "../panorama/camera";
import type { Segment } from "./findSegments";

const RAD = Math.PI / 180;
/** Lines looked at: the longest. */
const MOST_LINES = 700;
/** Share of the lines that a point where they meet is asked to explain. */
const SHARE = 0.05;
/** Half a width of what counts as the usual directions of a picture, radians. */
const USUAL = 8 * RAD;
/** Lines within that share of the picture's longer side of each other, alike to this, radians, count together as no more than so many. */
const SAME_PLACE = 0.03;
const SAME_DIRECTION = 3 * RAD;
const ONE_THING = 5;

/** A segment about the picture's centre, px. */
export interface Line {
  /** among the segments given */
  index: number;
  x: number;
  y: number;
  /** direction, 0..π */
  angle: number;
  cosine: number;
  sine: number;
  sigma: number;
  length: number;
  /** density of directions like its own among all, per radian */
  usual: number;
  /** what it counts: many of one direction in one place are one thing */
  weight: number;
}

/** A segment as a line that counts whole. */
export function lineOf({ x0, y0, x1, y1, sigma }: Segment, index: number, { width, height }: Size): Line {
  const angle = modulo(Math.atan2(y1 - y0, x1 - x0));
  const middle = { x: (x0 + x1 - width + 1) / 2, y: (y0 + y1 - height + 1) / 2 };
  return { index, ...middle, angle, cosine: Math.cos(angle), sine: Math.sin(angle), sigma, length: Math.hypot(x1 - x0, y1 - y0), usual: 0, weight: 1 };
}

/** Segments as lines about the picture's centre, the longest first. @param segments px of a picture of that size */
export function linesOf(segments: readonly Segment[], { width, height }: Size): Line[] {
  const lines = segments.map((s, index) => lineOf(s, index, { width, height }));
  lines.sort((a, b) => b.length - a.length);
  lines.splice(MOST_LINES);
  const around = SAME_PLACE * Math.max(width, height);
  for (const line of lines) {
    let same = 0;
    for (const other of lines) {
      if (Math.abs(halfTurn(other.angle - line.angle)) < SAME_DIRECTION && (other.x - line.x) ** 2 + (other.y - line.y) ** 2 < around ** 2) same++;
    }
    line.weight = Math.min(1, ONE_THING / same);
  }
  const all = lines.reduce((sum, l) => sum + l.weight, 0);
  for (const line of lines) {
    let near = 0;
    for (const other of lines) if (Math.abs(halfTurn(other.angle - line.angle)) < USUAL) near += other.weight;
    line.usual = near / all / (2 * USUAL);
  }
  return lines;
}

/** What a line tells that leads to a point within its own uncertainty, at most, and out to how many deviations it tells something. */
export function voteOf({ usual, weight, ...line }: Line, blur: number): { most: number; reach: number; sigma: number } {
  const sigma = Math.hypot(line.sigma, blur);
  const c = Math.log(1 / (Math.sqrt(2 * Math.PI) * sigma * usual));
  return c > 0 ? { most: weight * Math.log(1 - SHARE + SHARE * Math.exp(c)), reach: Math.sqrt(2 * c), sigma } : { most: 0, reach: 1, sigma };
}

/** What lines tell by chance about any point. */
export const baselineOf = (lines: readonly Line[]): number => SHARE * lines.reduce((sum, l) => sum + l.weight, 0);

/** By how much a line misses a direction, radians. */
export function offBy(line: Line, [x, y, z]: Vector3, focalPx: number): number {
  const [u, v] = [x * focalPx - line.x * z, y * focalPx - line.y * z];
  return halfTurn(Math.atan2(v, u) - line.angle);
}

/** An angle to 0..π. */
export function modulo(angle: number): number {
  const a = angle % Math.PI;
  return a < 0 ? a + Math.PI : a;
}

/** The smaller turn of a line, −π/2..π/2. */
export function halfTurn(angle: number): number {
  const a = modulo(angle);
  return a > Math.PI / 2 ? a - Math.PI : a;
}
