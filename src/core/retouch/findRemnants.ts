import { boundsOfCells, connectedCells } from "../masks/components";

/** Something left over where a thing was taken away. */
export interface Remnant {
  /** samples */
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  count: number;
  /** mean difference from what ought to be there, EV */
  contrastEv: number;
}

/** What is left over is drawn black or white where it is so far from what ought to be there, EV. */
export const RESIDUAL_EV = 0.75;

/** Weakest difference that shows when shadows are lifted, EV, and against the spread of what is not concerned. Common practice, no source. */
const LEAST_EV = 0.12;
const CLEAR = 5;
const LEAST_COUNT = 6;

/**
 * Connected places near a removal that differ from what ought to be there, the most visible first.
 * @param residual log2 light less what ought to be there, EV @param near 1 where something may be left over @param apart 1 where nothing was changed, by which the spread is judged
 */
export function findRemnants(residual: Float32Array, near: Uint8Array, apart: Uint8Array, width: number, height: number): Remnant[] {
  const calm: number[] = [];
  for (let i = 0; i < residual.length; i += 3) if (apart[i]) calm.push(Math.abs(residual[i]));
  calm.sort((a, b) => a - b);
  const limit = Math.max(LEAST_EV, CLEAR * 1.4826 * (calm[calm.length >> 1] ?? 0));
  // lighter and darker ones apart, or their mean would say nothing
  return [1, -1]
    .flatMap((sign) =>
      connectedCells(
        near.map((v, i) => (v && sign * residual[i] > limit ? 1 : 0)),
        width,
        height,
      ),
    )
    .filter((cells) => cells.length >= LEAST_COUNT)
    .map((cells): Remnant => {
      const contrastEv = cells.reduce((sum, i) => sum + residual[i], 0) / cells.length;
      return { ...boundsOfCells(cells, width), contrastEv };
    })
    .sort((a, b) => Math.abs(b.contrastEv) * b.count - Math.abs(a.contrastEv) * a.count);
}
