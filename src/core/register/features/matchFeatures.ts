import type { Feature } from "./detectFeatures";

export interface Match {
  a: Feature;
  b: Feature;
  /** distance to the best over distance to the second best, below 1; smaller is surer */
  ratio: number;
}

/** A second best nearer than this is the same thing found twice (a second direction), not a rival. */
const SAME_PX = 3;

/** Products of every row of a with every row of b, 128 values a row; by rows of a. */
export type Products = (a: Float32Array, b: Float32Array) => Float32Array;

const plainProducts: Products = (a, b) => {
  const [n, count] = [a.length / 128, b.length / 128];
  const out = new Float32Array(n * count);
  for (let i = 0, p = 0; i < n; i++) {
    const d = a.subarray(i * 128, i * 128 + 128);
    for (let o = 0; o < b.length; o += 128, p++) {
      let dot = 0;
      for (let k = 0; k < 128; k += 4) dot += d[k] * b[o + k] + d[k + 1] * b[o + k + 1] + d[k + 2] * b[o + k + 2] + d[k + 3] * b[o + k + 3];
      out[p] = dot;
    }
  }
  return out;
};

const rowsOf = (features: Feature[]): Float32Array => {
  const flat = new Float32Array(features.length * 128);
  features.forEach((f, i) => flat.set(f.descriptor, i * 128));
  return flat;
};

/**
 * Mutual nearest neighbours that are clearly nearer than any other place, surest first. @param products a faster way, where there is one
 * @see Lowe 2004, section 7.1 (ratio to the second best)
 */
export function matchFeatures(a: Feature[], b: Feature[], products: Products = plainProducts, most = 0.86): Match[] {
  const [forward, backward] = [new Nearest(a.length, b), new Nearest(b.length, a)];
  const dots = products(rowsOf(a), rowsOf(b));
  const { second } = backward;
  for (let i = 0, p = 0; i < a.length; i++) {
    let rival = forward.second[i];
    for (let j = 0; j < b.length; j++, p++) {
      const dot = dots[p];
      if (dot > rival) rival = forward.offer(i, dot, j);
      if (dot > second[j]) backward.offer(j, dot, i);
    }
  }
  const matches: Match[] = [];
  a.forEach((feature, i) => {
    const best = forward.best[i];
    const ratio = forward.ratio(i);
    if (best >= 0 && ratio < most && backward.best[best] === i) matches.push({ a: feature, b: b[best], ratio });
  });
  return matches.sort((p, q) => p.ratio - q.ratio);
}

/** Of each feature the two most alike among others so far, as cosines; descriptors are unit vectors. */
class Nearest {
  readonly best: Int32Array;
  readonly second: Float32Array;
  private readonly top: Float32Array;

  constructor(
    count: number,
    private readonly others: Feature[],
  ) {
    this.best = new Int32Array(count).fill(-1);
    this.second = new Float32Array(count).fill(-1);
    this.top = new Float32Array(count).fill(-1);
  }

  /** Takes a cosine above the second. @returns the second then */
  offer(i: number, dot: number, j: number): number {
    const { best, top, second, others } = this;
    const same = best[i] >= 0 && Math.hypot(others[best[i]].x - others[j].x, others[best[i]].y - others[j].y) <= SAME_PX;
    if (dot > top[i]) {
      if (!same) second[i] = top[i];
      top[i] = dot;
      best[i] = j;
    } else if (!same) second[i] = dot;
    return second[i];
  }

  /** Distance to the best over distance to the second: distance² = 2 − 2 cosine. */
  ratio(i: number): number {
    return Math.sqrt(Math.max(0, 1 - this.top[i]) / Math.max(1e-9, 1 - this.second[i]));
  }
}
