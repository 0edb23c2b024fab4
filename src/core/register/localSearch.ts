import { atLevel, fromLevels, IDENTITY, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { coarsestLevel, levelOf, type GreyPyramid } from "./greyPyramid";
import type { GreyLevel } from "./refine";
import { lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";
import type { RegionMask } from "./regions";
import { mapFloats } from "../numeric/mapFloats";

export interface RegionCandidate {
  /** fixed → moving, full size */
  matrix: Matrix3;
  correlation: number;
}

/** The region is placed at about this size, px across, and first looked for at half of it. */
const PATCH = 44;
const TURNS = [0, -4, 4, -8, 8, -12, 12];
const SCALES = [1, 0.94, 1.06];
/** Of the samples, one in so many is looked at in passing. */
const THIN = 5;
const FEWEST = 60;

/**
 * Looks for a marked region anywhere in the moving frame by zero-mean normalised correlation over shifts, small turns and scales, each first at half the size.
 * @param around fixed → moving where the frames roughly lie; the region is searched within a quarter of the frame around it
 */
export function searchRegion(fixed: GreyPyramid, moving: GreyPyramid, photometry: Photometry, mask: RegionMask, around: Matrix3 | null): RegionCandidate[] {
  const { bounds } = mask;
  const top = Math.min(coarsestLevel(fixed), coarsestLevel(moving));
  const level = Math.min(Math.max(0, Math.floor(Math.log2(Math.max(bounds.width, bounds.height) / PATCH))), top);
  const fine = new RegionAt(fixed, moving, photometry, mask, level);
  if (fine.count < FEWEST) return [];
  const half = level < top ? new RegionAt(fixed, moving, photometry, mask, level + 1) : fine;
  const coarse = half.count < FEWEST ? fine : half;
  const found: { matrix: Matrix3; score: number }[] = [];
  for (const turn of TURNS) {
    for (const scale of SCALES) {
      const reach = Math.max(6, Math.round(coarse.side * (around ? 0.25 : 0.6)));
      const first = coarse.best(around ?? IDENTITY, turn, scale, { x: 0, y: 0 }, reach, 2 * coarse.stride, THIN);
      const by = coarse === fine ? 1 : 2;
      const last = fine.best(around ?? IDENTITY, turn, scale, { x: by * first.dx, y: by * first.dy }, 2 * by * fine.stride, 1, 1);
      found.push({ matrix: normalize(multiply([1, 0, last.dx, 0, 1, last.dy, 0, 0, 1], last.base)), score: last.score });
    }
  }
  return found
    .sort((p, q) => q.score - p.score)
    .slice(0, 3)
    .map(({ matrix, score }) => ({ matrix: fromLevels(matrix, level, level), correlation: score }));
}

/** A region at one display level, ready to be held to the moving frame. */
class RegionAt {
  /** samples between those looked at */
  readonly stride: number;
  private readonly samples: { x: number; y: number; value: number }[] = [];
  private readonly middle: { x: number; y: number };
  private readonly moving: GreyLevel;
  private readonly table: Float32Array;

  constructor(
    fixed: GreyPyramid,
    moving: GreyPyramid,
    photometry: Photometry,
    mask: RegionMask,
    private readonly level: number,
  ) {
    const f = levelOf(fixed, level);
    const selection = mask.atLevel(level);
    const { x: x0, y: y0, width, height } = selection.bounds;
    this.stride = Math.max(1, Math.round(Math.max(width, height) / PATCH));
    for (let y = y0; y < Math.min(f.height, y0 + height); y += this.stride) {
      for (let x = x0; x < Math.min(f.width, x0 + width); x += this.stride) {
        const v = f.data[y * f.width + x];
        if (selection.counts(x, y) && v >= USABLE_LOW && v <= USABLE_HIGH) this.samples.push({ x, y, value: lookUp(photometry.fixed, v) });
      }
    }
    this.middle = { x: x0 + width / 2, y: y0 + height / 2 };
    this.moving = levelOf(moving, level);
    this.table = mapFloats(this.moving.data, (v) => (v < USABLE_LOW || v > USABLE_HIGH ? NaN : lookUp(photometry.moving, v)));
  }

  get count(): number {
    return this.samples.length;
  }

  /** longer side of the moving frame */
  get side(): number {
    return Math.max(this.moving.width, this.moving.height);
  }

  /** The best shift of the region, turned and scaled about its middle. @param from shift about which it is looked for */
  best(around: Matrix3, turnDeg: number, scale: number, from: { x: number; y: number }, reach: number, step: number, thin: number) {
    const a = (turnDeg * Math.PI) / 180;
    const [c, s] = [Math.cos(a) * scale, Math.sin(a) * scale];
    const { x, y } = this.middle;
    const base = normalize(multiply(atLevel(around, this.level), [c, -s, x - c * x + s * y, s, c, y - s * x - c * y, 0, 0, 1]));
    let best = { dx: from.x, dy: from.y, score: -1 };
    for (let dy = from.y - reach; dy <= from.y + reach; dy += step) {
      for (let dx = from.x - reach; dx <= from.x + reach; dx += step) {
        const score = correlate(this.samples, this.table, this.moving.width, this.moving.height, base, dx, dy, thin);
        if (score > best.score) best = { dx, dy, score };
      }
    }
    return { ...best, base };
  }
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
