import type { Feature } from "./detectFeatures";

export interface Match {
  a: Feature;
  b: Feature;
  /** distance to the best over distance to the second best, below 1; smaller is surer */
  ratio: number;
}

/** A second best nearer than this is the same thing found twice (a second direction), not a rival. */
const SAME_PX = 3;

/**
 * Mutual nearest neighbours that are clearly nearer than any other place, surest first.
 * @see Lowe 2004, section 7.1 (ratio to the second best)
 */
export function matchFeatures(a: Feature[], b: Feature[], most = 0.86): Match[] {
  const forward = nearest(a, b);
  const backward = nearest(b, a);
  const matches: Match[] = [];
  a.forEach((feature, i) => {
    const { best, ratio } = forward[i];
    if (best >= 0 && ratio < most && backward[best].best === i) matches.push({ a: feature, b: b[best], ratio });
  });
  return matches.sort((p, q) => p.ratio - q.ratio);
}

function nearest(a: Feature[], b: Feature[]): { best: number; ratio: number }[] {
  const flat = new Float32Array(b.length * 128);
  b.forEach((f, i) => flat.set(f.descriptor, i * 128));
  return a.map((f) => {
    const d = f.descriptor;
    let best = -1;
    let top = -1;
    let second = -1;
    for (let j = 0; j < b.length; j++) {
      const o = j * 128;
      let dot = 0;
      for (let k = 0; k < 128; k += 4) dot += d[k] * flat[o + k] + d[k + 1] * flat[o + k + 1] + d[k + 2] * flat[o + k + 2] + d[k + 3] * flat[o + k + 3];
      if (dot > top) {
        if (best < 0 || Math.hypot(b[best].x - b[j].x, b[best].y - b[j].y) > SAME_PX) second = top;
        top = dot;
        best = j;
      } else if (dot > second && Math.hypot(b[best].x - b[j].x, b[best].y - b[j].y) > SAME_PX) second = dot;
    }
    // both are unit vectors: distance² = 2 − 2 dot
    return { best, ratio: Math.sqrt(Math.max(0, 1 - top) / Math.max(1e-9, 1 - second)) };
  });
}
