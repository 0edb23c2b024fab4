import { randomOf } from "../../../../tests/support/kernels";
import { project, type Matrix3 } from "../../geometry/matrix3";
import type { Plane } from "../../raster/raster";
import { detectFeatures } from "./detectFeatures";
import { findHomographies } from "./findHomographies";
import { matchFeatures } from "./matchFeatures";

/** Smooth blobs of many sizes, so that any view of them can be computed without interpolation. */
function view(matrix: Matrix3, seed: number, gain = 1): Plane {
  const random = randomOf(seed);
  const blobs = Array.from({ length: 320 }, () => ({ x: random() * 500 - 50, y: random() * 420 - 60, r: 3 + random() * 11, a: random() - 0.5 }));
  const [width, height] = [400, 300];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = project(matrix, x, y);
      let sum = 0.5;
      for (const b of blobs) {
        const d = ((u - b.x) ** 2 + (v - b.y) ** 2) / (b.r * b.r);
        if (d < 12) sum += 0.5 * b.a * Math.exp(-d);
      }
      data[y * width + x] = gain * sum;
    }
  }
  return { width, height, data };
}
const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const size = { width: 400, height: 300 };

it.each([
  ["turned by 40°", 40, 1],
  ["turned by 170°", 170, 1],
  ["1.6 times as large", 0, 1.6],
])("a view %s and darker is found by its features to a px", (_, degrees, scale) => {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a) / scale, Math.sin(a) / scale];
  // b → a about the centre
  const back: Matrix3 = [c, -s, 200 - c * 200 + s * 150, s, c, 150 - s * 200 - c * 150, 0, 0, 1];
  const matches = matchFeatures(detectFeatures(view(IDENTITY, 7)), detectFeatures(view(back, 7, 0.6)));
  const [best] = findHomographies(matches, size, size, false);
  expect(best.support).toBeGreaterThanOrEqual(15);
  for (const [x, y] of [
    [150, 120],
    [250, 120],
    [200, 190],
  ]) {
    const [u, v] = project(best.matrix, ...project(back, x, y));
    expect(Math.hypot(u - x, v - y)).toBeLessThan(1);
  }
});

it("two other scenes share hardly a match, and the same features give the same matches", () => {
  const [a, b] = [detectFeatures(view(IDENTITY, 7)), detectFeatures(view(IDENTITY, 8))];
  const same = matchFeatures(a, a);
  expect(same.length).toBeGreaterThan(100);
  expect(matchFeatures(a, b).length).toBeLessThan(0.15 * same.length);
  expect(findHomographies(matchFeatures(a, b), size, size, true).every((m) => m.support < 12)).toBe(true);
  expect(matchFeatures(a, a).map((m) => m.ratio)).toEqual(same.map((m) => m.ratio));
});

it("a feature knows its place, its size, and has a descriptor of unit length", () => {
  const data = new Float32Array(120 * 120);
  for (let i = 0; i < data.length; i++) data[i] = 0.2 + 0.7 * Math.exp(-(((i % 120) - 61.3) ** 2 + (Math.floor(i / 120) - 58.4) ** 2) / (2 * 5 * 5));
  const [feature] = detectFeatures({ width: 120, height: 120, data });
  expect(Math.hypot(feature.x - 61.3, feature.y - 58.4)).toBeLessThan(0.5);
  // a blob of sigma s answers most at a scale of s: Lindeberg 1998, section 5 (recalled from memory); a step of scale is a factor of 1.26
  expect(feature.sigma).toBeGreaterThan(5 / 1.4);
  expect(feature.sigma).toBeLessThan(5 * 1.4);
  expect(feature.descriptor.reduce((sum, v) => sum + v * v, 0)).toBeCloseTo(1, 4);
});
