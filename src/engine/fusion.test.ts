/** Exposure fusion made strip by strip against a plain one of the kernels' twins, over heights around the borders of strips. */
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { decodeSrgb } from "../core/color/srgbCurve";
import { IDENTITY, transform } from "../core/geometry/matrix3";
import type { FrameRecord } from "../document/records/types";
import { SRGB_INPUT } from "../formats/icc/readProfile";
import { expand, fusionWeight, reduce } from "../kernels/twins/twins";
import { randomOf } from "../../tests/support/kernels";
import { REC709_TO_WORKING } from "./operations/frames/frameSamples";
import { mergeFusion } from "./operations/merge/mergeFusion";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";
import type { MergeInputs } from "./operations/merge/mergeTypes";

interface Plane {
  w: number;
  h: number;
  data: Float64Array;
}

let node: NodeEngine;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
});

const halved = ({ w, h, data }: Plane): Plane => {
  const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
  return { w: cw, h: ch, data: Float64Array.from({ length: cw * ch }, (_, i) => reduce(data, w, h, i % cw, Math.floor(i / cw))) };
};
const raisedTo = (p: Plane, w: number, h: number): Float64Array =>
  Float64Array.from({ length: w * h }, (_, i) => expand(p.data, p.w, p.h, i % w, Math.floor(i / w)));

/** Blends planes by weights over their Laplacian pyramids. */
function blended(planes: Plane[], weights: Plane[], depth: number): Float64Array {
  const { w, h } = planes[0];
  const sum = new Float64Array(w * h);
  if (depth === 0) {
    planes.forEach((p, k) => p.data.forEach((v, i) => (sum[i] += v * weights[k].data[i])));
    return sum;
  }
  const coarse = planes.map(halved);
  planes.forEach((p, k) => raisedTo(coarse[k], w, h).forEach((below, i) => (sum[i] += weights[k].data[i] * (p.data[i] - below))));
  const { w: cw, h: ch } = coarse[0];
  const below = raisedTo({ w: cw, h: ch, data: blended(coarse, weights.map(halved), depth - 1) }, w, h);
  return sum.map((v, i) => v + below[i]);
}

function plainFusion(frames: Uint8Array[][], w: number, h: number): Float64Array[] {
  const codes = frames.map((channels) => channels.map((c) => Float64Array.from(c, (v) => v / 255)));
  const mirror = (i: number, n: number) => Math.min(n - 1, Math.max(0, i < 0 ? -i : i >= n ? 2 * n - 2 - i : i));
  const weights = codes.map((channels) => {
    const rgb = (x: number, y: number) => channels.map((c) => c[mirror(y, h) * w + mirror(x, w)]);
    const grey = (x: number, y: number) => rgb(x, y).reduce((sum, v, c) => sum + v * [0.299, 0.587, 0.114][c], 0);
    return Float64Array.from({ length: w * h }, (_, i) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      return fusionWeight(rgb(x, y), { centre: grey(x, y), around: [grey(x - 1, y), grey(x + 1, y), grey(x, y - 1), grey(x, y + 1)] }, [1, 1, 1]);
    });
  });
  const total = weights[0].map((_, i) => weights.reduce((sum, v) => sum + v[i], 0));
  const shares = weights.map((v): Plane => ({ w, h, data: v.map((x, i) => x / total[i]) }));
  const depth = Math.floor(Math.log2(Math.min(w, h)));
  const encoded = [0, 1, 2].map((c) =>
    blended(
      codes.map((channels): Plane => ({ w, h, data: channels[c] })),
      shares,
      depth,
    ),
  );
  const out = [0, 1, 2].map(() => new Float64Array(w * h));
  for (let i = 0; i < w * h; i++) {
    const light = encoded.map((plane) => decodeSrgb(Math.max(0, plane[i])));
    transform(REC709_TO_WORKING, light).forEach((v, c) => (out[c][i] = v));
  }
  return out;
}

async function inputsOf(frames: Uint8Array[][], w: number, h: number): Promise<MergeInputs> {
  const color = SRGB_INPUT(REC709_TO_WORKING);
  const opened = await Promise.all(
    frames.map(async (channels, k) => {
      const file = await node.ctx.store.create(`f${k}-${w}×${h}`, { width: w, height: h, channels: 3, type: "u8", levels: 1 });
      channels.forEach((c, i) => file.write(0, i, 0, c));
      return { frame: { id: `f${k}`, width: w, height: h } as FrameRecord, file, color, inverse: IDENTITY, lens: null, relativeEv: 0 };
    }),
  );
  return { width: w, height: h, frames: opened, reference: 0, key: [w, h], noise: { shot: 1e-4, readSquared: 1e-7 } };
}

// strips have 32 rows, and read three more
it.each([
  [41, 31],
  [40, 32],
  [37, 33],
  [29, 35],
  [23, 67],
  [19, 1],
  [1, 9],
])("a fusion of %i×%i is the plain one", async (w, h) => {
  const random = randomOf(w * 100 + h);
  const frames = [0.5, 1, 1.6].map((gain) =>
    [0, 1, 2].map((c) => Uint8Array.from({ length: w * h }, (_, i) => Math.min(255, gain * (60 + 50 * Math.sin(i / (5 + c)) + 60 * random())))),
  );
  const { picture, shares } = await mergeFusion(node.ctx, await inputsOf(frames, w, h), { contrast: 1, saturation: 1, exposedness: 1 }, SILENT);
  const wanted = plainFusion(frames, w, h);
  const got = new Float32Array(w * h);
  wanted.forEach((plane, c) => {
    picture.read(0, c, 0, 0, w, h, got);
    // single precision in weights that are divided by small sums
    expect(Math.max(...got.map((v, i) => Math.abs(v - plane[i])))).toBeLessThan(2e-3);
    expect(Math.sqrt(got.reduce((sum, v, i) => sum + (v - plane[i]) ** 2, 0) / got.length)).toBeLessThan(2e-4);
  });
  const cells = new Uint8Array(shares.spec.width * shares.spec.height);
  const totals = Array.from(cells, () => 0);
  frames.forEach((_, k) => {
    shares.read(0, k, 0, 0, shares.spec.width, shares.spec.height, cells);
    cells.forEach((v, i) => (totals[i] += v));
  });
  // each share is rounded by itself
  totals.forEach((v) => expect(Math.abs(v - 255)).toBeLessThanOrEqual(2));
});
