import { describeMatrix } from "./describeMatrix";
import { atLevel, IDENTITY, invert, multiply, project } from "./matrix3";
import { intersect, rectangleAtLevel, sizeAtLevel } from "./rectangle";
import { covers, fitRatio, largestCrop } from "./validArea";

const H = [1.01, 0.02, 12, -0.015, 0.99, -7, 1e-5, -2e-5, 1];

it("a matrix and its inverse give the identity", () => {
  multiply(H, invert(H)).forEach((v, i) => expect(v).toBeCloseTo(IDENTITY[i], 12));
});

it("the map at a display level agrees with the map at full size (pixel centres are integers)", () => {
  for (const level of [1, 2, 4]) {
    const s = 2 ** level;
    const up = (v: number) => (v + 0.5) * s - 0.5;
    const [u, v] = project(atLevel(H, level), 31, 17);
    const [fu, fv] = project(H, up(31), up(17));
    expect(up(u)).toBeCloseTo(fu, 9);
    expect(up(v)).toBeCloseTo(fv, 9);
  }
});

it("reads shift, turn and scale back out of a similarity", () => {
  const angle = (2 * Math.PI) / 180;
  const [c, s] = [1.05 * Math.cos(angle), 1.05 * Math.sin(angle)];
  const [cx, cy] = [99.5, 49.5];
  const m = [c, -s, cx - c * cx + s * cy + 4, s, c, cy - s * cx - c * cy - 3, 0, 0, 1];
  const figures = describeMatrix(m, 200, 100);
  expect(figures.dx).toBeCloseTo(4, 9);
  expect(figures.dy).toBeCloseTo(-3, 9);
  expect(figures.rotationDeg).toBeCloseTo(2, 9);
  expect(figures.scale).toBeCloseTo(1.05, 9);
});

it("the proposed crop is the largest that every frame covers, by brute force", () => {
  const [w, h] = [40, 28];
  const frames = [
    { width: w, height: h, matrix: [1, 0, 3.2, 0, 1, -2.1, 0, 0, 1] },
    { width: w, height: h, matrix: [0.995, -0.06, 1, 0.06, 0.995, 0.5, 0, 0, 1] },
  ];
  const inside = (x: number, y: number) => frames.every((f) => covers(f, x, y));
  let best = 0;
  for (let y0 = 0; y0 < h; y0++) {
    for (let y1 = y0; y1 < h; y1++) {
      for (let x0 = 0; x0 < w; x0++) {
        if (!inside(x0, y0) || !inside(x0, y1)) continue;
        let x1 = x0;
        while (x1 + 1 < w && inside(x1 + 1, y0) && inside(x1 + 1, y1)) x1++;
        best = Math.max(best, (x1 - x0 + 1) * (y1 - y0 + 1));
      }
    }
  }
  const crop = largestCrop(w, h, frames)!;
  expect(crop.width * crop.height).toBe(best);
  for (let y = crop.y; y < crop.y + crop.height; y++) for (let x = crop.x; x < crop.x + crop.width; x++) expect(inside(x, y)).toBe(true);
});

it("a crop of a fixed ratio keeps the ratio and stays inside", () => {
  const crop = largestCrop(300, 200, [{ width: 300, height: 200, matrix: [1, 0, 20, 0, 1, 10, 0, 0, 1] }], 1)!;
  expect(crop.width).toBe(crop.height);
  expect(crop).toMatchObject({ width: 190, height: 190 });
  expect(crop.x).toBeGreaterThanOrEqual(20);
  expect(crop.y).toBeGreaterThanOrEqual(10);
  expect(fitRatio({ x: 0, y: 0, width: 100, height: 100 }, 2)).toEqual({ x: 0, y: 25, width: 100, height: 50 });
});

it("frames that share nothing have no crop", () => {
  expect(largestCrop(100, 80, [{ width: 100, height: 80, matrix: [1, 0, 500, 0, 1, 0, 0, 0, 1] }])).toBeNull();
});

it("rectangles at levels hold every pixel", () => {
  expect(rectangleAtLevel({ x: 3, y: 5, width: 6, height: 1 }, 1)).toEqual({ x: 1, y: 2, width: 4, height: 1 });
  expect(sizeAtLevel(2435, 1607, 3)).toEqual({ width: 305, height: 201 });
  expect(intersect({ x: 0, y: 0, width: 4, height: 4 }, { x: 6, y: 1, width: 3, height: 3 }).width).toBe(0);
});
