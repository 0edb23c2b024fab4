/** A mixture of Gaussians over three values. */
export interface ColourModel {
  mean: Float64Array[];
  /** lower triangle of the inverse covariance: xx, xy, xz, yy, yz, zz */
  inverse: Float64Array[];
  /** log of weight over the root of the determinant */
  log: number[];
}

type Planes = readonly [Float32Array, Float32Array, Float32Array];

const PARTS = 5;
const ROUNDS = 6;
const MOST_SAMPLES = 12_000;
/** Variance that every colour has at least; Oklab. */
const LEAST_VARIANCE = 6e-5;

/**
 * Colours of the samples that are on, as a mixture of Gaussians: k-means from evenly spread beginnings, then one covariance each.
 * @returns null of fewer than two samples a part
 */
export function fitColours(planes: Planes, on: Uint8Array): ColourModel | null {
  let count = 0;
  for (let i = 0; i < on.length; i++) count += on[i];
  if (count < 2 * PARTS) return null;
  // an even pick of them says as much as all
  const stride = Math.max(1, Math.floor(count / MOST_SAMPLES));
  const picked = Float64Array.from({ length: 3 * Math.ceil(count / stride) });
  for (let i = 0, k = 0, at = 0; i < on.length; i++) {
    if (!on[i] || k++ % stride !== 0) continue;
    for (let v = 0; v < 3; v++) picked[at++] = planes[v][i];
  }
  const n = picked.length / 3;
  const centres = farApart(picked);
  const of = new Uint8Array(n);
  for (let round = 0; round < ROUNDS; round++) {
    const sums = new Float64Array(4 * PARTS);
    for (let k = 0; k < n; k++) {
      const best = nearestOf(centres, picked, k);
      of[k] = best;
      for (let v = 0; v < 3; v++) sums[4 * best + v] += picked[3 * k + v];
      sums[4 * best + 3]++;
    }
    for (let c = 0; c < PARTS; c++) if (sums[4 * c + 3]) for (let v = 0; v < 3; v++) centres[3 * c + v] = sums[4 * c + v] / sums[4 * c + 3];
  }
  const moments = new Float64Array(7 * PARTS);
  for (let k = 0; k < n; k++) {
    const [c, m] = [3 * of[k], 7 * of[k]];
    const dx = picked[3 * k] - centres[c];
    const dy = picked[3 * k + 1] - centres[c + 1];
    const dz = picked[3 * k + 2] - centres[c + 2];
    moments[m] += dx * dx;
    moments[m + 1] += dx * dy;
    moments[m + 2] += dx * dz;
    moments[m + 3] += dy * dy;
    moments[m + 4] += dy * dz;
    moments[m + 5] += dz * dz;
    moments[m + 6]++;
  }
  const model: ColourModel = { mean: [], inverse: [], log: [] };
  for (let c = 0; c < PARTS; c++) {
    const members = moments[7 * c + 6];
    if (members < 2) continue;
    const [xx, xy, xz, yy, yz, zz] = Array.from(
      moments.subarray(7 * c, 7 * c + 6),
      (v, j) => v / members + (j === 0 || j === 3 || j === 5 ? LEAST_VARIANCE : 0),
    );
    const [A, B, C] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
    const det = xx * A + xy * B + xz * C;
    model.mean.push(centres.slice(3 * c, 3 * c + 3));
    model.inverse.push(Float64Array.of(A / det, B / det, C / det, (xx * zz - xz * xz) / det, (xy * xz - xx * yz) / det, (xx * yy - xy * xy) / det));
    model.log.push(Math.log(members / n) - 0.5 * Math.log(det));
  }
  return model;
}

/** Beginnings far from each other: each next one is the sample least like those before. */
function farApart(picked: Float64Array): Float64Array {
  const n = picked.length / 3;
  const centres = new Float64Array(3 * PARTS).fill(Infinity);
  centres.set(picked.subarray(3 * (n >> 1), 3 * (n >> 1) + 3));
  const far = new Float64Array(n).fill(Infinity);
  for (let c = 1; c < PARTS; c++) {
    let best = 0;
    for (let k = 0; k < n; k++) {
      let d = 0;
      for (let v = 0; v < 3; v++) d += (picked[3 * k + v] - centres[3 * (c - 1) + v]) ** 2;
      far[k] = Math.min(far[k], d);
      if (far[k] > far[best]) best = k;
    }
    centres.set(picked.subarray(3 * best, 3 * best + 3), 3 * c);
  }
  return centres;
}

function nearestOf(centres: Float64Array, picked: Float64Array, k: number): number {
  let [best, near] = [0, Infinity];
  for (let c = 0; c < PARTS; c++) {
    const d = (picked[3 * k] - centres[3 * c]) ** 2 + (picked[3 * k + 1] - centres[3 * c + 1]) ** 2 + (picked[3 * k + 2] - centres[3 * c + 2]) ** 2;
    if (d < near) [best, near] = [c, d];
  }
  return best;
}

/** How unlikely a colour is under a model: the negative log of its density, less a constant. */
export function unlikeliness({ mean, inverse, log }: ColourModel, x: number, y: number, z: number): number {
  let sum = 0;
  for (let c = 0; c < mean.length; c++) {
    const [dx, dy, dz] = [x - mean[c][0], y - mean[c][1], z - mean[c][2]];
    const q = inverse[c];
    sum += Math.exp(log[c] - 0.5 * (q[0] * dx * dx + q[3] * dy * dy + q[5] * dz * dz + 2 * (q[1] * dx * dy + q[2] * dx * dz + q[4] * dy * dz)));
  }
  return -Math.log(Math.max(1e-30, sum));
}
