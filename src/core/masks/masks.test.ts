import fc from "fast-check";
import { findHalos } from "./findHalos";
import { findSpill } from "./findSpill";
import { randomOf } from "../../../tests/support/kernels";
import { blurReach, gaussianBlur } from "../raster/blur";
import { copyShared, cutOut, gridAround, sampleGrid } from "../raster/planeParts";
import { aroundTransition } from "./transition";
import { applyStroke, placeDabs, strokeBounds } from "./placeDabs";

const points = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 0, max: 500 })), { minLength: 1, maxLength: 30 })
  .map((p) => p.flatMap(([x, y]) => [x, y, 1]));

it("dabs are evenly spaced and never move when a stroke grows", () => {
  fc.assert(
    fc.property(points, fc.integer({ min: 4, max: 300 }), (path, diameter) => {
      const whole = placeDabs(path, diameter, 0.08);
      const part = placeDabs(path.slice(0, Math.max(3, path.length - 6)), diameter, 0.08);
      expect(whole.slice(0, part.length)).toEqual(part);
      const bounds = strokeBounds(path, diameter);
      for (let i = 0; i < whole.length; i += 3) {
        expect(whole[i]).toBeGreaterThanOrEqual(bounds.x0);
        expect(whole[i + 1]).toBeLessThanOrEqual(bounds.y1);
      }
    }),
  );
  const line = placeDabs([0, 0, 1, 100, 0, 1], 100, 0.08);
  expect(line.filter((_, i) => i % 3 === 0).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([0, 8, 16, 24, 32, 40, 48, 56, 64, 72, 80, 88, 96]);
});

it("white reveals, black conceals, and opacity is the most a stroke does", () => {
  const mask = Float32Array.from([0, 0.5, 1]);
  applyStroke(mask, Float32Array.from([1, 1, 1]), 0.5, true);
  expect([...mask]).toEqual([0.5, 0.75, 1]);
  applyStroke(mask, Float32Array.from([1, 0, 1]), 1, false);
  expect([...mask]).toEqual([0, 0.75, 0]);
});

describe("halos along the border of a mask", () => {
  const [W, H] = [96, 96];
  const plane = (value: (x: number, y: number) => number) => Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
  /** dark land below y = 49.5, bright sky above, the edge over three samples as a lens draws it; the layer is a frame two EV darker, and its border of `softness` samples runs `off` samples below the edge */
  const scene = (off: number, softness: number) => {
    const rise = (y: number, at: number, over: number) => Math.min(1, Math.max(0, 0.5 - (y - at) / over));
    const below = plane((_, y) => 4 * rise(y, 49.5, 3) - 4);
    const above = below.map((v) => v - 2);
    const mask = plane((_, y) => rise(y, 49.5 + off, softness));
    const joined = below.map((v, i) => v + (above[i] - v) * mask[i]);
    return { width: W, height: H, mask, joined, below, above };
  };

  it("are none where the mask keeps to the edge", () => {
    expect(findHalos(scene(0, 3))).toEqual([]);
  });

  it("are found where it ends beside it, with their strength", () => {
    const [worst] = findHalos(scene(6, 6));
    // land darkened by up to two EV lies between sky and land
    expect(worst.excessEv).toBeLessThan(-0.5);
    expect(worst.excessEv).toBeGreaterThan(-2);
    expect(Math.abs(worst.y - 53)).toBeLessThanOrEqual(4);
    const [bright] = findHalos(scene(-6, 6));
    expect(bright.excessEv).toBeGreaterThan(0.3);
    expect(Math.abs(bright.y - 47)).toBeLessThanOrEqual(4);
  });
});

describe("a mask that runs over an edge", () => {
  const [width, height] = [300, 200];
  const random = randomOf(3);
  // a bright field below a dark sky, with a level horizon at row 100
  const light = Float32Array.from({ length: width * height }, (_, i) => (Math.floor(i / width) < 100 ? -5 : -1) + 0.05 * random());
  const maskTo = (border: (x: number) => number) =>
    Float32Array.from({ length: width * height }, (_, i) => (Math.floor(i / width) >= border(i % width) ? 1 : 0));
  const change = new Float32Array(width * height).fill(1);
  const spilled = (x: number) => (x > 120 && x < 180 ? 92 : 100);

  it("is found at its place with its depth", () => {
    const found = findSpill({ width, height, mask: maskTo(spilled), light, change });
    expect(found.length).toBeGreaterThan(0);
    for (const s of found) {
      expect(s.x).toBeGreaterThan(110);
      expect(s.x).toBeLessThan(190);
      expect(Math.abs(s.depth - 8)).toBeLessThan(2);
    }
  });
  it.each([
    ["keeps to the edge", maskTo(() => 100), change],
    ["follows no edge anywhere", maskTo((x) => 92 - x / 10), change],
    ["stays short of the edge", maskTo((x) => (x > 120 && x < 180 ? 108 : 100)), change],
    ["changes nothing there", maskTo(spilled), new Float32Array(width * height)],
  ])("is not found in one that %s", (_, mask, does) => {
    expect(findSpill({ width, height, mask, light, change: does })).toEqual([]);
  });
});

describe("what looks around itself leaves an even mask as it is", () => {
  const [width, height] = [90, 70];
  const area = { x: 30, y: 20, width, height };
  it("a blur of what surrounds the border is the blur of the whole", () => {
    const mask = Float32Array.from({ length: width * height }, (_, i) => (Math.hypot((i % width) - 40, Math.floor(i / width) - 30) < 9 ? 1 : 0));
    const whole = gaussianBlur({ width, height, data: mask }, 3);
    const { changed, needed } = aroundTransition(mask, area, blurReach(3))!;
    const part = gaussianBlur({ width: needed.width, height: needed.height, data: cutOut(mask, area, needed) }, 3);
    const out = mask.slice();
    copyShared(out, area, cutOut(part, needed, changed), changed);
    whole.forEach((v, i) => expect(out[i]).toBeCloseTo(v, 6));
    expect(changed.width).toBeLessThan(width / 2);
  });
  it("an even one has no border", () => {
    expect(aroundTransition(new Float32Array(width * height).fill(0.4), area, 9)).toBeNull();
  });
});

it("a part of a coarse grid is enough for a rectangle, to the last bit", () => {
  const [width, height] = [23, 17];
  const grid = Float32Array.from({ length: width * height }, (_, i) => Math.sin(i * i));
  for (const step of [0.3, 0.5, 1, 2.7]) {
    for (const rect of [
      { x: 0, y: 0, width: 9, height: 5 },
      { x: 7, y: 3, width: 6, height: 4 },
      { x: 30, y: 40, width: 50, height: 9 },
    ]) {
      const held = gridAround({ width, height }, step, rect);
      const part = Float32Array.from(
        { length: held.width * held.height },
        (_, i) => grid[(held.y + Math.floor(i / held.width)) * width + held.x + (i % held.width)],
      );
      expect(sampleGrid(part, width, height, step, rect, held)).toEqual(sampleGrid(grid, width, height, step, rect));
    }
  }
});

it("a grid is linear between its middles, and level beyond them", () => {
  // 4 px a cell: the middle of cell k lies at 4k + 1.5
  const got = sampleGrid([0, 1, 1], 3, 1, 0.25, { x: 0, y: 0, width: 12, height: 1 });
  expect([got[0], got[1], got[11]]).toEqual([0, 0, 1]);
  expect([got[2], got[3], got[4], got[5]]).toEqual([0.125, 0.375, 0.625, 0.875]);
});
