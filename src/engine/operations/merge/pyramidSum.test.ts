/** Weighted Laplacian pyramids summed from rows that pass by, against whole planes; and shares counted from labels. */
import { loadKernels, randomOf } from "../../../../tests/support/kernels";
import { decodeSrgb } from "../../../core/color/srgbCurve";
import { Scope, type Kernels } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { RasterFile } from "../../tiles/RasterStore";
import { MemoryRasterStore } from "../../tiles/MemoryRasterStore";
import { REC709_TO_WORKING } from "../frames/frameSamples";
import { withPyramidSum } from "./PyramidSum";
import { accumulate, allocatePyramid, collapse, reduce } from "./pyramids";
import { shareSize, writeLabelShares, writeShares } from "./shares";

let kernels: Kernels;
beforeAll(async () => (kernels = await loadKernels()));
const random = randomOf(17);
const plane = (n: number) => Float32Array.from({ length: n }, () => random());
const pictureOf = (width: number, height: number) => new MemoryRasterStore().create("p", { width, height, channels: 3, type: "f32", levels: 1 });

/** Green of the sum of whole pyramids, encoded. */
function whole(frames: Float32Array[][], width: number, height: number): number[][] {
  const scope = new Scope(kernels);
  const depth = Math.floor(Math.log2(Math.min(width, height)));
  const sums = [0, 1, 2].map(() => allocatePyramid(scope, width, height, depth));
  for (const [k, planes] of frames.entries()) {
    const [r, g, b, weight] = planes.map((values) => {
      const p = allocatePyramid(scope, width, height, depth);
      kernels.f32(p.at[0], values.length).set(values);
      reduce(kernels, p);
      return p;
    });
    [r, g, b].forEach((channel, c) => accumulate(kernels, channel, weight, sums[c], k === 0));
  }
  for (const sum of sums) collapse(kernels, sum);
  const got = sums.map(({ at }) => [...kernels.f32(at[0], width * height)]);
  scope.release();
  return got;
}

it.each([
  [70, 53, 16, "together"],
  [70, 53, 16, "one after the other"],
  [37, 90, 5, "together"],
  [64, 64, 64, "one after the other"],
  [9, 6, 4, "together"],
  [3, 1, 1, "one after the other"],
])("%i×%i px in portions of %i rows, frames %s, the finest sums held or in the picture", async (width, height, rows, how) => {
  const n = width * height;
  const share = plane(n);
  const frames = [share, share.map((v) => 1 - v)].map((weight) => [plane(n), plane(n), plane(n), weight]);
  const sumInto = async (picture: RasterFile, largestHeld: number) => {
    await withPyramidSum(
      { kernels },
      picture,
      async (sum) => {
        for (const [i, group] of (how === "together" ? [frames] : frames.map((frame) => [frame])).entries()) {
          const scope = new Scope(kernels);
          const bands = sum.frames(scope, group.length, rows, i === 0);
          let finest = 0;
          for (let y0 = 0; y0 < height; y0 += rows) {
            const y1 = Math.min(height, y0 + rows);
            bands.moveTo(y1);
            bands.planes.forEach((planes, k) => {
              planes.forEach((into, c) => into.samples(y0, y1).set(group[k][c].subarray(y0 * width, y1 * width)));
            });
            const { from, to } = bands.push(y1);
            expect(from).toBe(finest);
            finest = to;
          }
          expect(finest).toBe(height);
          scope.release();
        }
        await sum.finish(async () => undefined);
      },
      largestHeld,
    );
  };
  const [picture, passing] = [await pictureOf(width, height), await pictureOf(width, height)];
  await sumInto(picture, n);
  await sumInto(passing, n - 1);
  const wanted = whole(frames, width, height);
  const light = wanted.map((channel) => channel.map((v) => decodeSrgb(Math.max(0, v))));
  for (let c = 0; c < 3; c++) {
    const got = new Float32Array(n);
    picture.read(0, c, 0, 0, width, height, got);
    const other = new Float32Array(n);
    passing.read(0, c, 0, 0, width, height, other);
    expect(other).toEqual(got);
    for (let i = 0; i < n; i++) {
      const working = REC709_TO_WORKING.slice(3 * c, 3 * c + 3).reduce((total, m, k) => total + m * light[k][i], 0);
      expect(Math.abs(got[i] - working)).toBeLessThan(1e-5);
    }
  }
});

it("shares counted from labels are those of the weights that labels stand for; px of nobody count for none", async () => {
  const [width, rows, count, nobody] = [23, 18, 3, 255];
  const label = Uint8Array.from({ length: width * rows }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return x < 9 ? 0 : y < 6 ? nobody : x + y > 24 ? 2 : 1;
  });
  const cells = shareSize(width, rows);
  const open = () => new MemoryRasterStore().create("s", { ...cells, channels: count, type: "u8", levels: 1 });
  const [byLabel, byWeight] = [await open(), await open()];
  writeLabelShares(byLabel, label, width, 0, rows);
  const scope = new Scope(kernels);
  const at = scope.floats(label.length + 16);
  for (let k = 0; k < count; k++) {
    kernels.f32(at, label.length).set(Float32Array.from(label, (v) => (v === k ? 1 : 0)));
    writeShares({ kernels } as EngineContext, byWeight, k, at, width, 0, rows);
  }
  scope.release();
  for (let k = 0; k < count; k++) {
    const [got, wanted] = [new Uint8Array(cells.width * cells.height), new Uint8Array(cells.width * cells.height)];
    byLabel.read(0, k, 0, 0, cells.width, cells.height, got);
    byWeight.read(0, k, 0, 0, cells.width, cells.height, wanted);
    got.forEach((v, i) => expect(Math.abs(v - wanted[i])).toBeLessThanOrEqual(1));
    expect(wanted.some((v) => v > 0)).toBe(true);
  }
});
