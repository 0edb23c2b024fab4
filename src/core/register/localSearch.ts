import { atLevel, fromLevels, IDENTITY, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { coarsestLevel, levelOf, type GreyPyramid } from "./greyPyramid";
import { lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";
import type { RegionMask } from "./regions";
import { mapFloats } from "../numeric/mapFloats";

export interface RegionCandidate {
  /** fixed → moving, full size */
  matrix: Matrix3;
  correlation: number;
}

/** The region is looked for at about this size, px across. */
const PATCH = 44;
const TURNS = [0, -4, 4, -8, 8, -12, 12];
const SCALES = [1, 0.94, 1.06];

/**
 * Looks for a marked region anywhere in the moving frame by zero-mean normalised correlation over shifts, small turns and scales.
 * @param around fixed → moving where the frames roughly lie; the region is searched within a quarter of the frame around it
 */
export function searchRegion(fixed: GreyPyramid, moving: GreyPyramid, photometry: Photometry, mask: RegionMask, around: Matrix3 | null): RegionCandidate[] {
  const { bounds } = mask;
  const wanted = Math.max(0, Math.floor(Math.log2(Math.max(bounds.width, bounds.height) / PATCH)));
  const level = Math.min(wanted, coarsestLevel(fixed), coarsestLevel(moving));
  const f = levelOf(fixed, level);
  const m = levelOf(moving, level);
  const selection = mask.atLevel(level);
  const stride = Math.max(1, Math.round(Math.max(selection.bounds.width, selection.bounds.height) / PATCH));
  const samples: { x: number; y: number; value: number }[] = [];
  for (let y = selection.bounds.y; y < Math.min(f.height, selection.bounds.y + selection.bounds.height); y += stride) {
    for (let x = selection.bounds.x; x < Math.min(f.width, selection.bounds.x + selection.bounds.width); x += stride) {
      const v = f.data[y * f.width + x];
      if (selection.counts(x, y) && v >= USABLE_LOW && v <= USABLE_HIGH) samples.push({ x, y, value: lookUp(photometry.fixed, v) });
    }
  }
  if (samples.length < 60) return [];
  const cx = selection.bounds.x + selection.bounds.width / 2;
  const cy = selection.bounds.y + selection.bounds.height / 2;
  const table = mapFloats(m.data, (v) => (v < USABLE_LOW || v > USABLE_HIGH ? NaN : lookUp(photometry.moving, v)));
  const start = atLevel(around ?? IDENTITY, level);
  const reach = Math.max(6, Math.round(Math.max(f.width, f.height) * (around ? 0.25 : 0.6)));
  const step = Math.max(1, Math.round(stride));
  const found: { matrix: Matrix3; score: number }[] = [];
  for (const turn of TURNS) {
    for (const scale of SCALES) {
      const a = (turn * Math.PI) / 180;
      const [c, s] = [Math.cos(a) * scale, Math.sin(a) * scale];
      const about = [c, -s, cx - c * cx + s * cy, s, c, cy - s * cx - c * cy, 0, 0, 1];
      const base = normalize(multiply(start, about));
      let best = { dx: 0, dy: 0, score: -1 };
      const look = (dx: number, dy: number, thin: number) => {
        const score = correlate(samples, table, m.width, m.height, base, dx, dy, thin);
        if (score > best.score) best = { dx, dy, score };
      };
      for (let dy = -reach; dy <= reach; dy += step * 2) for (let dx = -reach; dx <= reach; dx += step * 2) look(dx, dy, 7);
      const { dx: ox, dy: oy } = best;
      best.score = -1;
      for (let dy = oy - 2 * step; dy <= oy + 2 * step; dy++) for (let dx = ox - 2 * step; dx <= ox + 2 * step; dx++) look(dx, dy, 1);
      found.push({ matrix: normalize(multiply([1, 0, best.dx, 0, 1, best.dy, 0, 0, 1], base)), score: best.score });
    }
  }
  return found
    .sort((p, q) => q.score - p.score)
    .slice(0, 3)
    .map(({ matrix, score }) => ({ matrix: fromLevels(matrix, level, level), correlation: score }));
}

function correlate(
  samples: { x: number; y: number; value: number }[],
  moving: Float32Array,
  width: number,
  height: number,
  base: Matrix3,
  dx: number,
  dy: number,
  thin: number,
): number {
  let [n, sp, sq, spp, sqq, spq] = [0, 0, 0, 0, 0, 0];
  const [a, b, c, d, e, f, g, h, i] = base;
  for (let k = 0; k < samples.length; k += thin) {
    const { x, y, value: p } = samples[k];
    const w = 1 / (g * x + h * y + i);
    const u = Math.round((a * x + b * y + c) * w + dx);
    const v = Math.round((d * x + e * y + f) * w + dy);
    if (u < 0 || v < 0 || u >= width || v >= height) continue;
    const q = moving[v * width + u];
    if (q !== q) continue;
    n++;
    sp += p;
    sq += q;
    spp += p * p;
    sqq += q * q;
    spq += p * q;
  }
  if (n < (samples.length / thin) * 0.6) return -1;
  const variance = (spp - (sp * sp) / n) * (sqq - (sq * sq) / n);
  return variance > 1e-12 ? (spq - (sp * sq) / n) / Math.sqrt(variance) : -1;
}
