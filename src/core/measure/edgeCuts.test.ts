import { findEdgeCuts, type SideBand } from "./edgeCuts";

const [LENGTH, DEPTH] = [200, 12];
const noise = (i: number) => 0.2 * Math.sin(i * 12.9898) * Math.cos(i * 78.233);
const band = (at: (x: number, y: number) => number): SideBand => ({
  light: Float32Array.from({ length: LENGTH * DEPTH }, (_, i) => at(i % LENGTH, Math.floor(i / LENGTH)) + noise(i)),
  length: LENGTH,
  depth: DEPTH,
});
const within = (x: number, from: number, to: number) => x >= from && x < to;

it("a window and a dark post that a side cuts are told with their places, the most conspicuous first", () => {
  const cuts = findEdgeCuts(band((x) => -3 + (within(x, 40, 70) ? 3 : 0) - (within(x, 150, 158) ? 4 : 0)));
  expect(cuts).toHaveLength(2);
  expect(cuts[0].ev).toBeCloseTo(3, 0);
  expect([cuts[0].from, cuts[0].to]).toEqual([40, 70]);
  expect(cuts[1].ev).toBeCloseTo(-4, 0);
  expect([cuts[1].from, cuts[1].to]).toEqual([150, 158]);
});

it("a window that takes two fifths of a side is told too", () => {
  const [window] = findEdgeCuts(band((x) => (within(x, 60, 138) ? 0 : -3)));
  expect([window.from, window.to]).toEqual([60, 138]);
});

it.each([
  ["an even side", () => -2],
  ["a gradient", (x: number) => -6 + x / 30],
  ["a horizon", (x: number) => (x < 120 ? 0 : -5)],
  ["a glow without an outline", (x: number) => -4 + 3 * Math.exp(-(((x - 100) / 22) ** 2))],
  ["grass that is darker and lighter throughout", (x: number) => (Math.floor(x / 4) % 2 ? -2 : -4)],
  ["what fills a corner", (x: number) => (x < 30 ? 1 : -3)],
  ["what ends before it is cut", (x: number, y: number) => (within(x, 40, 60) && y > 4 ? 1 : -3)],
  ["a speck on the side itself", (x: number, y: number) => (within(x, 40, 60) && y < 2 ? 1 : -3)],
])("%s is nothing that is cut", (_, at) => {
  expect(findEdgeCuts(band(at as (x: number, y: number) => number))).toEqual([]);
});

it("a side of which little is known tells nothing, and gaps in one that is known do not count", () => {
  const window = (x: number) => -3 + (within(x, 40, 70) ? 3 : 0);
  expect(findEdgeCuts(band((x) => (x < 120 ? NaN : window(x))))).toEqual([]);
  expect(findEdgeCuts(band((x) => (within(x, 100, 120) ? NaN : window(x))))).toHaveLength(1);
  // and a thing of which nothing is known further in
  expect(findEdgeCuts(band((x, y) => (within(x, 40, 70) && y > 4 ? NaN : window(x))))).toEqual([]);
});
