/**
 * Solves the symmetric positive definite system A x = b by Cholesky factorisation.
 * @param a n×n row-major, left unchanged @param b n values
 * @returns x, or null where A is not positive definite
 */
export function solveSymmetric(a: ArrayLike<number>, b: ArrayLike<number>): Float64Array | null {
  const n = b.length;
  const l = Float64Array.from(a);
  for (let j = 0; j < n; j++) {
    let diagonal = l[j * n + j];
    for (let k = 0; k < j; k++) diagonal -= l[j * n + k] * l[j * n + k];
    if (!(diagonal > 1e-14 * Math.abs(a[j * n + j]))) return null;
    const root = Math.sqrt(diagonal);
    l[j * n + j] = root;
    for (let i = j + 1; i < n; i++) {
      let sum = l[i * n + j];
      for (let k = 0; k < j; k++) sum -= l[i * n + k] * l[j * n + k];
      l[i * n + j] = sum / root;
    }
  }
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= l[i * n + k] * x[k];
    x[i] /= l[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= l[k * n + i] * x[k];
    x[i] /= l[i * n + i];
  }
  return x;
}
