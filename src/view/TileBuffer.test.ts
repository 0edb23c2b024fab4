/** What the screen holds of a view, on a canvas (@napi-rs/canvas): sharp pieces as they come, coarser ones in their place and soft, nothing under what is see-through. */
import { createCanvas, ImageData as Pixels, type Canvas } from "@napi-rs/canvas";
import type { RenderedView } from "../engine/operations/view/renderView";
import { TileBuffer } from "./TileBuffer";

beforeAll(() => {
  const makeCanvas = function (width: number, height: number) {
    return createCanvas(width, height);
  };
  const makePixels = function (rgba: Uint8ClampedArray, width: number, height: number) {
    return new Pixels(rgba, width, height);
  };
  Object.assign(globalThis, { OffscreenCanvas: makeCanvas, ImageData: makePixels });
});

type Color = [number, number, number, number];
const [GREY, RED, BLUE, NOTHING]: Color[] = [
  [100, 100, 100, 255],
  [200, 0, 0, 255],
  [0, 0, 200, 255],
  [0, 0, 0, 0],
];
const piece = (x: number, y: number, width: number, height: number, level: number, colorAt: (x: number) => Color): RenderedView["pieces"][number] => {
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) rgba.set(colorAt(i % width), i * 4);
  return { rect: { x, y, width, height }, level, rgba };
};
const rendered = (rect: RenderedView["rect"], keys: string[], pieces: RenderedView["pieces"]): RenderedView => ({
  rect,
  level: 1,
  keys,
  pieces,
  isExact: true,
  tookMs: 0,
});
const colorIn = (buffer: TileBuffer, x: number, y: number) => [...(buffer.canvas as unknown as Canvas).getContext("2d").getImageData(x, y, 1, 1).data];

const PLACE = { x: 64, y: 0, width: 128, height: 64 };
const first = () => TileBuffer.of(rendered(PLACE, ["a", "b"], [piece(64, 0, 128, 64, 1, () => GREY)]), null, "srgb");

it("pieces of the level lie where they belong, whatever was there; the rest stays", () => {
  const before = first();
  const after = TileBuffer.of(rendered(PLACE, ["a", "c"], [piece(128, 0, 64, 64, 1, () => RED)]), before, "srgb");
  expect(after.canvas).toBe(before.canvas);
  expect([colorIn(after, 63, 10), colorIn(after, 64, 10), colorIn(after, 127, 63)]).toEqual([GREY, RED, RED]);
});

it("coarser pieces fill their place exactly, soft within it, and leave what is sharp beside it", () => {
  // an eighth as wide: level 4 shown at level 1
  const coarse = piece(16, 0, 8, 8, 4, (x) => (x < 4 ? RED : BLUE));
  const after = TileBuffer.of(rendered(PLACE, ["a", "c~"], [coarse]), first(), "srgb");
  expect([colorIn(after, 63, 30), colorIn(after, 64, 30), colorIn(after, 127, 30)]).toEqual([GREY, RED, BLUE]);
  // from one colour to the other over a sample of that level, not at once
  const [r, , b] = colorIn(after, 96, 30);
  expect(Math.min(r, b)).toBeGreaterThan(60);
  expect([colorIn(after, 88, 30), colorIn(after, 104, 30)]).toEqual([RED, BLUE]);
});

it("where a coarser piece is see-through nothing of before is left", () => {
  const after = TileBuffer.of(rendered(PLACE, ["a", "c~"], [piece(16, 0, 8, 8, 4, () => NOTHING)]), first(), "srgb");
  expect([colorIn(after, 63, 5), colorIn(after, 70, 5)]).toEqual([GREY, NOTHING]);
});

it("a picture that is kept is not drawn into", () => {
  const before = first();
  before.frozen = true;
  const after = TileBuffer.of(rendered(PLACE, ["a", "c"], [piece(128, 0, 64, 64, 1, () => RED)]), before, "srgb");
  expect([colorIn(before, 100, 10), colorIn(after, 100, 10), colorIn(after, 10, 10)]).toEqual([GREY, RED, GREY]);
});
