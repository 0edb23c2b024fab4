import { randomOf } from "../../../tests/support/kernels";
import { DepthFinder, focusWeight, PAUSES } from "./DepthFinder";
import { PLAIN_FILTERS } from "../raster/filters";
import { weightedGuidedFilter } from "./guidedFilter";
import { enlargedRow } from "../raster/enlargedRow";
import { CELL, sharpnessOf } from "./sharpness";
import { boxMean } from "../raster/boxMean";
import type { Plane } from "../raster/raster";

const random = randomOf(31);
const atOnce = async () => undefined;
const field = (width: number, height: number, of: (x: number, y: number) => number): Plane => ({
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

it("an enlarged row is linear between the middles of its places, and even beyond the outermost", () => {
  const ramp = field(6, 4, (x, y) => 3 * x + 10 * y);
  const row = new Float32Array(24);
  enlargedRow(ramp, 4, 9, row);
  // row 9 lies at (9 + 0.5) / 4 − 0.5 = 1.875, column x likewise
  row.forEach((v, x) => expect(v).toBeCloseTo(3 * Math.max(0, Math.min(5, (x + 0.5) / 4 - 0.5)) + 18.75, 4));
});

it("the weighted filter ignores what has no weight and keeps a step that the guide has", async () => {
  const guide = field(40, 20, (x) => (x < 20 ? 0.1 : 0.8)).data;
  const value = field(40, 20, (x, y) => (x < 20 ? 2 : 5) + (x % 3 === 0 ? 40 * (y % 2) : 0));
  const weight = field(40, 20, (x) => (x % 3 === 0 ? 0 : 1)).data;
  const out = await weightedGuidedFilter(value, weight, guide, { radius: 4, epsilon: 1e-4 }, atOnce, PLAIN_FILTERS);
  for (let i = 0; i < out.length; i++) expect(Math.abs(out[i] - (i % 40 < 20 ? 2 : 5))).toBeLessThan(0.05);
});

const gaussian = () => (random() + random() + random() + random() - 2) * Math.sqrt(3);

it("white noise of variance σ² has the energy 12 σ²; structure has more, what is not covered has none", () => {
  const [width, rows, sigma] = [128, 64, 0.01];
  const noisy = Float32Array.from({ length: width * (rows + 2) }, () => 0.5 + sigma * gaussian());
  const covered = new Float32Array(noisy.length).fill(1);
  const mean = (v: Float32Array) => v.reduce((a, b) => a + b, 0) / v.length;
  const { energy, mean: light } = sharpnessOf(noisy, covered, width, rows);
  expect(energy).toHaveLength((width / CELL) * (rows / CELL));
  // two second differences a px, each of variance (1 + 4 + 1) σ²
  expect(mean(energy) / (12 * sigma ** 2)).toBeCloseTo(1, 1);
  expect(mean(light)).toBeCloseTo(0.5, 2);
  const striped = noisy.map((v, i) => v + (i % 4 < 2 ? 0.2 : 0));
  expect(mean(sharpnessOf(striped, covered, width, rows).energy)).toBeGreaterThan(20 * mean(energy));
  expect(mean(sharpnessOf(striped, covered.fill(0), width, rows).energy)).toBe(0);
});

/** Frames of a stack with the noise of each, added to a finder. */
function depthOf(width: number, rows: number, frames: ((x: number, y: number) => number)[], sigmas: number[]) {
  const finder = new DepthFinder({ width, height: rows }, PLAIN_FILTERS);
  frames.forEach((light, k) => {
    const strip = Float32Array.from({ length: width * (rows + 2) }, (_, i) => light(i % width, Math.floor(i / width)) + sigmas[k] * gaussian());
    const { energy, mean } = sharpnessOf(strip, new Float32Array(strip.length).fill(1), width, rows);
    finder.add(energy, mean, Math.min(...sigmas));
  });
  return finder.finish(atOnce);
}

it("a frame with more noise than the others is not taken for the sharpest", async () => {
  const [width, rows, sharp] = [256, 128, 3];
  // structure on the left third only, in one frame; the reference, which is not resampled, has twice the noise
  const frames = [0, 1, 2, 3, 4].map((k) => (x: number) => 0.4 + (k === sharp && x < 85 && x % 4 < 2 ? 0.1 : 0));
  const { index, confidence } = await depthOf(width, rows, frames, [0.002, 0.002, 0.004, 0.002, 0.002]);
  const [cells, lines] = [width / CELL, rows / CELL];
  for (let y = 0; y < lines; y++) {
    for (let x = 0; x < cells; x++) {
      const i = y * cells + x;
      // what shows nothing goes with what is sharp nearby
      expect(Math.abs(index[i] - sharp)).toBeLessThan(0.5);
      if (x > 60) expect(confidence[i]).toBeLessThan(0.05);
    }
  }
  expect(confidence[Math.floor(lines / 2) * cells + 20]).toBeGreaterThan(0.5);
});

it("detail too weak for a single place is found in wide ones", async () => {
  const [width, rows, sigma] = [256, 256, 0.01];
  // stripes that make a sixth of the energy of noise: frame 1 on the left, frame 4 on the right
  const frames = [0, 1, 2, 3, 4, 5].map((k) => (x: number, y: number) => 0.4 + (k === (x < 128 ? 1 : 4) && y % 4 < 2 ? 2 * sigma : 0));
  const { index } = await depthOf(width, rows, frames, [sigma, sigma, sigma, sigma, sigma, sigma]);
  const mean = (from: number, to: number) => {
    let sum = 0;
    for (let y = 0; y < 128; y++) for (let x = from; x < to; x++) sum += index[y * 128 + x];
    return sum / (128 * (to - from));
  };
  expect(mean(0, 50)).toBeCloseTo(1, 0);
  expect(mean(78, 128)).toBeCloseTo(4, 0);
});

it("the border of what a frame covers is not taken for something sharp", async () => {
  const [width, rows, border] = [64, 32, 30];
  const finder = new DepthFinder({ width, height: rows }, PLAIN_FILTERS);
  const whole = Float32Array.from({ length: width * (rows + 2) }, () => 0.6 + 0.01 * (random() - 0.5));
  for (const part of [false, true]) {
    const covered = whole.map((_, i) => (part && i % width < border ? 0 : 1));
    const light = whole.map((v, i) => v * covered[i]);
    const found = sharpnessOf(light, covered, width, rows);
    finder.add(found.energy, found.mean, 0.003);
  }
  const { confidence } = await finder.finish(atOnce);
  for (let y = 0; y < finder.height; y++) expect(confidence[y * finder.width + border / CELL]).toBeLessThan(0.2);
});

it("the index of the sharpest frame is found between frames, and filled in where nothing is sharp", async () => {
  const finder = new DepthFinder({ width: 160, height: 60 }, PLAIN_FILTERS);
  const [w, h] = [finder.width, finder.height];
  const light = new Float32Array(w * h).fill(0.5);
  const wanted = 2.3;
  for (let k = 0; k < 6; k++) {
    // a Gaussian peak of sharpness; the middle third has no structure
    finder.add(field(w, h, (x) => (x > 26 && x < 54 ? 0 : 0.01 * Math.exp(-((k - wanted) ** 2)))).data, light, 0);
  }
  let pauses = 0;
  const { index, confidence } = await finder.finish(async () => {
    pauses++;
  });
  expect(pauses).toBe(PAUSES);
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
