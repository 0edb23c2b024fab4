/** Cycles from fine to coarse and back, and sweeps on either way. */
const CYCLES = 8;
const SWEEPS = 3;
const COARSEST_SWEEPS = 40;
const SMALLEST = 6;

/**
 * Solves Δu = f inside an area, u given around it, in place, by multigrid; the border of the plane is mirrored where the area reaches it.
 * @param inside 1 where u is asked for @param u given outside of the area @param rhs sum over the four neighbours of (wanted u − wanted neighbour); null: 0
 * @see Pérez, Gangnet, Blake 2003, "Poisson image editing", equation 7; Briggs, Henson, McCormick 2000, "A multigrid tutorial"
 */
export function solvePoisson(u: Float32Array, inside: Uint8Array, rhs: Float32Array | null, width: number, height: number): void {
  let [sum, known] = [0, 0];
  for (let i = 0; i < u.length; i++) if (!inside[i]) [sum, known] = [sum + u[i], known + 1];
  if (known === 0) return;
  // a beginning near to what is around, so that little is left to be carried in
  for (let i = 0; i < u.length; i++) if (inside[i]) u[i] = sum / known;
  const right = rhs ?? new Float32Array(u.length);
  const levels = levelsOf(inside, width, height);
  for (let k = 0; k < CYCLES; k++) cycle(u, right, levels, 0);
}

interface Grid {
  width: number;
  height: number;
  inside: Uint8Array;
  /** indices of what is asked for, as on a chessboard: white first */
  order: Int32Array;
}

function levelsOf(inside: Uint8Array, width: number, height: number): Grid[] {
  const levels = [gridOf(inside, width, height)];
  for (;;) {
    const { width: w, height: h, inside: fine } = levels[levels.length - 1];
    const [cw, ch] = [w >> 1, h >> 1];
    if (Math.min(cw, ch) < SMALLEST) return levels;
    const coarse = new Uint8Array(cw * ch);
    for (let y = 0; y < ch; y++) {
      for (let x = 0; x < cw; x++) {
        const i = 2 * y * w + 2 * x;
        coarse[y * cw + x] = fine[i] & fine[i + 1] & fine[i + w] & fine[i + w + 1];
      }
    }
    if (!coarse.some((v) => v) || coarse.every((v) => v)) return levels;
    levels.push(gridOf(coarse, cw, ch));
  }
}

function gridOf(inside: Uint8Array, width: number, height: number): Grid {
  const asked: number[][] = [[], []];
  inside.forEach((on, i) => on && asked[((i % width) + Math.floor(i / width)) % 2].push(i));
  return { width, height, inside, order: Int32Array.from([...asked[0], ...asked[1]]) };
}

/** The sum of the four neighbours; beyond the border of the plane it is mirrored. */
function around(u: Float32Array, i: number, width: number): number {
  const x = i % width;
  const left = x > 0 ? u[i - 1] : u[i + 1];
  const right = x < width - 1 ? u[i + 1] : u[i - 1];
  const up = i >= width ? u[i - width] : u[i + width];
  const down = i + width < u.length ? u[i + width] : u[i - width];
  return left + right + up + down;
}

function sweep(u: Float32Array, rhs: Float32Array, { order, width }: Grid, times: number): void {
  for (let k = 0; k < times; k++) for (let j = 0; j < order.length; j++) u[order[j]] = (around(u, order[j], width) + rhs[order[j]]) / 4;
}

function cycle(u: Float32Array, rhs: Float32Array, levels: Grid[], at: number): void {
  const grid = levels[at];
  if (at === levels.length - 1) {
    sweep(u, rhs, grid, COARSEST_SWEEPS);
    return;
  }
  sweep(u, rhs, grid, SWEEPS);
  const coarse = levels[at + 1];
  const left = new Float32Array(coarse.width * coarse.height);
  for (const i of grid.order) {
    const [x, y] = [(i % grid.width) >> 1, Math.floor(i / grid.width) >> 1];
    // the coarse equation has steps twice as long: four times the mean of what is left, which is its sum
    if (x < coarse.width && y < coarse.height) left[y * coarse.width + x] += around(u, i, grid.width) + rhs[i] - 4 * u[i];
  }
  const correction = new Float32Array(left.length);
  cycle(correction, left, levels, at + 1);
  for (const i of grid.order) u[i] += between(correction, coarse, ((i % grid.width) - 0.5) / 2, (Math.floor(i / grid.width) - 0.5) / 2);
  sweep(u, rhs, grid, SWEEPS);
}

/** A value between the samples of a plane, linear. */
function between(plane: Float32Array, { width, height }: Grid, x: number, y: number): number {
  const [u, v] = [Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))];
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const upper = plane[y0 * width + x0] + (plane[y0 * width + x1] - plane[y0 * width + x0]) * (u - x0);
  const lower = plane[y1 * width + x0] + (plane[y1 * width + x1] - plane[y1 * width + x0]) * (u - x0);
  return upper + (lower - upper) * (v - y0);
}

/** Fills an area smoothly from what lies around it, in place. */
export const fillSmoothly = (u: Float32Array, inside: Uint8Array, width: number, height: number): void => solvePoisson(u, inside, null, width, height);

/**
 * Seats a source in an area: its detail, and the tones of what lies around.
 * @param target what is there; changed inside the area @param source what is put there, given everywhere
 */
export function seatSource(target: Float32Array, source: Float32Array, inside: Uint8Array, width: number, height: number): void {
  // what has to be added to the source is smooth, and known around the area
  const added = target.map((v, i) => v - source[i]);
  fillSmoothly(added, inside, width, height);
  for (let i = 0; i < target.length; i++) if (inside[i]) target[i] = source[i] + added[i];
}
