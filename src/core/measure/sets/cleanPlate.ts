import type { FrameParity } from "./parity";

/** Cells in which the frames of a set are compared with each other. */
export const CLEAN_GRID = { columns: 24, rows: 16 } as const;
/** Samples along each side of a cell. */
export const CELL_SAMPLES = 6;
/** Correlation from which two frames are taken to show the same thing in a cell. Common practice, no source. */
const SAME_THING = 0.75;
/** Spread of log2 light below which a cell has nothing to correlate, EV; its level then decides. */
const FLAT_EV = 0.12;
const LEVEL_EV = 0.5;

/**
 * The cells in which each frame shows something that no other frame shows.
 * @param cells per frame and cell: CELL_SAMPLES² values of log2 light against the frame's exposure, or null where they are not usable
 */
export function lonelyCells(cells: (Float32Array | null)[][]): number[][] {
  return cells.map((mine, i) =>
    mine.flatMap((cell, c) => {
      const others = cells.flatMap((theirs, k) => (k === i || !theirs[c] ? [] : [theirs[c]]));
      return cell && others.length > 0 && !others.some((o) => sameThing(cell, o)) ? [c] : [];
    }),
  );
}

function sameThing(a: Float32Array, b: Float32Array): boolean {
  const mean = (v: Float32Array) => v.reduce((s, x) => s + x, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  for (let k = 0; k < a.length; k++) {
    const [p, q] = [a[k] - ma, b[k] - mb];
    ab += p * q;
    aa += p * p;
    bb += q * q;
  }
  const flat = FLAT_EV * FLAT_EV * a.length;
  if (aa < flat && bb < flat) return Math.abs(ma - mb) < LEVEL_EV;
  return ab > SAME_THING * Math.sqrt(aa * bb);
}

/** Share of the picture in which no two frames agree, so that nobody can tell what is behind. */
export function shareWithoutPlate(parity: FrameParity[]): number {
  const known = parity.filter((p) => p.comparable);
  if (known.length < 2) return 0;
  const count = new Map<number, number>();
  for (const p of known) for (const c of p.alone) count.set(c, (count.get(c) ?? 0) + 1);
  const bare = [...count.values()].filter((n) => n === known.length).length;
  return bare / (CLEAN_GRID.columns * CLEAN_GRID.rows);
}
