import fc from "fast-check";
import { fitScale, levelFor, toPicture, toScreen, visibleRect, zoomAt, type Viewport } from "./viewport";

const view: Viewport = { width: 700, height: 640, scale: 0.3, cx: 1248, cy: 832, angle: 0 };
const size = { width: 2496, height: 1664 };

it("screen and picture places are each other's opposite", () => {
  fc.assert(
    fc.property(
      fc.double({ min: -3000, max: 3000, noNaN: true }),
      fc.double({ min: 0.02, max: 8, noNaN: true }),
      fc.double({ min: -7, max: 7, noNaN: true }),
      (p, scale, angle) => {
        const v = { ...view, scale, angle };
        expect(toPicture(v, ...toScreen(v, p, -p))[0]).toBeCloseTo(p, 6);
      },
    ),
  );
});

it("zooming keeps the place under the pointer, turned or not", () => {
  for (const v of [view, { ...view, angle: 0.7 }]) {
    const before = toPicture(v, 120, 410);
    const after = toPicture(zoomAt(v, 120, 410, 1.7), 120, 410);
    expect(after[0]).toBeCloseTo(before[0], 9);
    expect(after[1]).toBeCloseTo(before[1], 9);
  }
});

it("a quarter turn puts what was right of the middle below it, and all that is seen is asked for", () => {
  const v = { ...view, angle: Math.PI / 2 };
  const [x, y] = toScreen(v, v.cx + 100, v.cy);
  expect([x, y]).toEqual([expect.closeTo(350, 9), expect.closeTo(350, 9)]);
  const seen = visibleRect({ ...v, scale: 1 }, size, 0);
  // the height of the screen lies across the picture now
  expect([seen.x, seen.width, seen.height]).toEqual([1248 - 320, 640, 700]);
});

it("a level is at least as fine as the screen, and never finer than full size", () => {
  for (const scale of [0.05, 0.2, 0.26, 0.5, 0.99, 1, 4]) {
    const level = levelFor({ ...view, scale }, size, 1);
    expect(2 ** level * scale).toBeLessThanOrEqual(1.0001 * Math.max(1, scale));
    expect(level).toBeGreaterThanOrEqual(0);
  }
  expect(levelFor({ ...view, scale: 0.25 }, size, 1)).toBe(2);
  expect(levelFor({ ...view, scale: 0.25 }, size, 2)).toBe(1);
});

it("asks only for what can be seen, inside the picture", () => {
  const fitted = { ...view, scale: fitScale(size, 700, 640) };
  expect(visibleRect(fitted, size, 1)).toEqual({ x: 0, y: 0, width: 1248, height: 832 });
  const near = visibleRect({ ...view, scale: 1, cx: 10, cy: 10 }, size, 0);
  expect(near).toEqual({ x: 0, y: 0, width: 360, height: 330 });
  expect(visibleRect({ ...view, cx: 90000 }, size, 0).width).toBeLessThanOrEqual(0);
});
