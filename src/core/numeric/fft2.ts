/** In-place radix-2 transform of one line. @param inverse without the factor 1/n */
function transformLine(re: Float64Array, im: Float64Array, cos: Float64Array, sin: Float64Array, inverse: boolean): void {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      [re[i], re[j]] = [re[j], re[i]];
      [im[i], im[j]] = [im[j], im[i]];
    }
  }
  const sign = inverse ? 1 : -1;
  for (let size = 2; size <= n; size <<= 1) {
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
  private readonly lineRe: Float64Array;
  private readonly lineIm: Float64Array;

  constructor(readonly n: number) {
    if (n < 2 || (n & (n - 1)) !== 0) throw new RangeError(`Fft2 expects a power of two, got ${n}.`);
    this.cos = Float64Array.from({ length: n / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / n));
    this.sin = Float64Array.from({ length: n / 2 }, (_, k) => Math.sin((2 * Math.PI * k) / n));
    this.lineRe = new Float64Array(n);
    this.lineIm = new Float64Array(n);
  }

  run(re: Float64Array, im: Float64Array, inverse: boolean): void {
    const { n, lineRe, lineIm } = this;
    for (let y = 0; y < n; y++) {
      transformLine(re.subarray(y * n, y * n + n), im.subarray(y * n, y * n + n), this.cos, this.sin, inverse);
    }
    for (let x = 0; x < n; x++) {
      for (let y = 0; y < n; y++) {
        lineRe[y] = re[y * n + x];
        lineIm[y] = im[y * n + x];
      }
      transformLine(lineRe, lineIm, this.cos, this.sin, inverse);
      for (let y = 0; y < n; y++) {
        re[y * n + x] = lineRe[y];
        im[y * n + x] = lineIm[y];
      }
    }
  }
}
