import { deflateSync } from "node:zlib";
import { randomOf } from "../../tests/support/kernels";
import { inflateWhole, InflateError } from "./inflate";

const random = randomOf(8);
const DATA = Uint8Array.from({ length: 700_001 }, (_, i) => (i % 1000 < 600 ? 7 : Math.floor(random() * 256)));
const PACKED = new Uint8Array(deflateSync(DATA));

it("gives back what was packed, of any length", () => {
  expect(Buffer.compare(inflateWhole(PACKED, DATA.length), DATA)).toBe(0);
  for (const length of [0, 1, 63, 64, 262_144, 262_145]) {
    const part = DATA.subarray(0, length);
    expect(Buffer.compare(inflateWhole(new Uint8Array(deflateSync(part)), Math.max(1, length)), part)).toBe(0);
  }
});

it("is never more than it may be, however much a little stream holds", () => {
  const bomb = new Uint8Array(deflateSync(new Uint8Array(300e6)));
  expect(bomb.length).toBeLessThan(400_000);
  const before = process.memoryUsage().arrayBuffers;
  expect(() => inflateWhole(bomb, 1_000_000)).toThrow(InflateError);
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(20e6);
});

it("a stream cut anywhere, or with any bit of its data or its checksum turned, is refused", () => {
  for (const length of [0, 1, 2, 100, PACKED.length - 5, PACKED.length - 4, PACKED.length - 1]) {
    expect(() => inflateWhole(PACKED.subarray(0, length), DATA.length)).toThrow(InflateError);
  }
  for (let k = 0; k < 60; k++) {
    const turned = PACKED.slice();
    const at = k < 10 ? PACKED.length - 1 - (k % 4) : 2 + Math.floor(random() * (PACKED.length - 6));
    turned[at] ^= 1 << (k % 8);
    expect(() => inflateWhole(turned, DATA.length)).toThrow(InflateError);
  }
});
