/** Value at a share of a sorted copy, nearest rank. @param share 0..1 @throws RangeError on an empty list */
export function quantile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) throw new RangeError("quantile expects at least one value, got none");
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))];
}

export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** Median of a list of values with weights. */
export function weightedMedian(values: number[], weights: number[]): number {
  const order = values.map((_, i) => i).sort((a, b) => values[a] - values[b]);
  const half = weights.reduce((sum, w) => sum + w, 0) / 2;
  let sum = 0;
  for (const i of order) {
    sum += weights[i];
    if (sum >= half) return values[i];
  }
  throw new RangeError("weightedMedian expects at least one value with a weight");
}
