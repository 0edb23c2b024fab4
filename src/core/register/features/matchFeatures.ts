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
  const forward = a.map(unknown);
  const backward = b.map(unknown);
  const dots = products(rowsOf(a), rowsOf(b));
  for (let i = 0, p = 0; i < a.length; i++) {
    for (let j = 0; j < b.length; j++, p++) {
      offer(forward[i], dots[p], j, b);
      offer(backward[j], dots[p], i, a);
    }
  }
  const matches: Match[] = [];
  a.forEach((feature, i) => {
    const { best } = forward[i];
    const ratio = ratioOf(forward[i]);
    if (best >= 0 && ratio < most && backward[best].best === i) matches.push({ a: feature, b: b[best], ratio });
  });
  return matches.sort((p, q) => p.ratio - q.ratio);
}

/** The two most alike so far, as cosines; both descriptors are unit vectors. */
interface Nearest {
  best: number;
  top: number;
  second: number;
}

const unknown = (): Nearest => ({ best: -1, top: -1, second: -1 });

function offer(n: Nearest, dot: number, j: number, of: Feature[]): void {
  if (dot <= n.second) return;
  const same = n.best >= 0 && Math.hypot(of[n.best].x - of[j].x, of[n.best].y - of[j].y) <= SAME_PX;
  if (dot > n.top) {
    if (!same) n.second = n.top;
    n.top = dot;
    n.best = j;
  } else if (!same) n.second = dot;
}

/** Distance to the best over distance to the second: distance² = 2 − 2 cosine. */
const ratioOf = ({ top, second }: Nearest) => Math.sqrt(Math.max(0, 1 - top) / Math.max(1e-9, 1 - second));
