import { randomOf } from "../../../tests/support/kernels";
import type { Plane } from "../raster/raster";
import { gaussianBlur } from "../raster/blur";
import { cellsOfPlace, coveredShares, findPlace, lookAtPlace, partOf, PLACE_MARGIN } from "./rankPlace";

const SIDE = 240;
const CELL = 5;
const random = randomOf(3);
/** Blots of several sizes, as a scene has them. */
const SCENE: Plane = (() => {
  const size = SIDE + 100;
  const data = new Float32Array(size * size).fill(0.2);
  for (let k = 0; k < 900; k++) {
    const [cx, cy, r, v] = [random() * size, random() * size, 2 + 14 * random(), 0.1 * (2 * random() - 1)];
    const [x, y] = [cx, cy];
    for (let b = Math.max(0, Math.floor(y - r)); b < Math.min(size, y + r); b++)
      for (let a = Math.max(0, Math.floor(x - r)); a < Math.min(size, x + r); a++)
        if (Math.hypot(a - x, b - y) < r) data[b * size + a] = Math.max(0.02, data[b * size + a] + v);
  }
  return { width: size, height: size, data };
})();
const place = (dx = 0, dy = 0, of: (v: number, x: number, y: number) => number = (v) => v): Plane => {
  const part = partOf(SCENE, { x: 50 + dx, y: 50 + dy, width: SIDE, height: SIDE });
  return { ...part, data: part.data.map((v, i) => of(v, i % SIDE, Math.floor(i / SIDE))) };
};
const look = (f: Plane, sigma = 0) => lookAtPlace(f, sigma, cellsOfPlace(f, CELL));

it("light is told in stops, and what is clipped as a share", () => {
  const [dark, bright] = [look(place()), look(place(0, 0, (v) => v * 2))];
  expect(bright.lightEv - dark.lightEv).toBeCloseTo(1, 5);
  expect(look(place(0, 0, (v, x) => (x < 60 ? 1 : v))).clipped).toBeCloseTo(0.25, 5);
});

it("sharpness falls with blur, not with exposure, and noise does not pass for it", () => {
  const sharp = place();
  const blurred = [1, 2, 4].map((s) => look({ ...sharp, data: gaussianBlur(sharp, s) }).sharpness);
  const own = look(sharp).sharpness;
  expect([own, ...blurred]).toEqual([own, ...blurred].sort((a, b) => b - a));
  // encoded light is nearly a power of light, whose ratios no exposure changes
  expect(look(place(0, 0, (v) => v * 0.5)).sharpness / own).toBeGreaterThan(0.8);
  const noisy = { ...sharp, data: gaussianBlur(sharp, 3).map((v) => v + 0.01 * random()) };
  const flat: Plane = { width: SIDE, height: SIDE, data: new Float32Array(SIDE * SIDE).fill(0.2).map((v) => v + 0.01 * random()) };
  // the generator is even over 0..1: its deviation is 1/√12; encoded light rises by 1.1 times light there (derivative of the sRGB curve at 0.205)
  const sigma = (0.01 / Math.sqrt(12)) * 1.1;
  // a quarter of the blocks of 64 px have a sixth more energy of noise than its mean, of which the root is 0.4
  expect(look(flat, sigma).sharpness).toBeLessThan(0.45 * look(flat).sharpness);
  expect(look(noisy, sigma).sharpness).toBeLessThan(own);
});

it("still water is told from waves of any light", () => {
  const waves = (size: number) => place(0, 0, (_, x, y) => 0.2 * (1 + size * Math.sin(x / 4) * Math.cos(y / 5)));
  expect(look(waves(0.05)).ripple).toBeLessThan(look(waves(0.3)).ripple);
  const darker = look({ ...waves(0.3), data: waves(0.3).data.map((v) => v / 8) }).ripple;
  expect(Math.abs(darker / look(waves(0.3)).ripple - 1)).toBeLessThan(0.05);
});

it.each([
  [0, 0],
  [35, -20],
  [-45, 50],
])("a place is found again where a frame is shifted by %s, %s px, at any exposure", (dx, dy) => {
  const wanted = cellsOfPlace(place(), CELL);
  const reach = PLACE_MARGIN * CELL;
  // what lies at x in the scene lies at x − dx in the frame
  const whole = (x: number, y: number) => SCENE.data[Math.min(SCENE.height - 1, Math.max(0, y)) * SCENE.width + Math.min(SCENE.width - 1, Math.max(0, x))];
  const side = SIDE + 2 * reach;
  const data = Float32Array.from({ length: side * side }, (_, i) => 0.4 * whole(50 - reach + (i % side) + dx, 50 - reach + Math.floor(i / side) + dy));
  const found = findPlace(wanted, cellsOfPlace({ width: side, height: side, data }, CELL));
  expect(found).toEqual({ x: PLACE_MARGIN - dx / CELL, y: PLACE_MARGIN - dy / CELL });
});

it("a place that is not there is not found", () => {
  const other = Float32Array.from({ length: 340 * 340 }, () => 0.2 + 0.1 * random());
  expect(findPlace(cellsOfPlace(place(), CELL), cellsOfPlace({ width: 340, height: 340, data: other }, CELL))).toBeNull();
});

it("who stands in the way is found, whatever the light does and whoever stands in other frames", () => {
  const somebody = (cx: number, cy: number) => (v: number, x: number, y: number) => (Math.hypot(x - cx, y - cy) < 30 ? 0.02 : v);
  const frames = [place(), place(0, 0, (v) => v * 1.7), place(0, 0, somebody(60, 60)), place(0, 0, (v) => v * 0.4), place(0, 0, somebody(180, 100)), place()];
  const shares = coveredShares(frames.map((f) => cellsOfPlace(f, CELL)));
  const disc = (Math.PI * 30 ** 2) / SIDE ** 2;
  for (const [k, share] of shares.entries()) {
    if (k === 2 || k === 4) expect(Math.abs(share - disc)).toBeLessThan(0.3 * disc);
    else expect(share).toBeLessThan(0.005);
  }
  expect(coveredShares(frames.slice(0, 2).map((f) => cellsOfPlace(f, CELL)))).toEqual([0, 0]);
});
