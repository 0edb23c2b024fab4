import { distort, type Lens, type Size } from "../geometry/lens";
import { project, type Matrix3 } from "../geometry/matrix3";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { compareModels, type Correspondence, type MotionModel } from "./models";
import type { Photometry } from "./photometry";
import type { RegionMask } from "./regions";

const AGREE_PX = 1.5;
const AGREE_CORRELATION = 0.6;

export function agrees(s: LocalShift): boolean {
  return resembles(s) && Math.hypot(s.dx, s.dy) <= AGREE_PX;
}

/** Whether both frames show the same thing at a place, however far it is off. */
export function resembles(s: LocalShift): boolean {
  return s.correlation >= AGREE_CORRELATION;
}

export function rmsOf(shifts: LocalShift[]): number {
  return shifts.length ? Math.sqrt(shifts.reduce((sum, s) => sum + s.dx * s.dx + s.dy * s.dy, 0) / shifts.length) : 0;
}

export interface Agreement {
  /** share of measured places whose remaining shift is below the limit and whose content correlates */
  agreeing: number;
  /** RMS of the remaining shift over the agreeing places, px at full size */
  residualPx: number;
  /** number of agreeing places */
  places: number;
}

export function summarizeShifts(shifts: LocalShift[]): Agreement {
  const good = shifts.filter(agrees);
  return { agreeing: shifts.length ? good.length / shifts.length : 0, residualPx: rmsOf(good), places: good.length };
}

/** Agreement, less what a handful of places can prove: 8 agreeing places count for 63 %, 24 for 95 %. */
export function confidenceOf(agreeing: number, places: number): number {
  return Math.min(1, agreeing * 1.05) * (1 - Math.exp(-places / 8));
}

/** Where each place of the fixed frame that resembles lies in the moving one; a shift is measured on the fixed side. */
export function correspondencesOf(shifts: LocalShift[], matrix: Matrix3, lens: Lens | null, moving: Size): Correspondence[] {
  return shifts
    .filter((s) => resembles(s) && Math.hypot(s.dx, s.dy) <= 8)
    .map((s) => {
      const [u, v] = distort(lens, moving, ...project(matrix, s.x + s.dx, s.y + s.dy));
      return { x: s.x, y: s.y, u, v };
    });
}

/** RMS displacement of a registration over the frame, px: how far off the frames were. */
export function displacementPx(m: Matrix3, width: number, height: number): number {
  let sum = 0;
  let n = 0;
  for (let j = 0; j <= 8; j++) {
    for (let i = 0; i <= 8; i++) {
      const x = (i * (width - 1)) / 8;
      const y = (j * (height - 1)) / 8;
      const [u, v] = project(m, x, y);
      sum += (u - x) ** 2 + (v - y) ** 2;
      n++;
    }
  }
  return Math.sqrt(sum / n);
}

/** Two frames and the map between them that is to be judged. */
export interface Fit {
  fixed: GreyPyramid;
  moving: GreyPyramid;
  photometry: Photometry;
  /** fixed → undistorted moving, full size */
  matrix: Matrix3;
  lens: Lens | null;
  fixedLens: Lens | null;
  /** in px of the fixed frame */
  regions: RegionMask | null;
}

/** What a fit leaves, measured place by place at full size, independently of how it was found. */
export interface FitFigures {
  residualPx: number;
  agreeing: number;
  confidence: number;
  shifts: LocalShift[];
  /** where regions are pinned: RMS px and share that agrees outside them; else null */
  drift: { rmsPx: number; agreeing: number } | null;
  /** RMS that each model leaves, px, over the places that count */
  models: { model: MotionModel; rmsPx: number }[];
}

/** Inside the pinned regions for the headline, outside for the drift; without any, over all that is not ignored. */
export function judgeFit({ fixed, moving, photometry, matrix, lens, fixedLens, regions }: Fit): FitFigures {
  const measure = (mask: RegionMask | null) =>
    measureLocalShifts(levelOf(fixed, 0), levelOf(moving, 0), photometry, matrix, { lens, fixedLens, selection: mask?.atLevel(0) });
  const inside = measure(regions);
  const outside = regions?.pinned ? measure(null).filter((s) => !regions.has(s.x, s.y)) : [];
  const { residualPx, agreeing, places } = summarizeShifts(inside);
  const compared = compareModels(correspondencesOf(inside, matrix, lens, moving), fixed, moving, matrix, lens);
  return {
    residualPx,
    agreeing,
    confidence: confidenceOf(agreeing, places),
    shifts: [...inside, ...outside],
    drift: regions?.pinned ? { rmsPx: rmsOf(outside.filter(resembles)), agreeing: summarizeShifts(outside).agreeing } : null,
    models: (compared?.fits ?? []).map((f) => ({ model: f.model, rmsPx: f.rmsPx })),
  };
}
