import { UNKNOWN, type Band, type MatteField } from "./trimap";

/** Least variance of a window's colours, so that even windows do not follow their noise. As published. */
const LEAST_VARIANCE = 1e-7;
const WINDOW = 9;

/** Samples at or after one, row by row, that share a window with it: steps in x and y. */
const AHEAD: readonly (readonly [number, number])[] = [[1, 0], [2, 0], ...[1, 2].flatMap((dy) => [-2, -1, 0, 1, 2].map((dx) => [dx, dy] as const))];
const placeAhead = (dx: number, dy: number) => (dy === 0 ? dx - 1 : 2 + (dy - 1) * 5 + dx + 2);

/** A symmetric matrix over a band, each row's entries ahead of its diagonal only, with what the known samples beside the band ask of it. */
export interface BandSystem {
  diagonal: Float64Array;
  /** of each of the steps ahead one entry a sample */
  ahead: Float32Array[];
  /** where those entries lie in the band, −1 for none */
  at: Int32Array[];
  right: Float64Array;
}

/**
 * The matting Laplacian of a band: in every window of 3 × 3 samples alpha is a linear function of the colours, as nearly as can be. Known samples go to the right side.
 * @param rgb colours in which that is to hold
 * @see Levin, Lischinski, Weiss 2008, "A closed-form solution to natural image matting"
 */
export function mattingLaplacian({ width, height, known, rgb }: MatteField, { places, index }: Band, alpha: Float32Array): BandSystem {
  const n = places.length;
  const system: BandSystem = {
    diagonal: new Float64Array(n),
    ahead: AHEAD.map(() => new Float32Array(n)),
    at: AHEAD.map(([dx, dy]) => placesAhead(places, index, width, height, dx, dy)),
    right: new Float64Array(n),
  };
  const { diagonal, ahead, right } = system;
  const [R, G, B] = rgb;
  const d = new Float64Array(3 * WINDOW);
  const own = new Int32Array(WINDOW);
  const of = new Int32Array(WINDOW);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const centre = y * width + x;
      if (!touches(known, centre, width)) continue;
      let [mr, mg, mb] = [0, 0, 0];
      for (let k = 0; k < WINDOW; k++) {
        const i = centre + (Math.floor(k / 3) - 1) * width + (k % 3) - 1;
        of[k] = i;
        own[k] = index[i];
        mr += R[i];
        mg += G[i];
        mb += B[i];
      }
      mr /= WINDOW;
      mg /= WINDOW;
      mb /= WINDOW;
      let [rr, rg, rb, gg, gb, bb] = [0, 0, 0, 0, 0, 0];
      for (let k = 0; k < WINDOW; k++) {
        const i = of[k];
        const [r, g, b] = [R[i] - mr, G[i] - mg, B[i] - mb];
        d[3 * k] = r;
        d[3 * k + 1] = g;
        d[3 * k + 2] = b;
        rr += r * r;
        rg += r * g;
        rb += r * b;
        gg += g * g;
        gb += g * b;
        bb += b * b;
      }
      rr = rr / WINDOW + LEAST_VARIANCE;
      gg = gg / WINDOW + LEAST_VARIANCE;
      bb = bb / WINDOW + LEAST_VARIANCE;
      rg /= WINDOW;
      rb /= WINDOW;
      gb /= WINDOW;
      const [A, C, E] = [gg * bb - gb * gb, rb * gb - rg * bb, rg * gb - rb * gg];
      const scale = 1 / (rr * A + rg * C + rb * E);
      const [F, H, K] = [rr * bb - rb * rb, rg * rb - rr * gb, rr * gg - rg * rg];
      for (let k = 0; k < WINDOW; k++) {
        const i = own[k];
        const [r, g, b] = [d[3 * k], d[3 * k + 1], d[3 * k + 2]];
        const vr = (A * r + C * g + E * b) * scale;
        const vg = (C * r + F * g + H * b) * scale;
        const vb = (E * r + H * g + K * b) * scale;
        if (i >= 0) diagonal[i] += 1 - (1 + vr * r + vg * g + vb * b) / WINDOW;
        for (let l = k + 1; l < WINDOW; l++) {
          const j = own[l];
          if (i < 0 && j < 0) continue;
          const weight = (1 + vr * d[3 * l] + vg * d[3 * l + 1] + vb * d[3 * l + 2]) / WINDOW;
          if (i < 0) right[j] += weight * alpha[of[k]];
          else if (j < 0) right[i] += weight * alpha[of[l]];
          else ahead[placeAhead((l % 3) - (k % 3), Math.floor(l / 3) - Math.floor(k / 3))][i] -= weight;
        }
      }
    }
  }
  return system;
}

function touches(known: Uint8Array, centre: number, width: number): boolean {
  for (let i = centre - width; i <= centre + width; i += width) if (known[i - 1] === UNKNOWN || known[i] === UNKNOWN || known[i + 1] === UNKNOWN) return true;
  return false;
}

function placesAhead(places: Int32Array, index: Int32Array, width: number, height: number, dx: number, dy: number): Int32Array {
  return places.map((i) => {
    const x = (i % width) + dx;
    const y = Math.floor(i / width) + dy;
    return x < 0 || x >= width || y >= height ? -1 : index[y * width + x];
  });
}

/** The matrix times a vector. */
function apply({ diagonal, ahead, at }: BandSystem, p: Float64Array, out: Float64Array): void {
  const n = p.length;
  for (let i = 0; i < n; i++) out[i] = diagonal[i] * p[i];
  for (let k = 0; k < ahead.length; k++) {
    const [weights, to] = [ahead[k], at[k]];
    for (let i = 0; i < n; i++) {
      const j = to[i];
      if (j < 0) continue;
      const w = weights[i];
      out[i] += w * p[j];
      out[j] += w * p[i];
    }
  }
}

/**
 * Conjugate gradients over the whole band at once, each sample scaled by its own diagonal.
 * @param start begins here and holds the solution @param least stops where the residual is this share of the right side
 */
export function solveBand(system: BandSystem, start: Float64Array, rounds: number, least = 1e-4): Float64Array {
  const n = start.length;
  const { diagonal, right } = system;
  const x = start;
  const [r, z, p, q] = [0, 1, 2, 3].map(() => new Float64Array(n));
  apply(system, x, q);
  let size = 0;
  for (let i = 0; i < n; i++) {
    r[i] = right[i] - q[i];
    p[i] = z[i] = r[i] / Math.max(1e-12, diagonal[i]);
    size += (right[i] * right[i]) / Math.max(1e-12, diagonal[i]);
  }
  let rz = r.reduce((sum, v, i) => sum + v * z[i], 0);
  for (let round = 0; round < rounds && rz > least * least * size; round++) {
    apply(system, p, q);
    let pq = 0;
    for (let i = 0; i < n; i++) pq += p[i] * q[i];
    if (!(pq > 0)) break;
    const step = rz / pq;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i] += step * p[i];
      r[i] -= step * q[i];
      z[i] = r[i] / Math.max(1e-12, diagonal[i]);
      next += r[i] * z[i];
    }
    const turn = next / rz;
    rz = next;
    for (let i = 0; i < n; i++) p[i] = z[i] + turn * p[i];
  }
  return x;
}
