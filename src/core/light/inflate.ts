import { solvePoisson } from "../retouch/membrane";

/** Which way the surface of something faces, as its outline tells: towards the right and down in its own samples; the rest of it faces who looks. */
export interface Facing {
  width: number;
  height: number;
  /** of unit normals; outside of the outline as at the nearest place of it */
  nx: Float32Array;
  ny: Float32Array;
  /** samples of what it was made of in one of its own */
  step: number;
}

/** Longest side of the grid that a surface is inflated on, samples. */
const SIDE = 320;
/** Alpha from which on something is there. */
const THERE = 0.5;
/** Samples around everything that are nothing; sides are multiples of it, so that coarser grids have such a border too. */
const EMPTY = 16;
/** Samples around an outline that are given a direction as well: what is out of focus reaches beyond it. */
const BEYOND = EMPTY - 1;

/**
 * The surface of what covers samples, blown up from its outline: h with Δh = −4 inside and 0 on the outline, depth √h, which makes a ball of a disc and a round limb of a strip.
 * @param alpha 0..1
 * @see Johnston 2002, "Lumo: illumination for cel animation"; the square root is our own: it faces sideways all along the outline
 */
export function inflate(alpha: Float32Array, width: number, height: number): Facing {
  const step = Math.max(1, Math.ceil(Math.max(width, height) / SIDE));
  // nothing is around it, on coarser grids too, else the border of the plane would be taken for its middle
  const [w, h] = [width, height].map((v) => EMPTY * Math.ceil((Math.ceil(v / step) + 2 * EMPTY) / EMPTY));
  const covered = new Float32Array(w * h);
  for (let y = 0; y < height; y++) {
    const row = (EMPTY + Math.floor(y / step)) * w + EMPTY;
    for (let x = 0; x < width; x++) covered[row + Math.floor(x / step)] += alpha[y * width + x] / (step * step);
  }
  const inside = Uint8Array.from(covered, (v) => (v >= THERE ? 1 : 0));
  const blown = new Float32Array(w * h);
  const rhs = Float32Array.from(inside, (v) => 4 * v);
  if (inside.some((v) => v)) solvePoisson(blown, inside, rhs, w, h);
  const nx = new Float32Array(w * h);
  const ny = new Float32Array(w * h);
  const known = new Uint8Array(w * h);
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      if (!inside[i]) continue;
      const gx = (blown[i - 1] - blown[i + 1]) / 2;
      const gy = (blown[i - w] - blown[i + w]) / 2;
      const gz = 2 * Math.sqrt(Math.max(0, blown[i]));
      const length = Math.sqrt(gx * gx + gy * gy + gz * gz);
      if (!(length > 0)) continue;
      nx[i] = gx / length;
      ny[i] = gy / length;
      known[i] = 1;
    }
  }
  for (let k = 0; k < BEYOND; k++) spread(nx, ny, known, w, h);
  return { width: w, height: h, nx, ny, step };
}

/** Gives samples beside known ones the mean of those. */
function spread(nx: Float32Array, ny: Float32Array, known: Uint8Array, w: number, h: number): void {
  const before = known.slice();
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (before[i]) continue;
      let [sx, sy, count] = [0, 0, 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
          if (!before[v * w + u]) continue;
          sx += nx[v * w + u];
          sy += ny[v * w + u];
          count++;
        }
      }
      if (count === 0) continue;
      [nx[i], ny[i], known[i]] = [sx / count, sy / count, 1];
    }
  }
}

/**
 * The direction at a sample of what a surface was made of, into `out`: right, down, towards who looks; of unit length.
 * @param depth how deep it is, as a share of how wide: 1 is round
 */
export function facingAt({ width, height, nx, ny, step }: Facing, x: number, y: number, depth: number, out: Float64Array): void {
  const gx = Math.min(width - 1.001, Math.max(0, (x + 0.5) / step - 0.5 + EMPTY));
  const gy = Math.min(height - 1.001, Math.max(0, (y + 0.5) / step - 0.5 + EMPTY));
  const i = Math.floor(gx);
  const j = Math.floor(gy);
  const u = gx - i;
  const v = gy - j;
  const k = j * width + i;
  const a = (1 - u) * (1 - v);
  const b = u * (1 - v);
  const c = (1 - u) * v;
  const d = u * v;
  const px = a * nx[k] + b * nx[k + 1] + c * nx[k + width] + d * nx[k + width + 1];
  const py = a * ny[k] + b * ny[k + 1] + c * ny[k + width] + d * ny[k + width + 1];
  const pz = Math.sqrt(Math.max(0, 1 - px * px - py * py)) / depth;
  const length = Math.sqrt(px * px + py * py + pz * pz) || 1;
  out[0] = px / length;
  out[1] = py / length;
  out[2] = pz / length;
}

/** How far beyond the outline of everything a surface is told, samples of what it was made of. */
export const beyond = ({ step }: Facing): number => BEYOND * step;
