/** Rasters in tiles: any rectangle comes back as it was written, whatever rows it was written in. */
import fc from "fast-check";
import { MemoryRasterStore } from "./MemoryRasterStore";
import { sizeAtLevel } from "../../core/geometry/rectangle";
import type { SampleType } from "./RasterStore";
import { allocateSamples } from "./RasterStore";

it("gives back any rectangle of any level, into shared memory too", async () => {
  const store = new MemoryRasterStore();
  const side = fc.integer({ min: 1, max: 560 });
  const part = fc.record({ x: fc.nat(999), y: fc.nat(999), w: fc.nat(999), h: fc.nat(999), level: fc.nat(1), channel: fc.nat(1) });
  await fc.assert(
    fc.asyncProperty(
      side,
      side,
      fc.constantFrom<SampleType>("u8", "u16", "f32"),
      fc.integer({ min: 1, max: 300 }),
      fc.array(part, { minLength: 3, maxLength: 6 }),
      async (width, height, type, strip, parts) => {
        const spec = { width, height, channels: 2, type, levels: 2 };
        const file = await store.create("k", spec);
        const value = (level: number, c: number, x: number, y: number) => (x * 7 + y * 13 + c * 31 + level * 5) % 251;
        for (let level = 0; level < 2; level++) {
          const size = sizeAtLevel(spec.width, spec.height, level);
          for (let c = 0; c < 2; c++) {
            for (let y = 0; y < size.height; y += strip) {
              const rows = Math.min(strip, size.height - y);
              file.write(
                level,
                c,
                y,
                allocateSamples(type, rows * size.width).map((_, i) => value(level, c, i % size.width, y + Math.floor(i / size.width))) as never,
              );
            }
          }
        }
        for (const { level, channel, ...r } of parts) {
          const size = sizeAtLevel(spec.width, spec.height, level);
          const [x, y] = [r.x % size.width, r.y % size.height];
          const [w, h] = [1 + (r.w % (size.width - x)), 1 + (r.h % (size.height - y))];
          const bytes = { u8: 1, u16: 2, f32: 4 }[type];
          const shared = new SharedArrayBuffer(w * h * bytes + 64);
          const out =
            type === "u8" ? new Uint8Array(shared, 16, w * h) : type === "u16" ? new Uint16Array(shared, 16, w * h) : new Float32Array(shared, 16, w * h);
          file.read(level, channel, x, y, w, h, out);
          for (let i = 0; i < w * h; i++)
            if (out[i] !== value(level, channel, x + (i % w), y + Math.floor(i / w))) throw new Error(`wrong at ${x + (i % w)}, ${y + Math.floor(i / w)}`);
        }
      },
    ),
    { numRuns: 25 },
  );
});

it("refuses a rectangle that does not lie inside", async () => {
  const file = await new MemoryRasterStore().create("k", { width: 10, height: 10, channels: 1, type: "u8", levels: 1 });
  expect(() => file.read(0, 0, 5, 5, 6, 1, new Uint8Array(6))).toThrow(/lies outside/);
  expect(() => file.read(1, 0, 0, 0, 5, 5, new Uint8Array(25))).toThrow(/of 1 levels/);
});
