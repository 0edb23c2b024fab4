/** What frame layers cut out, laid over a picture: a thing of one colour with a soft edge before a ground, whose truth is known, over a grey plate. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { encodeSrgb } from "../core/color/srgbCurve";
import { addFrames, setRegistration, startJob, takeGroupings, takeStep, unmovedRegistration, updateRecord, workOnSet } from "../document/edits";
import { addLayer, updateLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import type { FrameRecord, Records, RegistrationRecord } from "../document/records/types";
import { framesOf, registrationOf, setsOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { UNMOVED, type Cut, type CutMark, type FrameContent, type Moved } from "../kinds/contents/frame/record";
import { each } from "./operations/frames/frameSamples";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { cutFindings } from "./operations/proof/cutFindings";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [320, 240];
const GREY = 0.2;
const [FRONT, BACK] = [
  [0.6, 0.25, 0.1],
  [0.05, 0.12, 0.3],
];
const [CX, CY, RADIUS, SOFT] = [150, 120, 60, 5];

/** How much of a px the thing covers: a disc with a soft border and a hole, and a speck beside it. */
const covers = (x: number, y: number): number => {
  const disc = (cx: number, cy: number, r: number, soft: number) => Math.min(1, Math.max(0, 0.5 + (r - Math.hypot(x - cx, y - cy)) / soft));
  return Math.max(Math.min(disc(CX, CY, RADIUS, SOFT), 1 - disc(CX + 15, CY, 12, 2)), disc(250, 60, 8, 2));
};

type Light = (x: number, y: number, c: number) => number;

function file(light: Light): Uint8Array {
  const writer = new TiffWriter({ width: W, height: H, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(3 * W * H);
  for (let i = 0; i < samples.length; i++) samples[i] = Math.round(65535 * encodeSrgb(light(Math.floor(i / 3) % W, Math.floor(i / 3 / W), i % 3)));
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

const texture = (x: number, y: number) => 1 + 0.1 * Math.sin(x / 3) * Math.cos(y / 4);
const back: Light = (x, y, c) => BACK[c] * texture(x, y);
const thing: Light = (x, y, c) => covers(x, y) * FRONT[c] + (1 - covers(x, y)) * back(x, y, c);

let node: NodeEngine;
let plain: Records;
let frames: FrameRecord[];
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const made = [];
  for (const [name, light] of [
    ["plate", () => GREY],
    ["thing", thing],
    ["clean", back],
  ] as [string, Light][]) {
    const bytes = file(light);
    const frame = await node.ask("importFrame", { fileName: `${name}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    made.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(made), { stage: "gather", label: "step.compared" }, "t");
  const ids = framesOf(records).map((f) => f.id);
  const grouping = (frameIds: string[], kind: "single" | "separate") => ({ kind, frameIds, reasons: [], confidence: 1, links: [] });
  const two = takeGroupings([grouping([ids[0]], "single"), grouping(ids.slice(1), "separate")], ids)(records);
  const single = workOnSet(setsOf(two)[0].id)(two);
  frames = framesOf(single);
  plain = setMerge(freshMerge("base"))(setRegistration(unmovedRegistration([frames[0]], frames[0], 1), {})(single));
});

const BOX = { x: 70, y: 30, width: 200, height: 180 };
const boxed: Cut = { by: "box", box: BOX, plateId: null, plateMatrix: null, marks: [] };
const layered = (cut: Cut | null, moved: Moved | null = null, over: Partial<LayerRecord> = {}): Records =>
  addLayer({
    id: "l",
    name: "Disc",
    blendIn: "light",
    content: wholeFrame(frames[1].id, { moved, cut }),
    ...over,
  })(plain);
const planes = async (records: Records, level = 0): Promise<Float32Array[]> => {
  const job = await prepareJob(node.ctx, records, SILENT);
  const rect = { x: 0, y: 0, width: Math.ceil(W / 2 ** level), height: Math.ceil(H / 2 ** level) };
  return node.ctx.kernels.withScope((scope) =>
    each(composeRect(node.ctx, job, level, rect, "layers", scope)).map((at) => node.ctx.kernels.f32(at, rect.width * rect.height).slice()),
  );
};
/** Rec. 709 of working light, whose sum of weights is one: grey stays grey, and only that is compared with the files' own numbers. */
const luminance = ([r, g, b]: Float32Array[], i: number) => 0.2627 * r[i] + 0.678 * g[i] + 0.0593 * b[i];
const luminanceOf = ([r, g, b]: number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
const mark = (what: CutMark["what"], x: number, y: number, diameterPx = 8): CutMark => ({ what, diameterPx, points: [x, y] });

it("a thing in a box lies over the plate with its own edge, mixed as light, and nothing else changes", async () => {
  const got = await planes(layered(boxed));
  let [sum, edge] = [0, 0];
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const a = Math.hypot(x - 250, y - 60) < 14 ? 0 : covers(x, y);
      const wanted = a * luminanceOf(FRONT) + (1 - a) * GREY;
      const off = Math.abs(luminance(got, y * W + x) - wanted);
      if (a > 0 && a < 1) [sum, edge] = [sum + off, edge + 1];
      else if (Math.hypot(x - CX, y - CY) > RADIUS + 12 && Math.hypot(x - 250, y - 60) > 20) expect(off).toBeLessThan(1e-4);
    }
  }
  expect(edge).toBeGreaterThan(1000);
  expect(sum / edge).toBeLessThan(0.02);
});

it("by a clean plate, or over encoded values, it is the same thing; encoded leaves another rim", async () => {
  const plate: Cut = { ...boxed, by: "plate", plateId: frames[2].id, plateMatrix: [1, 0, 0, 0, 1, 0, 0, 0, 1] };
  const [byBox, byPlate] = [await planes(layered(boxed)), await planes(layered(plate))];
  const at = CY * W + CX - 30;
  expect(luminance(byPlate, at)).toBeCloseTo(luminanceOf(FRONT), 2);
  expect(luminance(byPlate, at)).toBeCloseTo(luminance(byBox, at), 3);
  // a plate knows of the speck too
  expect(luminance(byPlate, 60 * W + 250)).toBeCloseTo(luminanceOf(FRONT), 2);
  const encoded = await planes(layered(plate, null, { blendIn: "encoded" }));
  const rim = Array.from({ length: W }, (_, x) => Math.abs(luminance(encoded, CY * W + x) - luminance(byPlate, CY * W + x)));
  expect(Math.max(...rim)).toBeGreaterThan(0.002);
  expect(luminance(encoded, at)).toBeCloseTo(luminance(byPlate, at), 4);
});

it("moved, turned and scaled, its rim has nothing of the old background: each px lies between the thing and the plate", async () => {
  const got = await planes(layered(boxed, { ...UNMOVED, dx: 20.4, dy: -7.7, angleDeg: 11, scale: 0.8 }));
  const [least, most] = [GREY, luminanceOf(FRONT)].sort((a, b) => a - b);
  const light = Array.from({ length: W * H }, (_, i) => luminance(got, i));
  expect(light.reduce((a, b) => Math.min(a, b))).toBeGreaterThan(least - 0.02);
  expect(light.reduce((a, b) => Math.max(a, b))).toBeLessThan(most + 0.02);
  const inFront = light.filter((v) => v > (least + most) / 2).length;
  expect(Math.abs(inFront / (0.64 * Math.PI * (RADIUS ** 2 - 144)) - 1)).toBeLessThan(0.05);
});

it("strokes keep and leave, one after the other, and what was there before comes back to the sample", async () => {
  const before = await planes(layered(boxed));
  const left = await planes(layered({ ...boxed, marks: [mark("leave", CX, CY - 40, 20)] }));
  expect(luminance(left, (CY - 40) * W + CX)).toBeCloseTo(GREY, 4);
  const filled = await planes(layered({ ...boxed, marks: [mark("keep", CX + 15, CY, 20)] }));
  expect(luminance(filled, CY * W + CX + 15)).not.toBeCloseTo(GREY, 2);
  const again = await planes(layered(boxed));
  again.forEach((plane, c) => expect([...plane].every((v, i) => v === before[c][i])).toBe(true));
});

it("a cold engine makes the same of a cut-out with strokes, at every level", async () => {
  const records = layered({ ...boxed, marks: [mark("leave", 120, 70), mark("keep", CX + 15, CY, 20), mark("open", 100, 150)] }, { ...UNMOVED, scale: 0.7 });
  await planes(layered({ ...boxed, marks: [mark("leave", 120, 70)] }));
  for (const level of [1, 0]) {
    const warm = await planes(records, level);
    node.ctx.cache.clear();
    const cold = await planes(records, level);
    warm.forEach((plane, c) => expect([...plane].every((v, i) => v === cold[c][i])).toBe(true));
  }
});

it("what cannot be told is not shown, and said with its reason", async () => {
  const nowhere: Cut = { ...boxed, box: { x: 5, y: 190, width: 60, height: 40 } };
  const got = await planes(layered(nowhere));
  expect([...got[0]].every((v) => Math.abs(v - got[0][0]) < 1e-6)).toBe(true);
  await expect(node.ask("cutFigures", { records: layered(nowhere), layerId: "l" })).rejects.toMatchObject({ told: { code: "matte.noSubject" } });
  const other = { ...boxed, by: "plate" as const, plateId: frames[0].id, plateMatrix: null };
  await expect(node.ask("cutFigures", { records: layered(other), layerId: "l" })).rejects.toMatchObject({ told: { code: "matte.otherView" } });
  // a plate that was taken out of the job, or not chosen yet: all of the frame
  expect(await node.ask("cutFigures", { records: layered({ ...boxed, box: null }), layerId: "l" })).toBeNull();
});

it("its figures and findings tell the gap, the part apart and where it is cut off, with their places", async () => {
  const plate: Cut = { ...boxed, by: "plate", plateId: frames[2].id, plateMatrix: null };
  const figures = (await node.ask("cutFigures", { records: layered(plate), layerId: "l" }))!;
  expect([figures.holes, figures.islands].map((list) => list.length)).toEqual([1, 1]);
  expect(Math.hypot(figures.holes[0].x - CX - 15, figures.holes[0].y - CY)).toBeLessThan(3);
  expect(Math.hypot(figures.islands[0].x - 250, figures.islands[0].y - 60)).toBeLessThan(3);
  expect(figures.cutOff).toEqual([]);
  const share = (Math.PI * (RADIUS ** 2 - 144 + 64)) / (W * H);
  expect(Math.abs(figures.share / share - 1)).toBeLessThan(0.05);
  // the lower end of the disc lies below this box
  const narrow = { ...boxed, box: { x: 60, y: 30, width: 210, height: 140 } };
  const cut = (await node.ask("cutFigures", { records: layered(narrow), layerId: "l" }))!;
  expect(cut.cutOff.length).toBeGreaterThan(0);
  expect([Math.abs(cut.cutOff[0].x - CX) < 6, Math.abs(cut.cutOff[0].y - 168) < 4]).toEqual([true, true]);
  const found = await cutFindings(await prepareJob(node.ctx, layered(plate, { ...UNMOVED, dx: 30 }), SILENT), SILENT);
  expect(found.map((f) => f.kind).sort()).toEqual(["apart", "gap"]);
  const gap = found.find((f) => f.kind === "gap")!.place!;
  expect(Math.abs(gap.x + gap.width / 2 - CX - 15 - 30)).toBeLessThan(4);
});

it("a plate that is developed otherwise, or another frame, is another cut-out", async () => {
  const plate: Cut = { ...boxed, by: "plate", plateId: frames[2].id, plateMatrix: null };
  const records = layered(plate);
  const keyOf = async (r: Records) => (await import("./operations/layers/stackKeys")).stackKey(await prepareJob(node.ctx, r, SILENT), null);
  const darker = updateRecord<FrameRecord>(frames[2].id, { development: { ...frames[2].development, exposureEv: -1 } })(records);
  const content = records.l.kind === "layer" && (records.l.content as FrameContent);
  const other = updateLayer("l", { content: { ...(content as FrameContent), cut: { ...plate, marks: [mark("keep", 10, 10)] } } })(records);
  const { placements } = registrationOf(records)!;
  const moved = placements.concat({ ...placements[0], frameId: frames[2].id, matrix: [1, 0, 5, 0, 1, 0, 0, 0, 1] });
  const placed = updateRecord<RegistrationRecord>(registrationOf(records)!.id, { placements: moved })(records);
  const keys = await Promise.all([records, darker, other, placed].map(keyOf));
  expect(new Set(keys).size).toBe(4);
  // a plate as dark as that is brought to the picture's light
  expect(luminance(await planes(darker), CY * W + CX - 30)).toBeCloseTo(luminanceOf(FRONT), 2);
});
