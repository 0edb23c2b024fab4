/** Depths of outlines whose limbs are known. */
import { extentOf, volumeOf } from "./volume";

const [W, H] = [240, 400];
/** Bars: left, top, width, height. */
function drawn(bars: [number, number, number, number][]): Float32Array {
  const alpha = new Float32Array(W * H);
  for (const [x, y, w, h] of bars) for (let j = y; j < y + h; j++) alpha.fill(1, j * W + x, j * W + x + w);
  return alpha;
}
const POST: [number, number, number, number] = [100, 50, 40, 300];

it("an upright post is as deep as it is wide, and round", () => {
  const { half, deepest } = volumeOf(drawn([POST]), W, H);
  for (const y of [60, 200, 340]) {
    expect(Math.abs(half[y * W + 119] - 20)).toBeLessThan(1.5);
    // a quarter in from its side: √(20² − 10²)
    expect(Math.abs(half[y * W + 109] - 17.3)).toBeLessThan(1.5);
  }
  expect(Math.abs(deepest - 20)).toBeLessThan(1.5);
});

it("an arm that points to the side is as deep as it is thick, however long", () => {
  const { half } = volumeOf(drawn([POST, [140, 120, 90, 12]]), W, H);
  expect(Math.abs(half[126 * W + 200] - 6)).toBeLessThan(1.5);
});

it("two legs are two, and what stands on the ground is as deep as they are", () => {
  const { half, standsDeep, thin } = volumeOf(
    drawn([
      [90, 50, 60, 150],
      [90, 200, 20, 150],
      [130, 200, 20, 150],
    ]),
    W,
    H,
  );
  expect(Math.abs(half[300 * W + 100] - 10)).toBeLessThan(1.5);
  expect(half[300 * W + 120]).toBeLessThan(0);
  expect(Math.abs(standsDeep - 10)).toBeLessThan(1.5);
  expect(thin).toBeLessThan(11);
});

it("elsewhere it says how far off anything is, and never too far", () => {
  const { half } = volumeOf(drawn([POST]), W, H);
  for (const [x, y] of [
    [0, 200],
    [60, 200],
    [97, 200],
    [120, 10],
    [239, 399],
  ]) {
    const [dx, dy] = [Math.max(100 - x, 0, x - 139), Math.max(50 - y, 0, y - 349)];
    expect(-half[y * W + x]).toBeLessThanOrEqual(Math.hypot(dx, dy));
    expect(-half[y * W + x]).toBeGreaterThan(0.8 * Math.hypot(dx, dy) - 6);
  }
});

it("where nothing is nothing has a depth", () => {
  const nothing = new Float32Array(W * H);
  expect(extentOf(nothing, W, H)).toBeNull();
  expect(volumeOf(nothing, W, H)).toMatchObject({ deepest: 0, standsDeep: 0 });
});
