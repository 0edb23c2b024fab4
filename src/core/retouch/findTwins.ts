import { gaussianBlur } from "../raster/blur";
import type { Plane } from "../raster/raster";

/** A patch that stands twice: the middle of both and how many details they share. */
export interface Twin {
  ax: number;
  ay: number;
  bx: number;
  by: number;
  /** half the side of the patch, px */
  radius: number;
  count: number;
}

/** Half the side of what is compared about a detail, px. */
const HALF = 6;
/** A detail is the darkest or brightest of so many px around, of the difference of two blurs. */
const ALONE = 2;
const [FINE, COARSE] = [1.2, 2.4];
/** Details weaker than this are noise; encoded 0..1. Common practice, no source. */
const LEAST_CONTRAST = 0.006;
/** How alike two patches have to look, as their correlation: what merely resembles stays below. Common practice, no source. */
const ALIKE = 0.975;
/** Candidates differ by no more than this in each of a few coefficients of their patches. */
const NEAR = 0.07;
/** Nearer than this a detail is part of the same thing, px. */
const APART = 24;
/** Details of a copied patch keep their places to each other within this, px, and lie within so many px of each other. */
const RIGID = 1.5;
const TOGETHER = 48;
const LEAST = 4;
const MOST_PAIRS = 6000;
/** A patch moved by so many px is less like itself than this, in each direction. */
const SHIFT = 3;
const DISTINCT = 0.9;
const DIRECTIONS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const;

interface Detail {
  x: number;
  y: number;
  /** a few coefficients of the normalised patch, the first to sort by */
  coefficients: Float32Array;
  /** mean and root of the sum of squares about it */
  mean: number;
  power: number;
}

/** Patches of a picture that stand in it twice, as clones do: details that look the same in several places at the same step from each other. @param plane encoded 0..1 */
export function findTwins(plane: Plane): Twin[] {
  const details = detailsOf(plane).sort((p, q) => p.coefficients[0] - q.coefficients[0]);
  const pairs: { a: Detail; b: Detail }[] = [];
  for (let i = 0; i < details.length && pairs.length < MOST_PAIRS; i++) {
    const p = details[i];
    for (let j = i + 1; j < details.length; j++) {
      const q = details[j];
      if (q.coefficients[0] - p.coefficients[0] > NEAR) break;
      if (!areNear(p, q) || Math.abs(p.x - q.x) + Math.abs(p.y - q.y) < APART) continue;
      if (correlation(plane, p, q) < ALIKE) continue;
      // always from left to right, so that steps can be compared
      const [a, b] = q.x > p.x || (q.x === p.x && q.y > p.y) ? [p, q] : [q, p];
      pairs.push({ a, b });
    }
  }
  return groups(pairs);
}

function areNear(p: Detail, q: Detail): boolean {
  for (let k = 1; k < p.coefficients.length; k++) if (Math.abs(p.coefficients[k] - q.coefficients[k]) > NEAR) return false;
  return true;
}

/** Brightest and darkest places of the difference of two blurs, with what their surroundings look like. */
function detailsOf({ width, height, data }: Plane): Detail[] {
  const size = { width, height };
  const source = Float32Array.from(data);
  const [fine, coarse] = [gaussianBlur({ ...size, data: source }, FINE), gaussianBlur({ ...size, data: source }, COARSE)];
  const band = fine.map((v, i) => v - coarse[i]);
  const details: Detail[] = [];
  for (let y = HALF; y < height - HALF; y++) {
    for (let x = HALF; x < width - HALF; x++) {
      const i = y * width + x;
      if (Math.abs(band[i]) < LEAST_CONTRAST || !standsOut(band, i, width)) continue;
      const detail = describe(source, x, y, width);
      if (isDistinct(source, detail, width, height)) details.push(detail);
    }
  }
  return details;
}

/** Whether a patch looks unlike itself a few px away in every direction: an edge looks the same all along. */
function isDistinct(data: Float32Array, detail: Detail, width: number, height: number): boolean {
  const { x, y } = detail;
  if (x < HALF + SHIFT || y < HALF + SHIFT || x >= width - HALF - SHIFT || y >= height - HALF - SHIFT) return false;
  return DIRECTIONS.every(([u, v]) => correlation({ width, height, data }, detail, { ...detail, x: x + u * SHIFT, y: y + v * SHIFT }) < DISTINCT);
}

function standsOut(band: Float32Array, i: number, width: number): boolean {
  const sign = Math.sign(band[i]);
  for (let v = -ALONE; v <= ALONE; v++) {
    for (let u = -ALONE; u <= ALONE; u++) {
      const j = i + v * width + u;
      if (j !== i && sign * band[j] >= sign * band[i]) return false;
    }
  }
  return true;
}

/** Means of the parts of a patch, normalised: left against right, upper against lower, and across. */
function describe(data: Float32Array, x: number, y: number, width: number): Detail {
  const n = (2 * HALF + 1) ** 2;
  let [sum, squares] = [0, 0];
  const moments = new Float32Array(6);
  for (let v = -HALF; v <= HALF; v++) {
    for (let u = -HALF; u <= HALF; u++) {
      const value = data[(y + v) * width + x + u];
      sum += value;
      squares += value * value;
      const [a, b] = [u / HALF, v / HALF];
      moments[0] += value * a;
      moments[1] += value * b;
      moments[2] += value * a * b;
      moments[3] += value * (a * a - 1 / 3);
      moments[4] += value * (b * b - 1 / 3);
      moments[5] += value * a * (b * b - 1 / 3);
    }
  }
  const mean = sum / n;
  const power = Math.sqrt(Math.max(1e-9, squares - n * mean * mean));
  // the mean is no part of what is compared; quadratic moments of an even patch are a share of it
  const even = (2 * HALF + 1) * Array.from({ length: 2 * HALF + 1 }, (_, k) => ((k - HALF) / HALF) ** 2 - 1 / 3).reduce((s, v) => s + v, 0);
  moments[3] -= mean * even;
  moments[4] -= mean * even;
  const scale = 1 / (power * Math.sqrt(n / 5));
  return { x, y, coefficients: moments.map((m) => m * scale), mean, power };
}

function correlation({ width, data }: Plane, p: Detail, q: Detail): number {
  let dot = 0;
  for (let v = -HALF; v <= HALF; v++) {
    const [i, j] = [(p.y + v) * width + p.x, (q.y + v) * width + q.x];
    for (let u = -HALF; u <= HALF; u++) dot += (data[i + u] - p.mean) * (data[j + u] - q.mean);
  }
  return dot / (p.power * q.power);
}

/** Pairs that lie together and keep their step. */
function groups(pairs: { a: Detail; b: Detail }[]): Twin[] {
  const used = new Uint8Array(pairs.length);
  const twins: Twin[] = [];
  for (let k = 0; k < pairs.length; k++) {
    if (used[k]) continue;
    const group = [k];
    used[k] = 1;
    for (let g = 0; g < group.length; g++) {
      const { a, b } = pairs[group[g]];
      pairs.forEach((other, m) => {
        if (used[m] || Math.hypot(other.a.x - a.x, other.a.y - a.y) > TOGETHER) return;
        if (Math.hypot(other.b.x - other.a.x - (b.x - a.x), other.b.y - other.a.y - (b.y - a.y)) > RIGID) return;
        used[m] = 1;
        group.push(m);
      });
    }
    if (group.length < LEAST) continue;
    const mean = (of: (p: { a: Detail; b: Detail }) => number) => group.reduce((sum, m) => sum + of(pairs[m]), 0) / group.length;
    const [ax, ay] = [mean((p) => p.a.x), mean((p) => p.a.y)];
    const radius = Math.max(2 * HALF, ...group.map((m) => Math.hypot(pairs[m].a.x - ax, pairs[m].a.y - ay)));
    twins.push({ ax, ay, bx: mean((p) => p.b.x), by: mean((p) => p.b.y), radius, count: group.length });
  }
  return twins.sort((p, q) => q.count - p.count);
}
