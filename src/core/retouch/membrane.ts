/** Cycles from fine to coarse and back, and sweeps on either way. */
const CYCLES = 6;
const SWEEPS = 3;
const COARSEST_SWEEPS = 40;
const SMALLEST = 6;

/** The grids of the latest area: the channels of a picture share one. */
let latest: { inside: Uint8Array; levels: Grid[] } | null = null;

/**
 * Solves Δu = f inside an area, u given around it, in place, by multigrid; the border of the plane is mirrored where the area reaches it.
 * @param inside 1 where u is asked for @param u given outside of the area @param rhs sum over the four neighbours of (wanted u − wanted neighbour); null: 0
 * @see Pérez, Gangnet, Blake 2003, "Poisson image editing", equation 7; Briggs, Henson, McCormick 2000, "A multigrid tutorial"
 */
export function solvePoisson(u: Float32Array, inside: Uint8Array, rhs: Float32Array | null, width: number, height: number): void {
  if (latest?.inside !== inside) latest = { inside, levels: levelsOf(inside, width, height) };
  let [sum, known] = [0, 0];
  for (let i = 0; i < u.length; i++) if (!inside[i]) [sum, known] = [sum + u[i], known + 1];
  if (known === 0) return;
  // a beginning near to what is around, so that little is left to be carried in
  for (let i = 0; i < u.length; i++) if (inside[i]) u[i] = sum / known;
  const right = rhs ?? new Float32Array(u.length);
  for (let k = 0; k < CYCLES; k++) cycle(u, right, latest.levels, 0);
}

interface Grid {
  width: number;
  height: number;
  inside: Uint8Array;
  /** indices of what is asked for, as on a chessboard, and those of them at the border of the plane */
  order: Int32Array;
  rim: Int32Array;
  /** for each of them its sample of the coarser grid, and the next one across, down and both ways */
  parent: Int32Array;
  across: Int32Array;
  down: Int32Array;
  both: Int32Array;
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
  const rim: number[] = [];
  inside.forEach((on, i) => {
    if (!on) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) rim.push(i);
    else asked[(x + y) % 2].push(i);
  });
  const order = Int32Array.from([...asked[0], ...asked[1]]);
  const [w, h] = [width >> 1, height >> 1];
  const held = (v: number, size: number) => Math.min(size - 1, Math.max(0, v));
  const link = (place: (x: number, y: number, nextX: number, nextY: number) => number) =>
    Int32Array.from(order, (i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const [cx, cy] = [x >> 1, y >> 1];
      return place(held(cx, w), held(cy, h), held(cx + (x & 1 ? 1 : -1), w), held(cy + (y & 1 ? 1 : -1), h));
    });
  return {
    width,
    height,
    inside,
    order,
    rim: Int32Array.from(rim),
    parent: link((x, y) => y * w + x),
    across: link((_x, y, nextX) => y * w + nextX),
    down: link((x, _y, _nextX, nextY) => nextY * w + x),
    both: link((_x, _y, nextX, nextY) => nextY * w + nextX),
  };
}

/** The sum of the four neighbours of a sample at the border of the plane, beyond which it is mirrored. */
function aroundRim(u: Float32Array, i: number, width: number): number {
  const x = i % width;
  const left = x > 0 ? u[i - 1] : u[i + 1];
  const right = x < width - 1 ? u[i + 1] : u[i - 1];
  const up = i >= width ? u[i - width] : u[i + width];
  const down = i + width < u.length ? u[i + width] : u[i - width];
  return left + right + up + down;
}

function sweep(u: Float32Array, rhs: Float32Array, { order, rim, width }: Grid, times: number): void {
  for (let k = 0; k < times; k++) {
    for (let j = 0; j < order.length; j++) {
      const i = order[j];
      u[i] = (u[i - 1] + u[i + 1] + u[i - width] + u[i + width] + rhs[i]) / 4;
    }
    for (let j = 0; j < rim.length; j++) u[rim[j]] = (aroundRim(u, rim[j], width) + rhs[rim[j]]) / 4;
  }
}

function cycle(u: Float32Array, rhs: Float32Array, levels: Grid[], at: number): void {
  const grid = levels[at];
  if (at === levels.length - 1) {
    sweep(u, rhs, grid, COARSEST_SWEEPS);
    return;
  }
  sweep(u, rhs, grid, SWEEPS);
  const { order, parent, across, down, both, width } = grid;
  const coarse = levels[at + 1];
  const left = new Float32Array(coarse.width * coarse.height);
  // the coarse equation has steps twice as long: four times the mean of what is left, which is its sum
  for (let j = 0; j < order.length; j++) {
    const i = order[j];
    left[parent[j]] += u[i - 1] + u[i + 1] + u[i - width] + u[i + width] + rhs[i] - 4 * u[i];
  }
  const correction = new Float32Array(left.length);
  cycle(correction, left, levels, at + 1);
  // linear between the coarse samples: three quarters of the own one, one quarter of the next
  for (let j = 0; j < order.length; j++) {
    u[order[j]] += (9 * correction[parent[j]] + 3 * correction[across[j]] + 3 * correction[down[j]] + correction[both[j]]) / 16;
  }
  sweep(u, rhs, grid, SWEEPS);
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
