/** Pictures that come with alpha, as layers: light mixed where it is multiplied by alpha, at every display level, and cut-outs that come back as they were saved. */
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { decodeSrgb, encodeSrgb } from "../core/color/srgbCurve";
import { addFrames, setRegistration, startJob, takeGroupings, takeStep, unmovedRegistration, workOnSet } from "../document/edits";
import { addLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { FrameRecord, Records } from "../document/records/types";
import { framesOf, setsOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { UNMOVED, wholeFrame, type Cut, type FrameContent } from "../kinds/contents/frame/record";
import { readPicture } from "../formats/readPicture";
import { loadCodecs } from "../../tests/support/kernels";
import { each } from "./operations/frames/frameSamples";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

// larger than the smallest level, so that there are some
const [W, H] = [600, 400];
const GREY = 0.2;
/** Grey light of a thing, and garbage where nothing shows. */
const front = (x: number, y: number): number => (alphaOf(x, y) === 0 ? 1 : 0.5 + 0.2 * Math.sin(x / 9) * Math.cos(y / 7));
const alphaOf = (x: number, y: number): number => {
  const a = Math.min(1, Math.max(0, 0.5 + (120 - Math.hypot(x - 300, y - 200)) / 24));
  // every other px of a mesh shows
  return x < 300 && (x + y) % 2 ? 0 : Math.round(65_535 * a) / 65_535;
};

function file(channels: 3 | 4): Uint8Array {
  const writer = new TiffWriter({ width: W, height: H, bits: 16, channels, metadata: [], profile: null });
  const samples = new Uint16Array(channels * W * H);
  for (let i = 0; i < samples.length; i++) {
    const [k, c] = [Math.floor(i / channels), i % channels];
    const [x, y] = [k % W, Math.floor(k / W)];
    samples[i] = Math.round(65_535 * (c === 3 ? alphaOf(x, y) : encodeSrgb(channels === 4 ? front(x, y) : GREY)));
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

let node: NodeEngine;
let plain: Records;
let thing: FrameRecord;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const made = [];
  for (const channels of [3, 4] as const) {
    const bytes = file(channels);
    const frame = await node.ask("importFrame", { fileName: `${channels}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    made.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(made), { stage: "gather", label: "step.compared" }, "t");
  const ids = framesOf(records).map((f) => f.id);
  const two = takeGroupings(
    ids.map((id) => ({ kind: "single" as const, frameIds: [id], reasons: [], confidence: 1, links: [] })),
    ids,
  )(records);
  const single = workOnSet(setsOf(two)[0].id)(two);
  const frames = framesOf(single);
  thing = frames[1];
  plain = setMerge(freshMerge("base"))(setRegistration(unmovedRegistration([frames[0]], frames[0], 1), {})(single));
});

const BY_ALPHA: Cut = { by: "alpha", box: null, plateId: null, plateMatrix: null, marks: [] };
const layered = (given: Partial<FrameContent> = {}): Records =>
  addLayer({ id: "l", name: "Thing", blendIn: "light", content: wholeFrame(thing.id, { cut: BY_ALPHA, ...given }) })(plain);

/** Red of working light of a grey picture at a level, which is its light. */
const light = async (records: Records, level: number): Promise<{ data: Float32Array; width: number }> => {
  const job = await prepareJob(node.ctx, records, SILENT);
  const rect = { x: 0, y: 0, width: Math.ceil(W / 2 ** level), height: Math.ceil(H / 2 ** level) };
  const data = node.ctx.kernels.withScope((scope) =>
    node.ctx.kernels.f32(each(composeRect(node.ctx, job, level, rect, "layers", scope))[0], rect.width * rect.height).slice(),
  );
  return { data, width: rect.width };
};

it("a picture with alpha is told by its file, and lies over what is below as light", async () => {
  expect(thing.alpha).toBe("straight");
  const { data } = await light(layered(), 0);
  let most = 0;
  for (let i = 0; i < data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const a = alphaOf(x, y);
    most = Math.max(most, Math.abs(data[i] - (a * front(x, y) + (1 - a) * GREY)));
  }
  expect(most).toBeLessThan(2e-4);
});

it("at a coarser level what does not show gives no colour", async () => {
  const { data, width } = await light(layered(), 1);
  let [most, sum, count] = [0, 0, 0];
  for (let y = 0; y < H / 2; y++) {
    for (let x = 0; x < W / 2; x++) {
      let [wanted, whole] = [0, 0];
      for (const [u, v] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [1, 1],
      ]) {
        const [px, py] = [2 * x + u, 2 * y + v];
        const a = alphaOf(px, py);
        wanted += (a * front(px, py)) / 4;
        whole += a / 4;
      }
      // colours are averaged as codes, alpha as it is
      const off = Math.abs(data[y * width + x] - (wanted + (1 - whole) * GREY));
      most = Math.max(most, off);
      sum += off;
      count++;
    }
  }
  // garbage that counted would be off by 0.1 and more in half of the picture
  expect(most).toBeLessThan(0.01);
  expect(sum / count).toBeLessThan(2e-4);
});

it("moved, it has no rim of what does not show", async () => {
  const { data } = await light(layered({ moved: { ...UNMOVED, dx: 10.5, dy: -3.25 } }), 0);
  // right of the mesh, where all is smooth
  let most = 0;
  for (let y = 40; y < 360; y++) {
    for (let x = 330; x < 560; x++) {
      const [u, v] = [x - 10.5, y + 3.25];
      const soft = Math.min(1, Math.max(0, 0.5 + (120 - Math.hypot(u - 300, v - 200)) / 24));
      const own = 0.5 + 0.2 * Math.sin(u / 9) * Math.cos(v / 7);
      most = Math.max(most, Math.abs(data[y * W + x] - (soft * own + (1 - soft) * GREY)));
    }
  }
  expect(most).toBeLessThan(0.012);
});

it.each(["tiff16", "ora"] as const)("saved as %s it comes back with its colours, its alpha and its size", async (format) => {
  const written = (await node.ask("cutoutFile", { records: layered(), layerId: "l", format }))!;
  const bytes = concatBytes(written.parts);
  const { raster, alpha } = await readPicture(bytes, await loadCodecs());
  expect([raster.width, raster.height]).toEqual([written.width, written.height]);
  // what shows, with two px around
  expect([written.width, written.height].every((v) => Math.abs(v - (2 * 132 + 4)) <= 3)).toBe(true);
  expect(written.clippedShare).toBe(0);
  const [x0, y0] = [300 - Math.floor(raster.width / 2), 200 - Math.floor(raster.height / 2)];
  let [offAlpha, offLight] = [0, 0];
  for (let i = 0; i < alpha!.samples.length; i++) {
    const [x, y] = [x0 + (i % raster.width), y0 + Math.floor(i / raster.width)];
    offAlpha = Math.max(offAlpha, Math.abs(alpha!.samples[i] - 65_535 * alphaOf(x, y)));
    if (alphaOf(x, y) > 0) offLight = Math.max(offLight, Math.abs(decodeSrgb(raster.data[3 * i] / 65_535) - front(x, y)));
  }
  expect(offAlpha).toBeLessThan(0.51);
  expect(offLight).toBeLessThan(1e-4);
});
