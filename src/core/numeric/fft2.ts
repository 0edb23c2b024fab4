/** Transforms lines of one length in place. */
type Line = (re: Float64Array, im: Float64Array, inverse: boolean) => void;

/** cos and sin of k/n of a turn. */
const turnsOf = (n: number, count: number, times = 1) => ({
  cos: Float64Array.from({ length: count }, (_, k) => Math.cos((2 * Math.PI * times * k) / n)),
  sin: Float64Array.from({ length: count }, (_, k) => Math.sin((2 * Math.PI * times * k) / n)),
});

/** Radix 2: lines whose length is a power of two. Inverse without the factor 1/n. */
function powerOfTwoLine(n: number): Line {
  const { cos, sin } = turnsOf(n, n / 2);
  return (re, im, inverse) => {
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
  };
}

/** Lines of three times a power of two: three lines of every third sample, put together. */
function threeTimesLine(n: number): Line {
  const third = n / 3;
  const line = powerOfTwoLine(third);
  const [once, twice] = [turnsOf(n, third), turnsOf(n, third, 2)];
  const parts = Array.from({ length: 3 }, () => [new Float64Array(third), new Float64Array(third)] as const);
  const [[r0, i0], [r1, i1], [r2, i2]] = parts;
  const root = Math.sqrt(3) / 2;
  return (re, im, inverse) => {
    parts.forEach(([r, i], part) => {
      for (let k = 0; k < third; k++) {
        r[k] = re[3 * k + part];
        i[k] = im[3 * k + part];
      }
      line(r, i, inverse);
    });
    const sign = inverse ? 1 : -1;
    for (let k = 0; k < third; k++) {
      const [c1, s1, c2, s2] = [once.cos[k], sign * once.sin[k], twice.cos[k], sign * twice.sin[k]];
      const br = r1[k] * c1 - i1[k] * s1;
      const bi = r1[k] * s1 + i1[k] * c1;
      const cr = r2[k] * c2 - i2[k] * s2;
      const ci = r2[k] * s2 + i2[k] * c2;
      const [tr, ti] = [br + cr, bi + ci];
      // i · √3/2 of the difference, turned the way the transform goes
      const [dr, di] = [-sign * root * (bi - ci), sign * root * (br - cr)];
      const [hr, hi] = [r0[k] - tr / 2, i0[k] - ti / 2];
      re[k] = r0[k] + tr;
      im[k] = i0[k] + ti;
      re[k + third] = hr + dr;
      im[k + third] = hi + di;
      re[k + 2 * third] = hr - dr;
      im[k + 2 * third] = hi - di;
    }
  };
}

const isPowerOfTwo = (n: number) => Number.isInteger(n) && n >= 2 && (n & (n - 1)) === 0;

/** The least length from `least` on that a transform takes: a power of two or three times one. */
export function transformLength(least: number): number {
  let n = 8;
  while (n < least) n *= 2;
  return (3 * n) / 4 >= least ? (3 * n) / 4 : n;
}

function lineOf(n: number): Line {
  if (isPowerOfTwo(n)) return powerOfTwoLine(n);
  if (isPowerOfTwo(n / 3)) return threeTimesLine(n);
  throw new RangeError(`Fft2 expects powers of two or three times those, got ${n}.`);
}

/** Two-dimensional Fourier transform of a complex array, row by row, in place. Either side is a power of two or three times one. */
export class Fft2 {
  private readonly across: Line;
  private readonly down: Line;
  private readonly turned: [Float64Array, Float64Array];

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.across = lineOf(width);
    this.down = width === height ? this.across : lineOf(height);
    this.turned = [new Float64Array(width * height), new Float64Array(width * height)];
  }

  /** Without the factor 1/(width · height) either way. @param filled rows from the first on that hold anything; those after are zero, as padding is */
  run(re: Float64Array, im: Float64Array, inverse: boolean, filled = this.height): void {
    const { width, height } = this;
    for (let y = 0; y < filled; y++) this.across(re.subarray(y * width, (y + 1) * width), im.subarray(y * width, (y + 1) * width), inverse);
    // columns as rows of the transposed picture, whose samples lie side by side
    const [tr, ti] = this.turned;
    transpose(re, width, height, tr);
    transpose(im, width, height, ti);
    for (let x = 0; x < width; x++) this.down(tr.subarray(x * height, (x + 1) * height), ti.subarray(x * height, (x + 1) * height), inverse);
    transpose(tr, height, width, re);
    transpose(ti, height, width, im);
  }
}

/** Rows of a picture as columns, in blocks that stay near the processor. */
function transpose(from: Float64Array, width: number, height: number, to: Float64Array): void {
  const block = 16;
  for (let by = 0; by < height; by += block) {
    for (let bx = 0; bx < width; bx += block) {
      for (let y = by; y < Math.min(height, by + block); y++) {
        for (let x = bx; x < Math.min(width, bx + block); x++) to[x * height + y] = from[y * width + x];
      }
    }
  }
}
