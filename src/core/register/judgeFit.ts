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

/**
 * How sure a fit is, 0 to 1, by the places it was measured at: the share that agrees of those where both frames show the same, less what a handful of places can
 * prove (8 count for 63 %, 24 for 95 %), less where under half of all agree, for what was changed cannot speak against another solution either. What was changed is
 * no evidence against the fit: of 8 known pairs with 12 to 60 % left as they were, each is right. Calibrated by `scripts/bench confidence`.
 */
export function confidenceOf(shifts: LocalShift[]): number {
  const agreeing = shifts.filter(agrees).length;
  const resembling = shifts.filter(resembles).length;
  if (agreeing === 0) return 0;
  return Math.min(1, (agreeing / resembling) * 1.05) * (1 - Math.exp(-agreeing / 8)) * Math.min(1, 0.5 + agreeing / shifts.length);
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
  const { residualPx, agreeing } = summarizeShifts(inside);
  const compared = compareModels(correspondencesOf(inside, matrix, lens, moving), fixed, moving, matrix, lens);
  return {
    residualPx,
    agreeing,
    confidence: confidenceOf(inside),
    shifts: [...inside, ...outside],
    drift: regions?.pinned ? { rmsPx: rmsOf(outside.filter(resembles)), agreeing: summarizeShifts(outside).agreeing } : null,
    models: (compared?.fits ?? []).map((f) => ({ model: f.model, rmsPx: f.rmsPx })),
  };
}
