/** Own elementary functions against the host's; small solvers against definitions. */
import { cosine, exp2, log2, pow, sine } from "./elementary";
import { Fft2, transformLength } from "./fft2";
import { solveSymmetric } from "./linearSystem";
import { normalEquations } from "./normalEquations";
import { median, quantile, weightedMedian } from "./statistics";
import { randomOf } from "../../../tests/support/kernels";

const random = randomOf(3);

it("log2, exp2 and pow stay within 1e-14 of the host's", () => {
  for (let i = 0; i < 4000; i++) {
    const x = Math.exp((random() - 0.5) * 80);
    expect(Math.abs(log2(x) - Math.log2(x))).toBeLessThan(2e-14 * Math.max(1, Math.abs(Math.log2(x))));
    const y = (random() - 0.5) * 200;
    expect(Math.abs(exp2(y) / 2 ** y - 1)).toBeLessThan(2e-14);
    const base = random();
    expect(Math.abs(pow(base, 2.4) / base ** 2.4 - 1)).toBeLessThan(5e-14);
  }
  expect(pow(0.5, 2)).toBeCloseTo(0.25, 15);
  expect(log2(0)).toBe(-Infinity);
  expect(pow(0, 2.4)).toBe(0);
});

it("sine and cosine stay within 1e-14 of the host's", () => {
  for (let i = 0; i < 2000; i++) {
    const a = (random() - 0.5) * 20;
    expect(Math.abs(sine(a) - Math.sin(a))).toBeLessThan(1e-14);
    expect(Math.abs(cosine(a) - Math.cos(a))).toBeLessThan(1e-14);
  }
  expect(cosine(0)).toBe(1);
  expect(sine(0)).toBe(0);
});

it.each([
  [8, 8],
  [12, 8],
  [16, 24],
  [48, 6],
])("the transform of a picture of %i by %i is its definition, and comes back", (w, h) => {
  const re = Float64Array.from({ length: w * h }, () => random());
  const im = Float64Array.from({ length: w * h }, () => random());
  const [a, b] = [re.slice(), im.slice()];
  const fft = new Fft2(w, h);
  fft.run(a, b, false);
  for (const [u, v] of [
    [0, 0],
    [3, 5],
    [7, 1],
    [w - 1, h - 1],
  ]) {
    let [sr, si] = [0, 0];
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const angle = -2 * Math.PI * ((u * x) / w + (v * y) / h);
        sr += re[y * w + x] * Math.cos(angle) - im[y * w + x] * Math.sin(angle);
        si += re[y * w + x] * Math.sin(angle) + im[y * w + x] * Math.cos(angle);
      }
    }
    expect(a[v * w + u]).toBeCloseTo(sr, 10);
    expect(b[v * w + u]).toBeCloseTo(si, 10);
  }
  fft.run(a, b, true);
  a.forEach((v, i) => expect(v / (w * h)).toBeCloseTo(re[i], 12));
});

it("transforms take powers of two and three times those", () => {
  expect([1, 7, 100, 129, 190, 193, 385].map(transformLength)).toEqual([6, 8, 128, 192, 192, 256, 512]);
  for (const n of [10, 20, 36]) expect(() => new Fft2(n, 8)).toThrow(RangeError);
});

it("a padded picture transforms the same, told how much of it is filled", () => {
  const [w, h] = [48, 32];
  const padded = () => Float64Array.from({ length: w * h }, (_, i) => (i < 11 * w ? Math.sin(i * 0.7) : 0));
  const [whole, told, zero, nought] = [padded(), padded(), new Float64Array(w * h), new Float64Array(w * h)];
  const fft = new Fft2(w, h);
  fft.run(whole, zero, false);
  fft.run(told, nought, false, 11);
  expect(told.every((v, i) => v + 0 === whole[i] + 0) && nought.every((v, i) => v + 0 === zero[i] + 0)).toBe(true);
});

it("solves a positive definite system and refuses another", () => {
  const a = [4, 1, 0, 1, 3, 1, 0, 1, 2];
  const x = solveSymmetric(a, [1, 2, 3])!;
  [0, 1, 2].forEach((r) => expect(a[r * 3] * x[0] + a[r * 3 + 1] * x[1] + a[r * 3 + 2] * x[2]).toBeCloseTo([1, 2, 3][r], 12));
  expect(solveSymmetric([1, 2, 2, 1], [1, 1])).toBeNull();
});

it("quantiles and weighted medians", () => {
  expect(median([5, 1, 3])).toBe(3);
  expect(quantile([1, 2, 3, 4, 5], 1)).toBe(5);
  expect(weightedMedian([1, 2, 10], [1, 1, 5])).toBe(10);
  expect(() => median([])).toThrow(RangeError);
  expect(() => weightedMedian([], [])).toThrow(RangeError);
});

it("a weighted median is where half of the weight of the sorted values is reached, also where many are equal", () => {
  for (let n = 1; n < 300; n += 7) {
    const values = Array.from({ length: n }, () => (n % 2 ? random() : Math.floor(random() * 5)));
    // whole weights, whose sums are the same in any order
    const weights = values.map(() => Math.floor(random() * 4) + 1);
    const repeated = values.flatMap((v, i) => Array<number>(weights[i]).fill(v)).sort((a, b) => a - b);
    expect(weightedMedian(values, weights)).toBe(repeated[Math.ceil(repeated.length / 2) - 1]);
  }
});

it("a weighted median whose half falls between two values is one of them, however the sums are rounded", () => {
  for (let n = 2; n < 400; n += 2) {
    const values = Array.from({ length: n }, (_, i) => (i * 7919) % n);
    const sorted = [...values].sort((a, b) => a - b);
    for (const weight of [0.1, 1 / 3, 1e-10 + 0.7]) {
      expect(sorted.slice(n / 2 - 1, n / 2 + 1)).toContain(
        weightedMedian(
          values,
          values.map(() => weight),
        ),
      );
    }
  }
});

it.each([1, 2, 3, 5, 7, 10, 12])("normal equations of %i columns are the sums they stand for", (size) => {
  const columns = Array.from({ length: size }, () => Float64Array.from({ length: 40 }, () => random() - 0.5));
  const weights = Float64Array.from({ length: 40 }, (_, k) => (k % 5 ? random() : 0));
  const residual = Float32Array.from({ length: 40 }, () => random() - 0.5);
  const { normal, right } = normalEquations(columns, weights, residual);
  const sumOf = (of: (k: number) => number) => weights.reduce((sum, w, k) => sum + w * of(k), 0);
  for (let i = 0; i < size; i++) {
    expect(right[i]).toBeCloseTo(
      sumOf((k) => columns[i][k] * residual[k]),
      12,
    );
    for (let j = 0; j < size; j++) {
      expect(normal[i * size + j]).toBeCloseTo(
        sumOf((k) => columns[i][k] * columns[j][k]),
        12,
      );
    }
  }
});
