/** Value at a share of a sorted copy, nearest rank. @param share 0..1 @throws RangeError on an empty list */
export function quantile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) throw new RangeError("quantile expects at least one value, got none");
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))];
}

export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/**
 * The value at which half of all weight is reached, of values in any order: the part it lies in is parted again, so that millions cost no sorting.
 * @param weights none below 0 @throws RangeError on an empty list
 */
export function weightedMedian(values: ArrayLike<number>, weights: ArrayLike<number>): number {
  const [v, w] = [Float64Array.from(values), Float64Array.from(weights)];
  const half = w.reduce((sum, each) => sum + each, 0) / 2;
  const swap = (i: number, j: number) => {
    [v[i], v[j]] = [v[j], v[i]];
    [w[i], w[j]] = [w[j], w[i]];
  };
  let below = 0;
  for (let [first, last] = [0, v.length - 1]; first <= last;) {
    const pivot = median([v[first], v[(first + last) >> 1], v[last]]);
    // before `less` lies what is less than the pivot, after `more` what is more
    let [less, more] = [first, last];
    let [lighter, equal] = [0, 0];
    for (let i = first; i <= more;) {
      if (v[i] < pivot) {
        lighter += w[i];
        swap(i++, less++);
      } else if (v[i] > pivot) swap(i, more--);
      else equal += w[i++];
    }
    if (less > first && below + lighter >= half) last = less - 1;
    // sums taken in another order may fall short by their rounding: it lies in this range, so it is the last of it at most
    else if (below + lighter + equal >= half || more === last) return pivot;
    else {
      below += lighter + equal;
      first = more + 1;
    }
  }
  throw new RangeError("weightedMedian expects at least one value, got none");
}
