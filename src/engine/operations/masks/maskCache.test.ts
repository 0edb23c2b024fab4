/** Masks without strokes, kept in tiles. */
import type { Kernels } from "../../../kernels/Kernels";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { MaskCache } from "./maskCache";

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
  const cache = new MaskCache({} as Kernels);
  const { made, make } = counted();
  const first = { x: 10, y: 5, width: 100, height: 90 };
  expectRight(cache.still("k", SIZE, first, make), first);
  expect(made).toEqual([{ x: 0, y: 0, width: 128, height: 128 }]);
  const inside = { x: 30, y: 40, width: 90, height: 80 };
  expectRight(cache.still("k", SIZE, inside, make), inside);
  expect(made).toHaveLength(1);
  const aside = { x: 60, y: 100, width: 240, height: 70 };
  expectRight(cache.still("k", SIZE, aside, make), aside);
  expect(made).toHaveLength(2);
  // what is given out may be changed by who asked for it
  cache.still("k", SIZE, first, make).fill(-1);
  expectRight(cache.still("k", SIZE, first, make), first);
  // another mask, or another level of it, is another key
  cache.still("other", SIZE, first, make);
  expect(made).toHaveLength(3);
});
