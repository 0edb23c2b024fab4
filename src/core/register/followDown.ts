import type { Lens } from "../geometry/lens";
import { atLevel, project, type Matrix3 } from "../geometry/matrix3";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { fitModel, type Correspondence, type MotionModel } from "./models";
import { countingAt, type Pair } from "./pair";
import { refine, type Refinement } from "./refine";

const BUDGET = 24000;

export interface Followed extends Pick<Refinement, "matrix" | "lens" | "information"> {
  model: MotionModel;
}

/** Refines one model from a level down to the finest; the matrix is at full size. */
export function followDown(pair: Pair, model: MotionModel, start: Matrix3, startLens: Lens | null, from: number): Followed | null {
  const { fixed, moving, photometry, finest, options } = pair;
  let matrix: Matrix3 = atLevel(start, from);
  let lens = model === "radial" ? (startLens ?? { k1: 0, k2: 0 }) : startLens;
  let result: Refinement | null = null;
  for (let level = from; level >= finest; level--) {
    result = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, {
      model,
      budget: BUDGET,
      iterations: model === "radial" ? 40 : level === finest ? 10 : 15,
      lens,
      fixedLens: options.fixedLens,
      selection: countingAt(pair, level),
    });
    lens = result.lens;
    matrix = level > finest ? atLevel(result.matrix, -1) : result.matrix;
  }
  if (!result) return null;
  return { matrix: atLevel(matrix, -finest), lens, information: result.information, model };
}

/** The nearest map of a simpler model, so that what it cannot express does not stay behind in its matrix. */
export function restrict(model: MotionModel, start: Matrix3, fixed: GreyPyramid, moving: GreyPyramid): Matrix3 {
  if (model === "homography" || model === "radial") return start;
  const points: Correspondence[] = [];
  for (let j = 0; j <= 6; j++) {
    for (let i = 0; i <= 6; i++) {
      const [x, y] = [(i * (fixed.width - 1)) / 6, (j * (fixed.height - 1)) / 6];
      const [u, v] = project(start, x, y);
      points.push({ x, y, u, v });
    }
  }
  return fitModel(model, points, fixed, moving, start)?.matrix ?? start;
}

/** What is left, place by place, in px at full size; where one frame was blurred, at the level that blur leaves. */
export function measureLeft({ fixed, moving, photometry, options, level }: Pair, matrix: Matrix3, lens: Lens | null, columns: number): LocalShift[] {
  const shifts = measureLocalShifts(levelOf(fixed, level), levelOf(moving, level), photometry, atLevel(matrix, level), {
    lens,
    fixedLens: options.fixedLens,
    columns,
    selection: options.regions?.atLevel(level),
  });
  const s = 2 ** level;
  return level === 0 ? shifts : shifts.map((p) => ({ ...p, x: (p.x + 0.5) * s - 0.5, y: (p.y + 0.5) * s - 0.5, dx: p.dx * s, dy: p.dy * s }));
}
