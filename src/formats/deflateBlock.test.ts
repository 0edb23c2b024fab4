/** Blocks made apart are one stream, read back by Node's zlib, which this project did not make. */
import { inflateRawSync, inflateSync } from "node:zlib";
import { randomOf } from "../../tests/support/kernels";
import { concatBytes } from "./bytes";
import { adler32, deflateBlock, ZLIB_HEADER, zlibOf, zlibTrailer } from "./deflateBlock";

const random = randomOf(5);
const bytesOf = (n: number) => Uint8Array.from({ length: n }, (_, i) => (i % 900 < 300 ? 7 : random() * 256));

it.each([
  [1, 1, 1],
  [0, 10, 0],
  [1000, 70_000, 3],
  [400_000, 400_000, 33_000],
])("blocks of %i, %i and %i bytes", (...sizes) => {
  const blocks = sizes.map(bytesOf);
  const all = concatBytes(blocks);
  const packed = concatBytes(blocks.map((b, i) => deflateBlock(b, i === blocks.length - 1, 3)));
  expect(Buffer.compare(inflateRawSync(packed), Buffer.from(all))).toBe(0);
  const adler = blocks.reduce((sum, b) => adler32(b, sum), 1);
  expect(Buffer.compare(inflateSync(concatBytes([ZLIB_HEADER, packed, zlibTrailer(adler)])), Buffer.from(all))).toBe(0);
  expect(Buffer.compare(inflateSync(zlibOf(all, 3)), Buffer.from(all))).toBe(0);
});

it("Adler-32 of a published value", () => {
  // "Wikipedia" → 11E60398, as given in the article on Adler-32; recalled from memory
  expect(adler32(new TextEncoder().encode("Wikipedia")).toString(16)).toBe("11e60398");
});
