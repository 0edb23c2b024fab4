/** Masks without strokes, kept in tiles. */
import type { Rectangle } from "../../../core/geometry/rectangle";
import { DerivedCache } from "../../graph/DerivedCache";
import { stillMask } from "./stillMask";

const SIZE = { width: 300, height: 170 };
const value = (x: number, y: number) => x + 1000 * y;
function counted() {
  const made: Rectangle[] = [];
  const make = (r: Rectangle) => {
    made.push(r);
    return Float32Array.from({ length: r.width * r.height }, (_, i) => value(r.x + (i % r.width), r.y + Math.floor(i / r.width)));
  };
  return { made, make };
}
const expectRight = (got: Float32Array, r: Rectangle) =>
  expect(got.every((v, i) => v === value(r.x + (i % r.width), r.y + Math.floor(i / r.width)))).toBe(true);

it("a rectangle a little aside costs only what was not looked at before, up to the border of the level", () => {
  const cache = new DerivedCache();
  const { made, make } = counted();
  const first = { x: 10, y: 5, width: 100, height: 90 };
  expectRight(stillMask(cache, "k", SIZE, first, make), first);
  expect(made).toEqual([{ x: 0, y: 0, width: 128, height: 128 }]);
  const inside = { x: 30, y: 40, width: 90, height: 80 };
  expectRight(stillMask(cache, "k", SIZE, inside, make), inside);
  expect(made).toHaveLength(1);
  const aside = { x: 60, y: 100, width: 240, height: 70 };
  expectRight(stillMask(cache, "k", SIZE, aside, make), aside);
  expect(made).toHaveLength(2);
  // what is given out may be changed by who asked for it
  stillMask(cache, "k", SIZE, first, make).fill(-1);
  expectRight(stillMask(cache, "k", SIZE, first, make), first);
  // another mask, or another level of it, is another key
  stillMask(cache, "other", SIZE, first, make);
  expect(made).toHaveLength(3);
});
