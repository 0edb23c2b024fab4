/** In-place radix-2 transform of one line. @param inverse without the factor 1/n */
function transformLine(re: Float64Array, im: Float64Array, cos: Float64Array, sin: Float64Array, inverse: boolean): void {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      const [r, m] = [re[i], im[i]];
      re[i] = re[j];
      im[i] = im[j];
      re[j] = r;
      im[j] = m;
    }
  }
  const sign = inverse ? 1 : -1;
  for (let p = 0; p < n; p += 2) {
    const [r, m] = [re[p + 1], im[p + 1]];
    re[p + 1] = re[p] - r;
    im[p + 1] = im[p] - m;
    re[p] += r;
    im[p] += m;
  }
  for (let size = 4; size <= n; size <<= 1) {
    const half = size >> 1;
    const step = n / size;
    for (let start = 0; start < n; start += size) {
      for (let k = 0; k < half; k++) {
        const c = cos[k * step];
        const s = sign * sin[k * step];
        const p = start + k;
        const q = p + half;
        const tr = re[q] * c - im[q] * s;
        const ti = re[q] * s + im[q] * c;
        re[q] = re[p] - tr;
        im[q] = im[p] - ti;
        re[p] += tr;
        im[p] += ti;
      }
    }
  }
}

/** Two-dimensional Fourier transform of a square complex array, in place. Side n is a power of two. */
export class Fft2 {
  private readonly cos: Float64Array;
  private readonly sin: Float64Array;

  constructor(readonly n: number) {
    if (n < 2 || (n & (n - 1)) !== 0) throw new RangeError(`Fft2 expects a power of two, got ${n}.`);
    this.cos = Float64Array.from({ length: n / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / n));
    this.sin = Float64Array.from({ length: n / 2 }, (_, k) => Math.sin((2 * Math.PI * k) / n));
  }

  /** @param filled rows from the first on that hold anything; those after are zero, as padding is */
  run(re: Float64Array, im: Float64Array, inverse: boolean, filled = this.n): void {
    const { n } = this;
    for (let y = 0; y < filled; y++) {
      transformLine(re.subarray(y * n, y * n + n), im.subarray(y * n, y * n + n), this.cos, this.sin, inverse);
    }
    // columns as rows of the transposed picture, whose samples lie side by side
    transpose(re, n);
    transpose(im, n);
    for (let x = 0; x < n; x++) transformLine(re.subarray(x * n, x * n + n), im.subarray(x * n, x * n + n), this.cos, this.sin, inverse);
    transpose(re, n);
    transpose(im, n);
  }
}

/** In place, in blocks that stay near the processor. */
function transpose(a: Float64Array, n: number): void {
  const block = Math.min(n, 16);
  for (let by = 0; by < n; by += block) {
    for (let bx = by; bx < n; bx += block) {
      for (let y = by; y < by + block; y++) {
        for (let x = bx === by ? y + 1 : bx; x < bx + block; x++) {
          const v = a[y * n + x];
          a[y * n + x] = a[x * n + y];
          a[x * n + y] = v;
        }
      }
    }
  }
}
