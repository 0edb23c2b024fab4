import { encodeSrgb } from "../color/srgbCurve";
import { randomOf } from "../../../tests/support/kernels";
import { buildGreyPyramid } from "../register/greyPyramid";
import { countStars, GRID, plainBorder, sharpnessGrid } from "./frameGrid";

function greyOf(width: number, height: number, light: (x: number, y: number) => number) {
  const data = new Uint8Array(width * height * 3);
  for (let i = 0; i < width * height; i++)
    data.fill(Math.round(255 * encodeSrgb(Math.max(0, Math.min(1, light(i % width, Math.floor(i / width)))))), i * 3, i * 3 + 3);
  return buildGreyPyramid({ width, height, bits: 8, data });
}

it("sharpness is high where the picture is sharp, low where the same picture is blurred, and unknown where it is plain", () => {
  const [w, h] = [960, 640];
  // edges of bars: sharp on the left, blurred over 14 px in the middle third, plain on the right
  const bar = (x: number, width: number) => 0.3 + 0.2 * Math.tanh(12 * (Math.abs(((x % 48) - 24) / 24) - 0.5) * (2 / width));
  const grid = sharpnessGrid(
    greyOf(w, h, (x) => (x < w / 3 ? bar(x, 1) : x < (2 * w) / 3 ? bar(x, 14) : 0.3)),
    0,
  );
  const at = (column: number) => grid[3 * GRID.columns + column];
  expect(at(1)).toBeGreaterThan(2 * at(6));
  expect(at(10)).toBeNaN();
  expect(grid).toHaveLength(GRID.columns * GRID.rows);
});

it("counts points of light on a dark ground, not a bright picture's texture", () => {
  const random = randomOf(4);
  const stars = Array.from({ length: 60 }, () => [20 + random() * 560, 20 + random() * 360]);
  const field = (x: number, y: number) => 0.004 + stars.reduce((sum, [sx, sy]) => sum + 0.5 * Math.exp(-((x - sx) ** 2 + (y - sy) ** 2) / 4), 0);
  const found = countStars(greyOf(600, 400, field));
  expect(found).toBeGreaterThanOrEqual(50);
  expect(found).toBeLessThanOrEqual(60);
  expect(countStars(greyOf(600, 400, (x, y) => 0.5 + 0.3 * Math.sin(x) * Math.cos(y)))).toBe(0);
});

it("a thing on a plain ground has a plain border, a scene has not", () => {
  const plain = greyOf(300, 200, (x, y) => (Math.hypot(x - 150, y - 100) < 60 ? 0.1 + 0.001 * x : 0.8));
  expect(plainBorder({ width: 300, height: 200, data: plain.base })).toBe(1);
  const scene = greyOf(300, 200, (x, y) => 0.2 + 0.5 * (x / 300) + 0.2 * (y / 200));
  expect(plainBorder({ width: 300, height: 200, data: scene.base })).toBeLessThan(0.2);
});
