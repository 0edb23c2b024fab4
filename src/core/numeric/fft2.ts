/** Transforms lines of one length in place. */
type Line = (re: Float64Array, im: Float64Array, inverse: boolean) => void;

/** cos and sin of k/n of a turn. */
const turnsOf = (n: number, count: number, times = 1) => ({
  cos: Float64Array.from({ length: count }, (_, k) => Math.cos((2 * Math.PI * times * k) / n)),
  sin: Float64Array.from({ length: count }, (_, k) => Math.sin((2 * Math.PI * times * k) / n)),
});

/** Radix 2: lines whose length is a power of two. Inverse without the factor 1/n. */
function powerOfTwoLine(n: number): Line {
  // of each size of butterflies the turns side by side, from half of it on
  const turns = new Float64Array(2 * n);
  for (let half = 2; half < n; half *= 2) {
    const { cos, sin } = turnsOf(2 * half, half);
    for (let k = 0; k < half; k++) turns.set([cos[k], sin[k]], 2 * (half + k));
  }
  const swaps = reversals(n);
  return (re, im, inverse) => {
    for (let k = 0; k < swaps.length; k += 2) {
      const i = swaps[k];
      const j = swaps[k + 1];
      const r = re[i];
      const m = im[i];
      re[i] = re[j];
      im[i] = im[j];
      re[j] = r;
      im[j] = m;
    }
    const sign = inverse ? 1 : -1;
    for (let p = 0; p < n; p += 2) {
      const r = re[p + 1];
      const m = im[p + 1];
      re[p + 1] = re[p] - r;
      im[p + 1] = im[p] - m;
      re[p] += r;
      im[p] += m;
    }
    for (let half = 2; half < n; half <<= 1) {
      for (let start = 0; start < n; start += 2 * half) {
        for (let k = 0; k < half; k++) {
          const c = turns[2 * (half + k)];
          const s = sign * turns[2 * (half + k) + 1];
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

/** Pairs of places that change with each other where the bits of places are reversed. */
function reversals(n: number): Uint32Array {
  const pairs: number[] = [];
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) pairs.push(i, j);
  }
  return Uint32Array.from(pairs);
}

/** Lines of three times a power of two: three lines of every third sample, put together. */
function threeTimesLine(n: number): Line {
  const third = n / 3;
  const line = powerOfTwoLine(third);
  const once = turnsOf(n, third);
  const twice = turnsOf(n, third, 2);
  const parts = new Float64Array(2 * n);
  const [r0, r1, r2, i0, i1, i2] = Array.from({ length: 6 }, (_, k) => parts.subarray(k * third, (k + 1) * third));
  const root = Math.sqrt(3) / 2;
  return (re, im, inverse) => {
    for (let k = 0, p = 0; k < third; k++, p += 3) {
      r0[k] = re[p];
      i0[k] = im[p];
      r1[k] = re[p + 1];
      i1[k] = im[p + 1];
      r2[k] = re[p + 2];
      i2[k] = im[p + 2];
    }
    line(r0, i0, inverse);
    line(r1, i1, inverse);
    line(r2, i2, inverse);
    const sign = inverse ? 1 : -1;
    for (let k = 0; k < third; k++) {
      const c1 = once.cos[k];
      const s1 = sign * once.sin[k];
      const c2 = twice.cos[k];
      const s2 = sign * twice.sin[k];
      const br = r1[k] * c1 - i1[k] * s1;
      const bi = r1[k] * s1 + i1[k] * c1;
      const cr = r2[k] * c2 - i2[k] * s2;
      const ci = r2[k] * s2 + i2[k] * c2;
      // i · √3/2 of the difference, turned the way the transform goes
      const dr = -sign * root * (bi - ci);
      const di = sign * root * (br - cr);
      const hr = r0[k] - (br + cr) / 2;
      const hi = i0[k] - (bi + ci) / 2;
      re[k] = r0[k] + br + cr;
      im[k] = i0[k] + bi + ci;
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
