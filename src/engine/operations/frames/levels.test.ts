/** Display levels: means of 2×2, a last row or column that is alone counted twice; picked samples stay whole. */
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { loadKernels, randomOf } from "../../../../tests/support/kernels";
import type { Kernels } from "../../../kernels/Kernels";
import { MemoryRasterStore } from "../../tiles/MemoryRasterStore";
import { allocateSamples, type RasterFile, type SampleType } from "../../tiles/RasterStore";
import { buildLevels, levelCount, writeHalved } from "./levels";

let kernels: Kernels;
beforeAll(async () => (kernels = await loadKernels()));
const random = randomOf(5);
const [W, H] = [531, 303];
const open = (type: SampleType, channels = 1) => new MemoryRasterStore().create("l", { width: W, height: H, channels, type, levels: levelCount(W, H) });
const readAll = (file: RasterFile, level: number) => {
  const { width, height } = sizeAtLevel(file.spec.width, file.spec.height, level);
  const out = allocateSamples(file.spec.type, width * height);
  file.read(level, 0, 0, 0, width, height, out);
  return { width, height, out };
};

it.each(["u8", "u16", "f32"] as const)("levels of %s rasters", async (type) => {
  const top = type === "u8" ? 255 : type === "u16" ? 65535 : 1;
  const file = await open(type);
  const plane = allocateSamples(type, W * H);
  for (let i = 0; i < plane.length; i++) plane[i] = type === "f32" ? random() : Math.floor(random() * (top + 1));
  file.write(0, 0, 0, plane);
  buildLevels(kernels, file);
  expect(file.spec.levels).toBeGreaterThan(2);
  for (let level = 1; level < file.spec.levels; level++) {
    const [fine, coarse] = [readAll(file, level - 1), readAll(file, level)];
    let worst = 0;
    for (let y = 0; y < coarse.height; y++) {
      for (let x = 0; x < coarse.width; x++) {
        const at = (u: number, v: number) => fine.out[Math.min(fine.height - 1, v) * fine.width + Math.min(fine.width - 1, u)];
        const mean = (at(2 * x, 2 * y) + at(2 * x + 1, 2 * y) + at(2 * x, 2 * y + 1) + at(2 * x + 1, 2 * y + 1)) / 4;
        worst = Math.max(worst, Math.abs(coarse.out[y * coarse.width + x] - mean));
      }
    }
    // integers are rounded
    expect(worst).toBeLessThanOrEqual(type === "f32" ? 1e-6 : 0.5);
  }
});

it("an index keeps its values: levels pick the upper left sample", async () => {
  const file = await open("u8");
  const plane = Uint8Array.from({ length: W * H }, () => Math.floor(random() * 4) * 80);
  file.write(0, 0, 0, plane);
  buildLevels(kernels, file, true);
  const half = readAll(file, 1);
  expect(half.out).toEqual(half.out.map((_, i) => plane[2 * Math.floor(i / half.width) * W + 2 * (i % half.width)]));
});

it("rows written with their half give the levels that are built afterwards", async () => {
  const [whole, strips] = [await open("f32"), await open("f32")];
  const plane = Float32Array.from({ length: W * H }, () => random());
  whole.write(0, 0, 0, plane);
  buildLevels(kernels, whole);
  for (let y0 = 0; y0 < H; y0 += 32) {
    const rows = Math.min(32, H - y0);
    kernels.withScope((scope) => {
      const at = scope.floats(W * rows + 16);
      kernels.f32(at, W * rows).set(plane.subarray(y0 * W, (y0 + rows) * W));
      writeHalved(kernels, strips, 0, y0, rows, at);
    });
  }
  buildLevels(kernels, strips, false, 2);
  for (let level = 0; level < whole.spec.levels; level++) expect(readAll(strips, level).out).toEqual(readAll(whole, level).out);
});
