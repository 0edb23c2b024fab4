import { randomOf } from "../../../tests/support/kernels";
import { CELL, DepthFinder, focusWeight, sharpnessOf } from "./DepthFinder";
import { weightedGuidedFilter } from "./guidedFilter";
import { boxMean, type Field } from "../raster/boxMean";

const random = randomOf(31);
const field = (width: number, height: number, of: (x: number, y: number) => number): Field => ({
  width,
  height,
  data: Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
});

it.each([1, 3, 7])("boxMean of radius %i is the mean over the square, cut off at the border", (radius) => {
  const f = field(13, 9, () => random());
  const got = boxMean(f, radius);
  for (let y = 0; y < 9; y++) {
    for (let x = 0; x < 13; x++) {
      let [sum, n] = [0, 0];
      for (let v = Math.max(0, y - radius); v <= Math.min(8, y + radius); v++)
        for (let u = Math.max(0, x - radius); u <= Math.min(12, x + radius); u++, n++) sum += f.data[v * 13 + u];
      expect(got[y * 13 + x]).toBeCloseTo(sum / n, 5);
    }
  }
});

it("the weighted filter ignores what has no weight and keeps a step that the guide has", () => {
  const guide = field(40, 20, (x) => (x < 20 ? 0.1 : 0.8)).data;
  const value = field(40, 20, (x, y) => (x < 20 ? 2 : 5) + (x % 3 === 0 ? 40 * (y % 2) : 0));
  const weight = field(40, 20, (x) => (x % 3 === 0 ? 0 : 1)).data;
  const out = weightedGuidedFilter(value, weight, guide, 4, 1e-4);
  for (let i = 0; i < out.length; i++) expect(Math.abs(out[i] - (i % 40 < 20 ? 2 : 5))).toBeLessThan(0.05);
});

it("noise alone has no sharpness; structure has, and what is not covered has none", () => {
  const width = 64;
  const rows = 32;
  const noisy = Float32Array.from({ length: width * (rows + 2) }, () => 0.5 + 0.01 * (random() + random() + random() + random() - 2) * Math.sqrt(3));
  const covered = new Float32Array(noisy.length).fill(1);
  const mean = (v: Float32Array) => v.reduce((a, b) => a + b, 0) / v.length;
  const { energy, mean: light } = sharpnessOf(noisy, covered, width, rows, 0.01);
  expect(energy).toHaveLength((width / CELL) * (rows / CELL));
  // what is left of 12 σ² after its mean is taken off
  expect(mean(energy)).toBeLessThan(12 * 0.01 ** 2);
  expect(mean(light)).toBeCloseTo(0.5, 2);
  const striped = noisy.map((v, i) => v + (i % 4 < 2 ? 0.2 : 0));
  expect(mean(sharpnessOf(striped, covered, width, rows, 0.01).energy)).toBeGreaterThan(50 * mean(energy));
  expect(mean(sharpnessOf(striped, covered.fill(0), width, rows, 0.01).energy)).toBe(0);
});

it("the border of what a frame covers is not taken for something sharp", () => {
  const [width, rows, border] = [64, 32, 30];
  const finder = new DepthFinder({ width, height: rows });
  const whole = Float32Array.from({ length: width * (rows + 2) }, () => 0.6 + 0.01 * (random() - 0.5));
  for (const part of [false, true]) {
    const covered = whole.map((_, i) => (part && i % width < border ? 0 : 1));
    const light = whole.map((v, i) => v * covered[i]);
    const found = sharpnessOf(light, covered, width, rows, 0.003);
    finder.add(found.energy, found.mean, 0.003);
  }
  const { confidence } = finder.finish();
  for (let y = 0; y < finder.height; y++) expect(confidence[y * finder.width + border / CELL]).toBeLessThan(0.2);
});

it("the index of the sharpest frame is found between frames, and filled in where nothing is sharp", () => {
  const finder = new DepthFinder({ width: 160, height: 60 });
  const [w, h] = [finder.width, finder.height];
  const light = new Float32Array(w * h).fill(0.5);
  const wanted = 2.3;
  for (let k = 0; k < 6; k++) {
    // a Gaussian peak of sharpness; the middle third has no structure
    finder.add(field(w, h, (x) => (x > 26 && x < 54 ? 0 : 0.01 * Math.exp(-((k - wanted) ** 2)))).data, light, 0);
  }
  const { index, confidence } = finder.finish();
  for (let i = 0; i < index.length; i++) expect(Math.abs(index[i] - wanted)).toBeLessThan(0.05);
  expect(confidence[0]).toBeGreaterThan(0.5);
  expect(confidence[Math.floor(h / 2) * w + 40]).toBeLessThan(0.01);
});

it("weights of all frames sum to one wherever the depth is", () => {
  for (let index = 0; index <= 5; index += 0.01) {
    const sum = [0, 1, 2, 3, 4, 5].reduce((s, k) => s + focusWeight(index, k), 0);
    expect(sum).toBeCloseTo(1, 6);
  }
});
