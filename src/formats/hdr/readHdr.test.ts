import { sentence } from "../../messages/sentence";
import { refusal } from "../../../tests/support/refusal";
import { randomOf } from "../../../tests/support/kernels";
import { REC2020, REC709, rgbToRgb, rgbToXyz, WORKING_TO_XYZ } from "../../core/color/primaries";
import { invert, multiply, transform } from "../../core/geometry/matrix3";
import { asciiBytes, concatBytes } from "../bytes";
import { FormatError } from "../formatError";
import { HdrWriter } from "./HdrWriter";
import { hdrColor, readHdr, readHdrHeader } from "./readHdr";

const [W, H] = [37, 20];
const random = randomOf(3);
const LIGHT = Float32Array.from({ length: W * H * 3 }, (_, i) => (Math.floor(i / 3) % W < 20 ? 0.5 : random() * 2 ** (8 * random() - 4)));

function written(): Uint8Array {
  const writer = new HdrWriter(W, H);
  writer.writeRows(LIGHT);
  return concatBytes(writer.finish());
}

const file = (lines: string[], size: string, pixels: ArrayLike<number>) =>
  concatBytes([asciiBytes(`#?RADIANCE\n${lines.join("\n")}\n\n${size}\n`), Uint8Array.from(pixels as number[])]);
const PLAIN = ["FORMAT=32-bit_rle_rgbe"];
/** 16 × 16 pixels, each its own, stored one after the other. */
const FLAT = Array.from({ length: 256 }, (_, i) => [i, 255 - i, 128, 129]).flat();

it("gives back what was written, to half a step of the largest channel, neither brighter nor darker", () => {
  const { raster, notes } = readHdr(written());
  expect([raster.width, raster.height, raster.bits, notes.length]).toEqual([W, H, 32, 0]);
  let sum = 0;
  for (let p = 0; p < LIGHT.length; p += 3) {
    const most = Math.max(LIGHT[p], LIGHT[p + 1], LIGHT[p + 2]);
    // eight bits for the largest channel, which is at least half of full
    for (let c = 0; c < 3; c++) expect(Math.abs(raster.data[p + c] - LIGHT[p + c])).toBeLessThanOrEqual(most / 255);
    sum += (raster.data[p] - LIGHT[p]) / most;
  }
  expect(Math.abs(sum / (W * H))).toBeLessThan(1e-3);
});

it("a mantissa of m and an exponent of e is m · 2^(e − 136), as the format says", () => {
  const { raster } = readHdr(file(PLAIN, "-Y 16 +X 16", FLAT));
  expect([...raster.data.subarray(0, 6)]).toEqual([0, 255 / 128, 1, 1 / 128, 254 / 128, 1].map(Math.fround));
});

it("old runs repeat the pixel before, and a run right after a run counts 256 times as much", () => {
  const row = (n: number) => [9, 8, 7, 128, 1, 1, 1, n & 255, ...(n > 255 ? [1, 1, 1, n >> 8] : [])];
  const width = 600;
  const pixels = Array.from({ length: 16 }, () => row(width - 1)).flat();
  const { raster } = readHdr(file(PLAIN, `-Y 16 +X ${width}`, pixels));
  expect(raster.data.every((v, i) => v === (9 - (i % 3)) / 256)).toBe(true);
  // 256 of them: a low digit of nought
  const even = Array.from({ length: 16 }, () => row(256)).flat();
  expect(readHdr(file(PLAIN, "-Y 16 +X 257", even)).raster.data.every((v, i) => v === (9 - (i % 3)) / 256)).toBe(true);
});

it("rows and columns in any direction are the same picture", () => {
  const at = (x: number, y: number) => FLAT.slice(4 * (y * 16 + x), 4 * (y * 16 + x) + 4);
  const ways: [string, (line: number, sample: number) => [number, number]][] = [
    ["-Y 16 +X 16", (l, s) => [s, l]],
    ["+Y 16 +X 16", (l, s) => [s, 15 - l]],
    ["-Y 16 -X 16", (l, s) => [15 - s, l]],
    ["+Y 16 -X 16", (l, s) => [15 - s, 15 - l]],
    ["+X 16 -Y 16", (l, s) => [l, s]],
    ["-X 16 -Y 16", (l, s) => [15 - l, s]],
    ["+X 16 +Y 16", (l, s) => [l, 15 - s]],
    ["-X 16 +Y 16", (l, s) => [15 - l, 15 - s]],
  ];
  const wanted = readHdr(file(PLAIN, "-Y 16 +X 16", FLAT)).raster;
  for (const [size, place] of ways) {
    const pixels = Array.from({ length: 256 }, (_, i) => at(...place(i >> 4, i & 15))).flat();
    expect(readHdr(file(PLAIN, size, pixels)).raster).toEqual(wanted);
  }
});

it("exposures and colour corrections multiply up, are taken off, and said", () => {
  const { raster, notes } = readHdr(file([...PLAIN, "EXPOSURE= 4", "EXPOSURE=0.5"], "-Y 16 +X 16", FLAT));
  expect(raster.data[2]).toBeCloseTo(0.5, 6);
  expect(notes.map(sentence)).toEqual(["The file notes an exposure of 2; it is taken off, so that light is as it was measured."]);
  const corrected = readHdr(file([...PLAIN, "COLORCORR=1 2 4"], "-Y 16 +X 16", FLAT));
  expect([corrected.raster.data[1] * 2, corrected.raster.data[2] * 4]).toEqual([255 / 128, 1].map(Math.fround));
});

it("XYZ is taken as XYZ, primaries of its own as they are", () => {
  const xyze = hdrColor(readHdrHeader(file(["FORMAT=32-bit_rle_xyze"], "-Y 16 +X 16", FLAT)));
  expect(transform(multiply(WORKING_TO_XYZ, xyze.toWorking), [0.3, 0.4, 0.5])).toEqual([0.3, 0.4, 0.5].map((v) => expect.closeTo(v, 6)));
  const plain = hdrColor(readHdrHeader(file(PLAIN, "-Y 16 +X 16", FLAT)));
  expect(plain.name).toBe("linear Rec. 709");
  rgbToRgb(REC709, REC2020).forEach((v, i) => expect(plain.toWorking[i]).toBeCloseTo(v, 6));
  const wide = hdrColor(readHdrHeader(file([...PLAIN, "PRIMARIES=0.708 0.292 0.170 0.797 0.131 0.046 0.3127 0.3290"], "-Y 16 +X 16", FLAT)));
  [1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((v, i) => expect(wide.toWorking[i]).toBeCloseTo(v, 6));
  expect(invert(rgbToXyz(REC2020))).toHaveLength(9);
});

it("cut anywhere it is refused with one sentence, and nothing is made of what is missing", () => {
  const whole = written();
  for (let length = 0; length < whole.length; length += length < 200 ? 1 : 7) {
    const cut = () => readHdr(whole.subarray(0, length));
    expect(cut).toThrow(FormatError);
    expect(cut).toThrow(/^hdr.damaged/);
  }
});

it("a little file that states a large picture is refused before room is made for it", () => {
  const before = process.memoryUsage().arrayBuffers;
  expect(() => readHdr(file(PLAIN, "-Y 4000 +X 30000", new Array(24_000).fill(7)))).toThrow(/hdr.damaged/);
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(50e6);
  expect(() => readHdr(file(PLAIN, "-Y 40000 +X 40000", FLAT))).toThrow(/file.pictureTooLarge/);
});

it.each([
  ["another format of pixels", file(["FORMAT=32-bit_rle_wave"], "-Y 16 +X 16", FLAT), /does not read/],
  ["no size", file(PLAIN, "16 by 16", FLAT), /its size is not stated/],
  ["one axis twice", file(PLAIN, "-Y 16 +Y 16", FLAT), /its size is not stated/],
  ["a run beyond its row", file(PLAIN, "-Y 16 +X 16", [2, 2, 0, 16, 255, 1]), /a run is longer than its row/],
  ["a row of another length", file(PLAIN, "-Y 16 +X 16", [2, 2, 0, 17, ...FLAT]), /another length/],
])("%s is refused", (_, bytes, sentence) => {
  expect(refusal(() => readHdr(bytes))).toMatch(sentence);
});
