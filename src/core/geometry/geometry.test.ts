import fc from "fast-check";
import { describeMatrix } from "./describeMatrix";
import { distort, foldRadius, undistort } from "./lens";
import { atLevel, fromLevels, IDENTITY, invert, multiply, project } from "./matrix3";
import { intersect, rectangleAtLevel, sizeAtLevel } from "./rectangle";
import { costOfFrames, covers, fitRatio, largestCrop } from "./validArea";

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

describe("a radial lens", () => {
  const size = { width: 601, height: 401 };

  it("moves by the polynomial it is defined by and is undone to 1e-9 px", () => {
    const lens = { k1: -0.12, k2: 0.02 };
    const half = Math.hypot(601, 401) / 2;
    const [x, y] = distort(lens, size, 300 + 0.6 * half, 200);
    // r = 0.6: 0.6 (1 − 0.12 · 0.36 + 0.02 · 0.1296), by hand
    expect((x - 300) / half).toBeCloseTo(0.6 * (1 - 0.0432 + 0.002592), 12);
    expect(y).toBe(200);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 600, noNaN: true }), fc.double({ min: 0, max: 400, noNaN: true }), (u, v) => {
        const [p, q] = undistort(lens, size, ...distort(lens, size, u, v));
        expect(Math.hypot(p - u, q - v)).toBeLessThan(1e-9);
      }),
    );
  });

  it("folds back where the slope of its polynomial is zero", () => {
    // 1 − 3 · 0.3 r² = 0 at r = 1.054
    expect(foldRadius({ k1: -0.3, k2: 0 })).toBeCloseTo(1.054, 1);
    expect(foldRadius({ k1: 0.1, k2: 0 })).toBe(Infinity);
  });

  it("pulls the corners of a barrel in, so that its picture covers more", () => {
    const frame = { width: 600, height: 400, matrix: IDENTITY };
    const plain = largestCrop(600, 400, [{ ...frame, lens: { k1: 0.1, k2: 0 } }])!;
    expect(plain.width * plain.height).toBeLessThan(0.95 * 600 * 400);
    expect(largestCrop(600, 400, [{ ...frame, lens: { k1: -0.1, k2: 0 } }])).toEqual({ x: 0, y: 0, width: 600, height: 400 });
  });
});

it("a map between two levels leads to the map at full size", () => {
  const h = [1.1, 0.02, 12, -0.03, 0.95, -7, 1e-5, 2e-5, 1];
  fromLevels(atLevel(h, 3), 3, 3).forEach((v, i) => expect(v).toBeCloseTo(h[i], 9));
  // one picture at level 1, the other at level 2: centre (0, 0) of each is (0.5, 0.5) and (1.5, 1.5) at full size
  expect(project(fromLevels(IDENTITY, 1, 2), 0.5, 0.5)).toEqual([1.5, 1.5]);
});

it("a crop keeps what must stay, moves for it, or says that it does not fit", () => {
  const frames = [
    { width: 300, height: 200, matrix: IDENTITY },
    { width: 300, height: 200, matrix: [1, 0, 20, 0, 1, 10, 0, 0, 1] },
  ];
  expect(largestCrop(300, 200, frames)).toEqual({ x: 20, y: 10, width: 280, height: 190 });
  const right = largestCrop(300, 200, frames, 1, [{ x: 295, y: 100 }])!;
  expect(right).toEqual({ x: 106, y: 10, width: 190, height: 190 });
  expect(
    largestCrop(300, 200, frames, 1, [
      { x: 25, y: 100 },
      { x: 295, y: 100 },
    ]),
  ).toBeNull();
});

it("what a frame costs is the area that is gained without it", () => {
  const frames = [
    { width: 300, height: 200, matrix: IDENTITY },
    { width: 300, height: 200, matrix: [1, 0, 60, 0, 1, 0, 0, 0, 1] },
  ];
  // 240 of 300 columns are common: without the second frame 25 % more
  const [, second] = costOfFrames(300, 200, frames);
  expect(second).toBeCloseTo(0.25, 9);
});
