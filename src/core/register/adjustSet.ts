import { invert, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { solveSymmetric } from "../numeric/linearSystem";
import { changeOf, COLUMNS, normalizer, type MotionModel } from "./models";

/** A measured pair: matrix maps frame `fixed` → frame `moving`; information as in Refinement. */
export interface PairEdge {
  fixed: number;
  moving: number;
  matrix: Matrix3;
  information: Float64Array;
}

/**
 * Refines all frames of a set together: finds the maps frame → reference that agree best with every measured pair, each pair
 * weighted by its own information, by Gauss-Newton over the model's parameters per frame. Lenses stay as they are.
 * @param placed first guess, frame → reference; the reference has the identity; null where a frame is left out
 * @returns placed, refined
 */
export function adjustSet(
  placed: (Matrix3 | null)[],
  edges: PairEdge[],
  reference: number,
  width: number,
  height: number,
  model: MotionModel,
): (Matrix3 | null)[] {
  const unit = normalizer(width, height);
  const back = invert(unit);
  const free = placed.map((m, i) => (m && i !== reference ? i : -1)).filter((i) => i >= 0);
  const slot = new Map(free.map((frame, k) => [frame, k]));
  let current: (Matrix3 | null)[] = placed.map((m) => (m ? normalize(multiply(unit, multiply(m, back))) : null));
  const measured = edges.map((e) => normalize(multiply(unit, multiply(e.matrix, back))));

  /** Eight parameters of what is missing between the measured and the predicted map of an edge. */
  const discrepancy = (k: number, maps: (Matrix3 | null)[]): number[] => {
    const { fixed, moving } = edges[k];
    const predicted = multiply(invert(maps[moving]!), maps[fixed]!);
    const d = normalize(multiply(invert(measured[k]), predicted));
    return [d[0] - 1, d[1], d[2], d[3], d[4] - 1, d[5], d[6], d[7]];
  };
  const columns = COLUMNS[model];
  const size = columns.length;
  /** Eight homography parameters from the model's own, of one frame. */
  const expand = (at: (p: number) => number): number[] => {
    const out = new Array<number>(8).fill(0);
    columns.forEach((column, p) => {
      for (let q = 0; q < column.length; q += 2) out[column[q]] += column[q + 1] * at(p);
    });
    return out;
  };
  const nudge = (m: Matrix3, k: number, amount: number): Matrix3 => normalize(multiply(m, changeOf(expand((p) => (p === k ? amount : 0)))));

  const n = free.length * size;
  for (let pass = 0; pass < 8 && n > 0; pass++) {
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    edges.forEach((edge, k) => {
      const e = discrepancy(k, current);
      const sides: { at: number; d: number[] }[] = [];
      for (const frame of [edge.fixed, edge.moving]) {
        const s = slot.get(frame);
        if (s === undefined) continue;
        for (let p = 0; p < size; p++) {
          const maps = current.slice();
          maps[frame] = nudge(current[frame]!, p, 1e-7);
          sides.push({ at: s * size + p, d: discrepancy(k, maps).map((v, i) => (v - e[i]) / 1e-7) });
        }
      }
      const weigh = (v: number[]) => e.map((_, r) => v.reduce((sum, value, c) => sum + edge.information[r * 8 + c] * value, 0));
      for (const a of sides) {
        const wa = weigh(a.d);
        right[a.at] -= wa.reduce((sum, v, i) => sum + v * e[i], 0);
        for (const b of sides) normal[a.at * n + b.at] += wa.reduce((sum, v, i) => sum + v * b.d[i], 0);
      }
    });
    for (let i = 0; i < n; i++) normal[i * n + i] *= 1 + 1e-9;
    const step = solveSymmetric(normal, right);
    if (!step) break;
    current = current.map((m, frame) => {
      const s = slot.get(frame);
      if (s === undefined || !m) return m;
      return normalize(multiply(m, changeOf(expand((p) => step[s * size + p]))));
    });
    if (step.every((v) => Math.abs(v) < 1e-9)) break;
  }
  return current.map((m) => (m ? normalize(multiply(back, multiply(m, unit))) : null));
}
