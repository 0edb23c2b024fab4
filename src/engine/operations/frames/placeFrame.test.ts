import { toFrame } from "../../../core/geometry/lens";
import { createNodeEngine } from "../../../cli/createNodeEngine";
import { SILENT } from "../../task";
import { MemoryRasterStore } from "../../tiles/MemoryRasterStore";
import { allocateSamples, type Samples } from "../../tiles/RasterStore";
import { channelMaps, openPlaced } from "./placeFrame";
import { storePlanes } from "./sources";

it("a colour that is larger is sampled by that share farther from the middle of the frame as shot, whatever lens and place", () => {
  const size = { width: 600, height: 400 };
  const lens = { k1: -0.12, k2: 0.03 };
  const outputToSource = [1.01, 0.02, -4, -0.015, 0.99, 3, 1e-6, -2e-6, 1];
  const lateral = { red: 2e-3, blue: -1e-3 };
  const maps = channelMaps(outputToSource, lens, lateral, size);
  for (const [x, y] of [
    [0, 0],
    [599, 399],
    [120, 310],
  ]) {
    const [u, v] = toFrame(outputToSource, lens, size, x, y);
    [lateral.red, 0, lateral.blue].forEach((larger, c) => {
      const got = toFrame(maps[c].outputToSource, maps[c].lens, size, x, y);
      expect(got[0]).toBeCloseTo(299.5 + (u - 299.5) * (1 + larger), 9);
      expect(got[1]).toBeCloseTo(199.5 + (v - 199.5) * (1 + larger), 9);
    });
  }
});

it.each(["u8", "u16", "f32"] as const)("a frame of %s samples put aside by whole px shows the same samples there, in every strip", async (type) => {
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const [width, height] = [301, 420];
  const top = type === "u8" ? 256 : type === "u16" ? 65536 : 1;
  const planes = [0, 1, 2].map((c) => allocateSamples(type, width * height).map((_, i) => ((((i * 7919 + c * 104729) % 65521) / 65521) * top) as never));
  await storePlanes(node.ctx, "s", { width, height, type, alpha: null, planes: planes as Samples[] });
  const file = await openPlaced(node.ctx, { pictureId: "s", matrix: [1, 0, 5, 0, 1, 3, 0, 0, 1], lens: null, width, height }, SILENT);
  const out = allocateSamples(file.spec.type, width * height);
  const scale = type === "u8" ? 257 : 1;
  for (let c = 0; c < 3; c++) {
    file.read(0, c, 0, 0, width, height, out);
    for (const [x, y] of [
      [9, 9],
      [300, 419],
      [150, 191],
      [150, 193],
      [20, 400],
    ])
      expect(out[y * width + x]).toBeCloseTo(planes[c][(y - 3) * width + x - 5] * scale, type === "f32" ? 6 : 9);
  }
});

it.each(["u8", "u16", "f32"] as const)(
  "beside hard edges a frame of %s samples does not ring: dark px stay as dark as they were, and none looks clipped that is not",
  async (type) => {
    const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
    const [width, height] = [96, 80];
    const top = type === "u8" ? 255 : type === "u16" ? 65535 : 1;
    // panes of a window, and shapes just below clipping, on dark ground
    const [dark, bright, grey] = [0.05, 1, 0.93].map((v) => (type === "f32" ? v : Math.round(v * top)));
    const shown = (i: number) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      if ((x >> 3) % 3 === 1 && (y >> 3) % 3 === 1) return bright;
      return y > 60 && (x >> 2) % 2 ? grey : dark;
    };
    const plane = allocateSamples(type, width * height).map((_, i) => shown(i) as never) as Samples;
    await storePlanes(node.ctx, "s", { width, height, type, alpha: null, planes: [plane, plane, plane] });
    const [dx, dy] = [0.45, 0.3];
    const file = await openPlaced(node.ctx, { pictureId: "s", matrix: [1, 0, dx, 0, 1, dy, 0, 0, 1], lens: null, width, height }, SILENT);
    const out = allocateSamples(file.spec.type, width * height);
    file.read(0, 1, 0, 0, width, height, out);
    const scale = type === "u8" ? 257 : 1;
    // in linear light 0.9 of a code is 0.35 EV, of light 0.15 EV
    const [darker, nearer]: number[][] = [[], []];
    for (let y = 1; y < height; y++) {
      for (let x = 1; x < width; x++) {
        const i = y * width + x;
        const four = [0, 1, 2, 3].map((k) => shown((y - (k >> 1)) * width + x - (k & 1)) * scale);
        if (out[i] < 0.899 * Math.min(...four)) darker.push(i);
        if (type !== "f32" && Math.max(...four) < bright * scale && out[i] > 0.9413 * top * scale) nearer.push(i);
      }
    }
    expect(darker).toEqual([]);
    expect(nearer).toEqual([]);
  },
);
