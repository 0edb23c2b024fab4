/** Layers, groups, clipping and masks against a plain oracle that computes one pixel at a time in double precision. */
import { levelCount } from "./operations/frames/levels";
import { written } from "../messages/message";
import { ADJUSTMENT_RECORDS, type Adjustment } from "../kinds/adjustments/records";
import { newStroke } from "../../tests/support/records";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { prepareSmallJob, SMALL_JOB } from "../../tests/support/smallJob";
import Color from "colorjs.io";
import { composite, LINEAR_MODES, type BlendMode, type Rgb } from "../core/blend/blendModes";
import { decodeSrgb, encodeSrgb } from "../core/color/srgbCurve";
import { LUMINANCE, REC2020, REC709, rgbToRgb } from "../core/color/primaries";
import { IDENTITY, project, transform } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { addRecord, updateRecord } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { movedMatrix } from "../document/outputGeometry";
import {
  addLayer,
  addPart,
  duplicateLayer,
  groupLayer,
  groupPart,
  layFramesByHand,
  moveLayer,
  movePart,
  paintedMask,
  putIntoGroup,
  removePart,
  ungroupParts,
  placeLayer,
  takeMask,
  ungroup,
  updateLayer,
} from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { freshMask, type LayerRecord, type MaskGroup } from "../document/records/layerTypes";
import { UNMOVED, type Moved, wholeFrame } from "../kinds/contents/frame/record";
import { allParts, type MaskPart, type PartShape } from "../kinds/maskParts/records";
import type { FrameRecord, Records, StrokeRecord } from "../document/records/types";
import { VALIDATORS } from "../document/records/validators";
import { childrenOf, composedLayersOf, framesOf, isFinish, layerOf, strokesOf } from "../document/selectors";
import { composeRect, prepareJob, unchangedLayers } from "./operations/layers/compose";
import { each } from "./operations/frames/frameSamples";
import { layerFindings } from "./operations/proof/layerFindings";
import { maskPlane } from "./operations/masks/maskPlane";
import { measureTones } from "./operations/finish/measureTones";
import { readLayer } from "./operations/merge/readLayer";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";
import type { PreparedJob } from "./operations/layers/PreparedJob";

const [W, H] = SMALL_JOB;
const RECT = { x: 40, y: 60, width: 120, height: 80 };
const N = RECT.width * RECT.height;

let node: NodeEngine;
let plain: Records;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  plain = await prepareSmallJob(node);
});

const part = (shape: PartShape, over: Partial<MaskPart> = {}): MaskPart =>
  ({ id: `p${Math.random()}`, combine: "add", inverted: false, featherPx: 0, ...shape, ...over }) as MaskPart;
const prepared = (records: Records): Promise<PreparedJob> => prepareJob(node.ctx, records, SILENT);
const planesOf = (job: PreparedJob, upTo: "merge" | "layers", rect = RECT): Float32Array[] =>
  node.ctx.kernels.withScope((scope) =>
    each(composeRect(node.ctx, job, 0, rect, upTo, scope)).map((at) => node.ctx.kernels.f32(at, rect.width * rect.height).slice()),
  );
const framePlanes = (job: PreparedJob, k: number): Float32Array[] =>
  node.ctx.kernels.withScope((scope) => each(readLayer(scope, job.inputs.frames[k], 0, RECT, 0)).map((at) => node.ctx.kernels.f32(at, N).slice()));
const pixel = (planes: Float32Array[], i: number) => planes.map((p) => p[i]) as unknown as Rgb;

/** Light over light by the plain formula. */
function over(mode: BlendMode, below: Rgb, belowAlpha: number, top: Rgb, alpha: number): { color: Rgb; alpha: number } {
  if (alpha === 0) return { color: below, alpha: belowAlpha };
  const linear = LINEAR_MODES.includes(mode);
  const into = (c: Rgb) => (linear ? c : (c.map((v) => encodeSrgb(Math.max(0, v))) as unknown as Rgb));
  const mixed = composite(mode, into(below), belowAlpha, into(top), alpha);
  return { color: linear ? mixed.color : (mixed.color.map((v) => decodeSrgb(Math.max(0, v))) as unknown as Rgb), alpha: mixed.alpha };
}

const smoothstep = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));
const near = (got: Float32Array[], wanted: (i: number) => readonly number[], tolerance = 1e-6) => {
  let worst = 0;
  for (let i = 0; i < got[0].length; i++) wanted(i).forEach((w, c) => (worst = Math.max(worst, Math.abs(got[c][i] - w) / (1 + Math.abs(w)))));
  expect(worst).toBeLessThan(tolerance);
};

it("a stack with masks, a clipped adjustment and a group is what the formulas say, pixel by pixel", async () => {
  const [f0, , f2] = framesOf(plain);
  const ramp: PartShape = { kind: "ramp", x0: 60, y0: 0, x1: 140, y1: 0 };
  const box: PartShape = { kind: "polygon", points: [59.5, 79.5, 119.5, 79.5, 119.5, 119.5, 59.5, 119.5] };
  const mask: MaskGroup = { ...freshMask(0, [part(ramp), part(box, { combine: "subtract" })]), inverted: true, density: 0.7 };
  let r = addLayer({
    id: "a",
    name: "A",
    content: wholeFrame(f0.id),
    opacity: 0.8,
    mode: "multiply",
    mask,
  })(plain);
  r = addLayer({ id: "b", name: "B", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } }, clipped: true, opacity: 0.5 })(r);
  r = addLayer({ id: "g", name: "G", content: { type: "group", through: false }, opacity: 0.6, mode: "softLight", mask: { ...freshMask(1), density: 0.9 } })(r);
  const color = { red: 0.8, green: 0.3, blue: 0.2 };
  r = addLayer({ id: "c", name: "C", parentId: "g", content: { type: "fill", ...color, grain: 0, grainPx: 2, ramp: null }, mask: freshMask(0, [part(ramp)]) })(
    r,
  );
  r = addLayer({
    id: "d",
    name: "D",
    parentId: "g",
    content: wholeFrame(f2.id),
    opacity: 0.4,
    mode: "screen",
  })(r);
  r = addLayer({ id: "e", name: "E", content: { type: "below" }, mode: "add", opacity: 0.25 })(r);
  const job = await prepared(r);
  const [merge, frame0, frame2] = [planesOf(job, "merge"), framePlanes(job, 0), framePlanes(job, 2)];
  const fill = transform(rgbToRgb(REC709, REC2020), [color.red, color.green, color.blue].map(decodeSrgb)) as unknown as Rgb;
  near(planesOf(job, "layers"), (i) => {
    const [x, y] = [RECT.x + (i % RECT.width), RECT.y + Math.floor(i / RECT.width)];
    const slope = smoothstep((x - 60) / 80);
    const inBox = x >= 60 && x < 120 && y >= 80 && y < 120 ? 1 : 0;
    const own = pixel(frame0, i);
    const raised = over("normal", own, 1, own.map((v) => v * 2) as unknown as Rgb, 0.5).color;
    const first = over("multiply", pixel(merge, i), 1, raised, 0.8 * 0.7 * (1 - slope * (1 - inBox)));
    const filled = over("normal", [0, 0, 0], 0, fill, slope);
    const group = over("screen", filled.color, filled.alpha, pixel(frame2, i), 0.4);
    const second = over("softLight", first.color, 1, group.color, 0.6 * 0.9 * group.alpha);
    return over("add", second.color, 1, second.color, 0.25).color;
  });
});

it("an adjustment in a group reaches only what the group holds; one that is clipped only the layer below", async () => {
  const [f0] = framesOf(plain);
  const half = freshMask(0, [part({ kind: "polygon", points: [-1, -1, 99.5, -1, 99.5, 999, -1, 999] })]);
  const strong = { type: "adjustment" as const, adjustment: "exposure" as const, values: { ev: -3 } };
  let grouped = addLayer({ id: "g", name: "G", content: { type: "group", through: false } })(plain);
  grouped = addLayer({
    id: "f",
    name: "F",
    parentId: "g",
    content: wholeFrame(f0.id),
    mask: half,
  })(grouped);
  grouped = addLayer({ id: "x", name: "X", parentId: "g", content: strong })(grouped);
  let clipped = addLayer({ id: "f", name: "F", content: wholeFrame(f0.id), mask: half })(plain);
  clipped = addLayer({ id: "x", name: "X", content: strong, clipped: true })(clipped);
  for (const records of [grouped, clipped]) {
    const job = await prepared(records);
    const [merge, frame, got] = [planesOf(job, "merge"), framePlanes(job, 0), planesOf(job, "layers")];
    near(got, (i) => (RECT.x + (i % RECT.width) < 100 ? pixel(frame, i).map((v) => v / 8) : pixel(merge, i)));
  }
});

it("masks by light, channel and difference of frames follow their formulas; a link follows another mask and a ring of links ends", async () => {
  const [f0, f1] = framesOf(plain);
  const shapes: PartShape[] = [
    { kind: "light", of: null, fromEv: -3, toEv: -1, softEv: 0.5 },
    { kind: "channel", of: f1.id, channel: 1, low: 0.3, high: 0.6 },
    { kind: "difference", aId: f0.id, bId: f1.id, fromEv: 0.02, softEv: 0.01 },
  ];
  const content = wholeFrame(f1.id);
  let r = shapes.reduce((records, shape, k) => addLayer({ id: `m${k}`, name: "M", content, mask: freshMask(0, [part(shape)]) })(records), plain);
  r = addLayer({ id: "linked", name: "L", content, mask: freshMask(0, [part({ kind: "link", layerId: "m0" }, { inverted: true })]) })(r);
  const ring = (id: string, to: string) => addLayer({ id, name: id, content, mask: freshMask(0, [part({ kind: "link", layerId: to })]) });
  r = ring("ring2", "ring1")(ring("ring1", "ring2")(r));
  const job = await prepared(r);
  const mask = (id: string) => maskPlane(node.ctx, job, layerOf(job.records, id)!, 0, RECT);
  const [merge, frame0, frame1] = [planesOf(job, "merge"), framePlanes(job, 0), framePlanes(job, 1)];
  const ev = (p: Rgb) =>
    Math.log2(
      Math.max(
        1e-6,
        LUMINANCE.reduce((s, w, c) => s + w * p[c], 0),
      ),
    );
  near([mask("m0")], (i) => [smoothstep((ev(pixel(merge, i)) + 3) / 0.5 + 1) * smoothstep((-1 - ev(pixel(merge, i))) / 0.5 + 1)]);
  near([mask("m1")], (i) => [smoothstep((encodeSrgb(Math.min(1, Math.max(0, frame1[1][i]))) - 0.3) / 0.3)]);
  // frame 0 is two stops darker than the reference, frame 1
  near([mask("m2")], (i) => [smoothstep((Math.abs(ev(pixel(frame0, i)) + 2 - ev(pixel(frame1, i))) - 0.02) / 0.01 + 1)], 2e-3);
  const light = mask("m0");
  near([mask("linked")], (i) => [1 - light[i]], 1e-6);
  expect(mask("ring1").every((v) => v === 0)).toBe(true);
});

it("a mask measured in the merge follows when a place is taken from another frame", async () => {
  const [f0, f1] = framesOf(plain);
  const dark = freshMask(0, [part({ kind: "light", of: null, fromEv: -3, toEv: -1, softEv: 0.5 })]);
  const base = addLayer({ id: "a", name: "A", content: wholeFrame(f1.id), mask: dark })(plain);
  const ghost = {
    kind: "ghost" as const,
    id: "g",
    setId: "set-1",
    number: 1,
    cellPx: 8,
    strength: 0,
    proposedId: null,
    chosen: true,
    reason: written(""),
    by: "hand" as const,
  };
  const seated = setMerge(freshMerge("base", { baseId: f1.id }))(addRecord({ ...ghost, runs: [9, 7, 14, 10, 7, 14, 11, 7, 14], donorId: f0.id })(base));
  for (const records of [setMerge(freshMerge("base", { baseId: f1.id }))(base), seated]) {
    const job = await prepared(records);
    const merge = planesOf(job, "merge");
    const ev = (i: number) =>
      Math.log2(
        Math.max(
          1e-6,
          LUMINANCE.reduce((s, w, c) => s + w * merge[c][i], 0),
        ),
      );
    near([maskPlane(node.ctx, job, layerOf(records, "a")!, 0, RECT)], (i) => [smoothstep((ev(i) + 3) / 0.5 + 1) * smoothstep((-1 - ev(i)) / 0.5 + 1)]);
  }
});

it("what is painted lies on top of the parts before, and a feathered mask is the same in pieces", async () => {
  const [f0] = framesOf(plain);
  const strokes: StrokeRecord[] = [true, false].map((reveal, index) =>
    newStroke({
      id: `s${index}`,
      index,
      layerId: "a",
      partId: "paint",
      reveal,
      diameterPx: 60,
      softness: 0.5,
      flow: 0.6,
      opacity: 0.8,
      points: [60 + 30 * index, 90, 1, 130, 110, 1],
    }),
  );
  const light = part({ kind: "light", of: null, fromEv: -3, toEv: -1, softEv: 1 });
  const painted: MaskPart = { ...paintedMask(0, "paint").parts[0] };
  const content = wholeFrame(f0.id);
  const withMask = (mask: MaskGroup): Records => strokes.reduce((records, s) => addRecord(s)(records), addLayer({ id: "a", name: "A", content, mask })(plain));
  const read = async (mask: MaskGroup, rect = RECT) => {
    const job = await prepared(withMask(mask));
    return maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, rect);
  };
  const before = await read(freshMask(0, [light]));
  const [black, white] = [await read(freshMask(0, [painted])), await read(freshMask(1, [painted]))];
  near([await read(freshMask(0, [light, painted]))], (i) => [black[i] + before[i] * (white[i] - black[i])]);
  expect(white.some((v, i) => v < 0.9 && black[i] < v)).toBe(true);

  const soft: MaskGroup = { ...freshMask(0, [light, painted]), featherPx: 7, refinePx: 6 };
  const whole = await read(soft);
  const inner = { x: RECT.x + 40, y: RECT.y + 20, width: 30, height: 25 };
  const piece = await read(soft, inner);
  near([piece], (i) => [whole[(Math.floor(i / inner.width) + 20) * RECT.width + (i % inner.width) + 40]], 2e-5);
});

it("a group of parts is combined by itself first, and goes with the parts before as one", async () => {
  const shapes: PartShape[] = [
    { kind: "ramp", x0: 40, y0: 0, x1: 160, y1: 0 },
    { kind: "ramp", x0: 0, y0: 60, x1: 0, y1: 140 },
    { kind: "polygon", points: [59.5, 79.5, 119.5, 79.5, 119.5, 119.5, 59.5, 119.5] },
  ];
  const content = { type: "merge" as const };
  const read = async (parts: MaskPart[]) => {
    const job = await prepared(addLayer({ id: "a", name: "A", content, mask: freshMask(0, parts) })(plain));
    return maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, RECT);
  };
  const [across, down, box] = await Promise.all(shapes.map((s) => read([part(s)])));
  const inner = [part(shapes[1]), part(shapes[2], { combine: "subtract" })];
  const grouped = await read([part(shapes[0]), part({ kind: "group", parts: inner }, { combine: "intersect", inverted: true })]);
  near([grouped], (i) => [across[i] * (1 - down[i] * (1 - box[i]))], 1e-6);
  // a list cannot say the same
  const flat = await read([part(shapes[0]), part(shapes[1], { combine: "intersect" }), part(shapes[2], { combine: "subtract" })]);
  expect(flat.some((v, i) => Math.abs(v - grouped[i]) > 0.5)).toBe(true);
});

it("a mask is softened where it was painted and only there, the same in pieces", async () => {
  const edge: PartShape = { kind: "polygon", points: [-1, -1, 99.5, -1, 99.5, 999, -1, 999] };
  const soften: MaskPart = { ...part({ kind: "soften", sigmaPx: 6 }), id: "soft" };
  const stroke = newStroke({ id: "s", layerId: "a", partId: "soft", diameterPx: 30, softness: 0, points: [100, 90, 1, 100, 91, 1] });
  const read = async (parts: MaskPart[], rect = RECT) => {
    const job = await prepared(addRecord(stroke)(addLayer({ id: "a", name: "A", content: { type: "merge" }, mask: freshMask(0, parts) })(plain)));
    return maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, rect);
  };
  const [hard, soft] = [await read([part(edge)]), await read([part(edge), soften])];
  const at = (mask: Float32Array, x: number, y: number) => mask[(y - RECT.y) * RECT.width + x - RECT.x];
  expect([at(soft, 96, 120), at(soft, 103, 120)]).toEqual([at(hard, 96, 120), at(hard, 103, 120)]);
  // the blurred edge is the normal distribution of a half px beyond it
  expect(at(soft, 100, 90)).toBeGreaterThan(0.42);
  expect(at(soft, 100, 90)).toBeLessThan(0.5);
  const piece = { x: 95, y: 85, width: 12, height: 9 };
  near([await read([part(edge), soften], piece)], (i) => [at(soft, piece.x + (i % 12), piece.y + Math.floor(i / 12))], 1e-5);
});

it("a range of detail finds what is sharp and leaves what is even", async () => {
  const of: PartShape = { kind: "sharpness", of: null, sizePx: 4, fromEv: 0.06, softEv: 0.02 };
  const job = await prepared(addLayer({ id: "a", name: "A", content: { type: "merge" }, mask: freshMask(0, [part(of)]) })(plain));
  const whole = { x: 0, y: 0, width: W, height: H };
  const mask = maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, whole);
  // the scene's waves are strong where its light is low, and drowned in the middle of its lamp
  expect(mask[150 * W + 60]).toBeGreaterThan(0.9);
  expect(mask[80 * W + 300]).toBeLessThan(0.1);
  near(
    [maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, RECT)],
    (i) => [mask[(RECT.y + Math.floor(i / RECT.width)) * W + RECT.x + (i % RECT.width)]],
    1e-4,
  );
});

it("a stroke that keeps to its side covers only what has the colour it began on", async () => {
  const [f0] = framesOf(plain);
  const content = wholeFrame(f0.id);
  const stroke = (edgeTolerance: number): StrokeRecord =>
    newStroke({ id: `s${edgeTolerance}`, layerId: "a", partId: "paint", diameterPx: 300, softness: 0, edgeTolerance, points: [100, 100, 1] });
  const read = async (tolerance: number) => {
    const job = await prepared(addRecord(stroke(tolerance))(addLayer({ id: "a", name: "A", content, mask: paintedMask(0, "paint") })(plain)));
    return { job, mask: maskPlane(node.ctx, job, layerOf(job.records, "a")!, 0, RECT) };
  };
  const free = await read(0);
  const kept = await read(4);
  const merge = planesOf(kept.job, "merge");
  const lab = (rgb: number[]) => new Color("rec2020-linear", rgb as [number, number, number]).to("oklab").coords as number[];
  const patch = [0, 1, 2].map((c) => {
    let sum = 0;
    for (let y = -2; y <= 2; y++) for (let x = -2; x <= 2; x++) sum += merge[c][(100 + y - RECT.y) * RECT.width + 100 + x - RECT.x];
    return sum / 25;
  });
  const seed = lab(patch);
  near(
    [kept.mask],
    (i) => {
      const apart = 100 * Math.hypot(...lab([...pixel(merge, i)]).map((v, c) => v - seed[c]));
      return [free.mask[i] * smoothstep(3 - apart / 2)];
    },
    0.02,
  );
  expect(kept.mask.some((v, i) => v === 0 && free.mask[i] === 1)).toBe(true);
  expect(kept.mask[(100 - RECT.y) * RECT.width + 100 - RECT.x]).toBeGreaterThan(0.99);
});

it("a frame put elsewhere is turned, scaled and shifted about the middle, and is nothing where it no longer lies", async () => {
  const [, f1] = framesOf(plain);
  const at = (moved: Moved) => prepared(addLayer({ name: "A", content: wholeFrame(f1.id, { moved }) })(plain));
  const still = { dx: 0, dy: 0, angleDeg: 0, scale: 1, corners: [0, 0, 0, 0, 0, 0, 0, 0] };
  // whole pixels and quarter turns need no interpolation
  const shifted = await at({ ...still, dx: 30, dy: -20 });
  const whole: Rectangle = { x: 0, y: 0, width: W, height: H };
  const frame = node.ctx.kernels.withScope((scope) =>
    each(readLayer(scope, shifted.inputs.frames[1], 0, whole, 0)).map((p) => node.ctx.kernels.f32(p, W * H).slice()),
  );
  near(planesOf(shifted, "layers"), (i) => pixel(frame, (RECT.y + Math.floor(i / RECT.width) + 20) * W + RECT.x + (i % RECT.width) - 30), 1e-5);
  const half = await at({ ...still, angleDeg: 180 });
  near(planesOf(half, "layers"), (i) => pixel(frame, (H - 1 - RECT.y - Math.floor(i / RECT.width)) * W + W - 1 - RECT.x - (i % RECT.width)), 1e-5);
  const small = await at({ ...still, scale: 0.5 });
  const [got, merge] = [planesOf(small, "layers", whole), planesOf(small, "merge", whole)];
  expect([0, 1, 2].map((c) => got[c][0])).toEqual([0, 1, 2].map((c) => merge[c][0]));
  const middle = (H / 2) * W + W / 2;
  expect(Math.abs(got[0][middle] / frame[0][middle] - 1)).toBeLessThan(0.05);
});

const SPATIAL = [
  ["detail", { fine: 0.6, middle: -0.3, coarse: 0.4, coarsePx: 12 }],
  ["sharpen", { amount: 1, radiusPx: 2 }],
  ["glow", { amount: 0.5, radiusPx: 8, fromEv: -2 }],
  ["noise", { sigma: 0.02, light: 2, color: 3 }],
  ["falloff", { ev: -1.5, centreX: 0.9, start: 0 }],
] as const;
it.each(SPATIAL)("%s is the same in one piece and in parts", async (adjustment, values) => {
  const job = await prepared(addLayer({ name: "A", content: { type: "adjustment", adjustment, values } })(plain));
  const whole = planesOf(job, "layers", { x: 0, y: 0, width: W, height: H });
  const got = planesOf(job, "layers");
  const merge = planesOf(job, "merge");
  const inWhole = (i: number) => (RECT.y + Math.floor(i / RECT.width)) * W + RECT.x + (i % RECT.width);
  near(got, (i) => pixel(whole, inWhole(i)), 2e-5);
  let changed = 0;
  for (let i = 0; i < N; i++) {
    if (Math.abs(got[0][i] / merge[0][i] - 1) > 0.005) changed++;
  }
  expect(changed).toBeGreaterThan(0.1 * N);
});

it("a frame's corners are pulled to where they are wanted, and a picture of another set lies in the middle at its own size", async () => {
  const [, f1, f2] = framesOf(plain);
  const corners = [20, 10, 0, 0, -30, -40, 0, 0];
  const moved: Moved = { dx: 0, dy: 0, angleDeg: 0, scale: 1, corners };
  const matrix = movedMatrix(moved, { width: W, height: H });
  const wanted = [
    [0, 0, 20, 10],
    [W - 1, 0, W - 1, 0],
    [W - 1, H - 1, W - 31, H - 41],
    [0, H - 1, 0, H - 1],
  ];
  for (const [x, y, u, v] of wanted) project(matrix, x, y).forEach((p, c) => expect(p).toBeCloseTo([u, v][c], 6));
  // corners that would fold the picture over leave it as it is
  expect(movedMatrix({ ...moved, corners: [2 * W, 2 * H, 0, 0, 0, 0, 0, 0] }, { width: W, height: H }).map((v) => v + 0)).toEqual(IDENTITY);
  const pulled = await prepared(addLayer({ name: "A", content: wholeFrame(f1.id, { moved }) })(plain));
  const [got, merge] = [planesOf(pulled, "layers", { x: 0, y: 0, width: 40, height: 30 }), planesOf(pulled, "merge", { x: 0, y: 0, width: 40, height: 30 })];
  expect(got[0][0]).toBe(merge[0][0]);
  expect(got[0][29 * 40 + 39]).not.toBe(merge[0][29 * 40 + 39]);

  // a frame that is not merged is shown as it is: px by px, since it has the size of the picture
  const out = updateRecord<FrameRecord>(f2.id, { excluded: true })(plain);
  const other = await prepared(addLayer({ name: "B", content: wholeFrame(f2.id) })(out));
  expect(other.inputs.frames).toHaveLength(2);
  const shown = planesOf(other, "layers");
  const own = node.ctx.kernels.withScope((scope) =>
    each(readLayer(scope, other.pictures.get(f2.id)!, 0, RECT, 0)).map((at) => node.ctx.kernels.f32(at, N).slice()),
  );
  near(shown, (i) => pixel(own, i), 1e-5);
  const small = addLayer({ name: "B", content: wholeFrame(f2.id, { moved: { ...UNMOVED, scale: 0.25 } }) })(out);
  const [laid, ground] = [
    planesOf(await prepared(small), "layers", { x: 0, y: 0, width: W, height: H }),
    planesOf(other, "merge", { x: 0, y: 0, width: W, height: H }),
  ];
  const differs = [...laid[0]].flatMap((v, i) => (v === ground[0][i] ? [] : [i]));
  const [xs, ys] = [[...differs].map((i) => i % W), [...differs].map((i) => Math.floor(i / W))];
  expect([Math.max(...xs) - Math.min(...xs) + 1, Math.max(...ys) - Math.min(...ys) + 1]).toEqual([expect.closeTo(W / 4, -0.7), expect.closeTo(H / 4, -0.7)]);
});

it("neutral values change nothing", async () => {
  // a tone response brings scene light to a screen whatever its values
  for (const adjustment of (Object.keys(ADJUSTMENT_RECORDS) as Adjustment[]).filter((a) => a !== "toneResponse")) {
    const job = await prepared(addLayer({ name: adjustment, content: { type: "adjustment", adjustment, values: {} } })(plain));
    const merge = planesOf(job, "merge");
    // through tables of the encoded curve and Oklab and back
    near(planesOf(job, "layers"), (i) => pixel(merge, i), 2e-5);
  }
});

it("the shape of a mask is the mask, at a size of its own; a part is told alone, and nothing else of the layers is made for it", async () => {
  const half = part({ kind: "polygon", points: [-1, -1, W / 2, -1, W / 2, H, -1, H] });
  const disc = part({ kind: "ellipse", cx: W / 2, cy: H / 2, rx: 60, ry: 60, angleDeg: 0 }, { combine: "intersect" });
  const whole = addLayer({ id: "t", name: "T", content: { type: "adjustment", adjustment: "localTone", values: { strength: 0.5 } } })(plain);
  const records = addLayer({ id: "a", name: "A", mask: freshMask(0, [half, disc]), content: { type: "merge" } })(whole);
  const own = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const [id, bytes] of node.sources) own.sources.set(id, bytes);
  const shape = (partId: string | null) => own.ask("maskShape", { records, layerId: "a", partId, side: 240 });
  const [both, alone] = [await shape(null), await shape(disc.id)];
  const level = Math.ceil(Math.log2(Math.max(W, H) / 240));
  expect([both.width, both.height]).toEqual([Math.ceil(W / 2 ** level), Math.ceil(H / 2 ** level)]);
  const job = await prepared(records);
  const mask = maskPlane(node.ctx, job, layerOf(records, "a")!, level, { x: 0, y: 0, width: both.width, height: both.height });
  expect([...both.values]).toEqual([...mask].map((v) => Math.round(255 * v)));
  const area = ({ values }: { values: Uint8Array }) => values.reduce((sum, v) => sum + v, 0);
  expect(area(alone) / area(both)).toBeCloseTo(2, 1);
  // smaller than any level of a frame that is kept: at the coarsest that is
  const detail = part({ kind: "sharpness", of: framesOf(plain)[0].id, sizePx: 4, fromEv: 0.06, softEv: 0.02 });
  const measured = addLayer({ id: "a", name: "A", mask: freshMask(0, [detail]), content: { type: "merge" } })(plain);
  const coarsest = levelCount(W, H) - 1;
  const small = await own.ask("maskShape", { records: measured, layerId: "a", partId: null, side: 8 });
  expect([small.width, small.height]).toEqual([Math.ceil(W / 2 ** coarsest), Math.ceil(H / 2 ** coarsest)]);
  await expect(own.ask("maskShape", { records: plain, layerId: "a", partId: null, side: 120 })).rejects.toThrow("view.layerGone");
});

describe("groups that let through", () => {
  const exposure = (id: string, ev: number, parentId: string | null = null, mask = freshMask(1)) =>
    addLayer({ id, name: id, parentId, mask, content: { type: "adjustment", adjustment: "exposure", values: { ev } } });
  const through = (mask = freshMask(1), opacity = 1) => addLayer({ id: "g", name: "G", mask, opacity, content: { type: "group", through: true } });

  it("its layers work on what lies below, as if there were no group", async () => {
    const inGroup = exposure("b", -0.5, "g")(exposure("a", 1, "g")(through()(plain)));
    const alone = exposure("b", -0.5)(exposure("a", 1)(plain));
    const [p, q] = [planesOf(await prepared(inGroup), "layers"), planesOf(await prepared(alone), "layers")];
    near(p, (i) => pixel(q, i), 1e-9);
  });

  it("it acts as far as its own mask and opacity let it", async () => {
    const half = freshMask(0, [part({ kind: "polygon", points: [-1, -1, 100, -1, 100, H, -1, H] })]);
    const [merge, made] = [planesOf(await prepared(plain), "merge"), planesOf(await prepared(exposure("a", 1, "g")(through(half)(plain))), "layers")];
    const at = (x: number, y: number) => y * RECT.width + x;
    expect(pixel(made, at(20, 60))[0] / pixel(merge, at(20, 60))[0]).toBeCloseTo(2, 4);
    expect(pixel(made, at(110, 60))).toEqual(pixel(merge, at(110, 60)));
    const faint = planesOf(await prepared(exposure("a", 1, "g")(through(freshMask(1), 0.5)(plain))), "layers");
    const between = pixel(faint, at(20, 60))[0] / pixel(merge, at(20, 60))[0];
    expect(between).toBeGreaterThan(1.3);
    expect(between).toBeLessThan(1.7);
  });

  it("in another group it changes what that holds and adds nothing", async () => {
    const painted = freshMask(0, [part({ kind: "polygon", points: [50, 70, 100, 70, 100, 120, 50, 120] })]);
    const held = addLayer({ id: "o", name: "O", content: { type: "group", through: false } })(plain);
    const filled = addLayer({ id: "f", name: "F", parentId: "o", mask: painted, content: { type: "merge" } })(held);
    const inner = addLayer({ id: "g", name: "G", parentId: "o", content: { type: "group", through: true } })(filled);
    const [merge, made] = [planesOf(await prepared(plain), "merge"), planesOf(await prepared(exposure("a", 1, "g")(inner)), "layers")];
    expect(pixel(made, 30 * RECT.width + 30)[0] / pixel(merge, 30 * RECT.width + 30)[0]).toBeCloseTo(2, 4);
    expect(pixel(made, 75 * RECT.width + 110)).toEqual(pixel(merge, 75 * RECT.width + 110));
  });

  it("a local tone response in a layer is the one of the finish, and follows what lies below it", async () => {
    const values = { strength: 0.7, scale: 0.1 };
    const local = (parentId: string | null) => addLayer({ id: "t", name: "T", parentId, content: { type: "adjustment", adjustment: "localTone", values } });
    const [inGroup, alone] = await Promise.all([local("g")(through()(plain)), local(null)(plain)].map((r) => prepared(r)));
    const [p, q] = [planesOf(inGroup, "layers"), planesOf(alone, "layers")];
    near(p, (i) => pixel(q, i), 1e-9);
    const merge = planesOf(alone, "merge");
    expect([...q[0]].some((v, i) => Math.abs(v - merge[0][i]) > 0.01)).toBe(true);
    // twice the light everywhere is twice the light about another pivot: EV of the base move by one
    const lifted = await prepared(local(null)(exposure("a", 1)(plain)));
    expect([...lifted.prepared.values()][0]).not.toBe([...alone.prepared.values()][0]);
  });
});

it("tones and hues of the picture are measured", async () => {
  const tones = await measureTones(node.ctx, await prepared(plain), SILENT);
  const merge = planesOf(await prepared(plain), "merge", { x: 0, y: 0, width: W, height: H });
  const light = Array.from(merge[0], (_, i) => Math.log2(LUMINANCE.reduce((s, w, c) => s + w * merge[c][i], 0))).sort((a, b) => a - b);
  expect(tones.darkestEv).toBeCloseTo(light[Math.round(0.005 * (light.length - 1))], 3);
  expect(tones.brightestEv).toBeCloseTo(light[Math.round(0.995 * (light.length - 1))], 3);
  // red stronger than green, green than blue: one warm hue, wherever there is chroma enough
  expect(tones.hues[0].share).toBeGreaterThan(0.95 * tones.hues.reduce((sum, h) => sum + h.share, 0));
  expect(tones.hues[0].hueDeg).toBeGreaterThan(30);
  expect(tones.hues[0].hueDeg).toBeLessThan(90);
});

describe("findings of layers", () => {
  const findings = async (records: Records) => layerFindings(node.ctx, await prepared(records), SILENT);
  const whole = { type: "adjustment" as const, adjustment: "sharpen" as const, values: { amount: 1 } };
  const stroke = (reveal: boolean): StrokeRecord => newStroke({ layerId: "a", reveal, diameterPx: 60, points: [100, 100, 1] });

  it("sharpening twice at the same places, and not where masks keep apart", async () => {
    const two = addLayer({ name: "B", content: whole })(addLayer({ name: "A", content: whole })(plain));
    expect((await findings(two)).map((f) => f.kind)).toEqual(["sharpenedTwice"]);
    const half = (x0: number, x1: number) => freshMask(0, [part({ kind: "polygon", points: [x0, -1, x1, -1, x1, H, x0, H] })]);
    const apart = addLayer({ name: "B", content: whole, mask: half(210, W) })(addLayer({ name: "A", content: whole, mask: half(-1, 210) })(plain));
    expect(await findings(apart)).toEqual([]);
  });

  it("a mask whose strokes do nothing, or that is turned over; its remedy mends it", async () => {
    const content = wholeFrame(framesOf(plain)[1].id);
    const idle = addRecord(stroke(true))(addLayer({ id: "a", name: "A", content, mask: paintedMask(1, "p") })(plain));
    const [found] = (await findings(idle)).filter((f) => f.kind === "turnedMask");
    expect(found.remedy).toMatchObject({ kind: "changeMask", change: { base: 0 } });
    const turned = addRecord(stroke(true))(addLayer({ id: "a", name: "A", content, mask: { ...paintedMask(0, "p"), inverted: true } })(plain));
    expect((await findings(turned)).find((f) => f.kind === "turnedMask")?.remedy).toMatchObject({ change: { inverted: false } });
    const right = addRecord(stroke(true))(addLayer({ id: "a", name: "A", content, mask: paintedMask(0, "p") })(plain));
    expect((await findings(right)).filter((f) => f.kind === "turnedMask")).toEqual([]);
  });

  it("an adjustment that reaches beyond the layer it lies on", async () => {
    const content = wholeFrame(framesOf(plain)[1].id);
    const spot = freshMask(0, [part({ kind: "ellipse", cx: 100, cy: 100, rx: 40, ry: 40, angleDeg: 0 })]);
    const strong = { type: "adjustment" as const, adjustment: "exposure" as const, values: { ev: 1 } };
    const leaking = addLayer({ id: "x", name: "X", content: strong })(addLayer({ name: "A", content, mask: spot })(plain));
    const [leak] = (await findings(leaking)).filter((f) => f.kind === "leak");
    // an ellipse of 40 px in 420 × 300: 4 % inside
    const { share } = leak.values as { share: number };
    expect(Math.abs(share - 0.95)).toBeLessThan(0.025);
    expect((await findings(updateLayer("x", { clipped: true })(leaking))).filter((f) => f.kind === "leak")).toEqual([]);
  });
});

describe("order and copies of layers", () => {
  const order = (r: Records, parentId: string | null = null): string[] =>
    childrenOf(r, parentId)
      .filter((l) => !isFinish(l))
      .map((l) => l.id);
  const three = () => ["a", "b", "c"].reduce((r, id) => addLayer({ id, name: id, content: { type: "merge" } })(r), plain);

  it("moves, groups and takes groups away", () => {
    const r = three();
    expect(order(moveLayer("a", 1)(r))).toEqual(["b", "a", "c"]);
    expect(order(moveLayer("c", 1)(r))).toEqual(["a", "b", "c"]);
    expect(order(placeLayer("c", "a", null)(r))).toEqual(["a", "c", "b"]);
    const grouped = groupLayer("b", "G")(r);
    const group = composedLayersOf(grouped).find((l) => l.content.type === "group")!;
    expect(order(grouped)).toEqual(["a", group.id, "c"]);
    expect(order(grouped, group.id)).toEqual(["b"]);
    const two = placeLayer("c", "b", group.id)(grouped);
    expect(order(two, group.id)).toEqual(["b", "c"]);
    expect(placeLayer(group.id, null, group.id)(two)).toBe(two);
    expect(order(ungroup(group.id)(two))).toEqual(["a", "b", "c"]);
  });

  it("a copy has parts and strokes of its own; a mask can be taken as a copy or followed", () => {
    let r = addLayer({ id: "a", name: "a", content: { type: "merge" }, mask: paintedMask(0, "p") })(plain);
    const stroke: StrokeRecord = newStroke({ layerId: "a", points: [1, 2, 1] });
    r = addRecord(stroke)(r);
    const doubled = duplicateLayer("a")(r);
    const copy = composedLayersOf(doubled).find((l) => l.id !== "a") as LayerRecord;
    expect(order(doubled)).toEqual(["a", copy.id]);
    expect(copy.mask.parts[0].id).not.toBe("p");
    expect(strokesOf(doubled, copy.id).map((s) => [s.partId, s.points])).toEqual([[copy.mask.parts[0].id, stroke.points]]);
    const other = addLayer({ id: "b", name: "b", content: { type: "merge" } })(r);
    expect(strokesOf(takeMask("b", "a", false)(other), "b")).toHaveLength(1);
    expect(layerOf(takeMask("b", "a", true)(other), "b")!.mask.parts).toMatchObject([{ kind: "link", layerId: "a" }]);
    expect(updateLayer("nowhere", { name: "x" })(r)).toBe(r);
    expect(layerOf(addPart("b", { kind: "ramp", x0: 0, y0: 0, x1: 1, y1: 1 }).edit(other), "b")!.mask.base).toBe(0);
  });

  it("parts of a mask go into groups and out again, with their strokes where they are removed", () => {
    const ramp = part({ kind: "ramp", x0: 0, y0: 0, x1: 1, y1: 1 }, { id: "ramp" });
    const painted = { ...paintedMask(0, "paint").parts[0] };
    const light = part({ kind: "light", of: null, fromEv: -3, toEv: -1, softEv: 1 }, { id: "light", combine: "subtract" });
    let r = addLayer({ id: "a", name: "A", content: { type: "merge" }, mask: freshMask(0, [ramp, light, painted]) })(plain);
    r = addRecord(newStroke({ id: "s", layerId: "a", partId: "paint" }))(r);
    const grouped = groupPart("a", "light");
    r = grouped.edit(r);
    r = putIntoGroup("a", "paint", grouped.groupId)(r);
    const names = (records: Records) =>
      allParts(layerOf(records, "a")!.mask.parts).map((p) => `${p.depth} ${p.part.id === grouped.groupId ? "group" : p.part.id} ${p.part.combine}`);
    expect(names(r)).toEqual(["0 ramp add", "0 group subtract", "1 light add", "1 paint add"]);
    expect(names(movePart("a", "paint", -1)(r))).toEqual(["0 ramp add", "0 group subtract", "1 paint add", "1 light add"]);
    expect(names(putIntoGroup("a", grouped.groupId, grouped.groupId)(r))).toEqual(names(r));
    expect(names(ungroupParts("a", grouped.groupId)(r))).toEqual(["0 ramp add", "0 light subtract", "0 paint add"]);
    const doubled = composedLayersOf(duplicateLayer("a")(r)).find((l) => l.id !== "a")!;
    expect(allParts(doubled.mask.parts).map((p) => p.part.kind)).toEqual(["ramp", "group", "light", "painted"]);
    expect(strokesOf(duplicateLayer("a")(r), doubled.id)).toHaveLength(0);
    expect(VALIDATORS.layer.isValidSync(layerOf(r, "a"), { strict: true })).toBe(true);
    const removed = removePart("a", grouped.groupId)(r);
    expect(names(removed)).toEqual(["0 ramp add"]);
    expect(strokesOf(removed, "a")).toEqual([]);
  });

  it("all frames are laid to blend by hand, the first whole", () => {
    const frames = framesOf(plain).map((f, i) => ({
      frameId: f.id,
      name: f.fileName,
      featherPx: 8,
      shape: { kind: "light" as const, of: null, fromEv: -4 + i, toEv: -1 + i, softEv: 1 },
    }));
    const r = layFramesByHand(frames)(plain);
    expect(composedLayersOf(r).map((l) => [l.mask.base, l.mask.parts.map((p) => p.kind).join()])).toEqual([
      [1, "painted"],
      [0, "light,painted"],
      [0, "light,painted"],
    ]);
  });
});

it("a layer mixed across its border is itself inside and nothing outside; between, coarse differences go over wider than fine ones", async () => {
  const edge: PartShape = { kind: "polygon", points: [-1, -1, 209.5, -1, 209.5, 999, -1, 999] };
  const grey = { type: "fill" as const, grain: 0, grainPx: 2, ramp: null };
  const ground = addLayer({ id: "g", name: "G", content: { ...grey, red: 0.3, green: 0.3, blue: 0.3 } })(plain);
  const laid = (seamPx: number) =>
    addLayer({ id: "t", name: "T", seamPx, content: { ...grey, red: 0.7, green: 0.7, blue: 0.7 }, mask: freshMask(0, [part(edge)]) })(ground);
  const row = async (records: Records) => planesOf(await prepared(records), "layers", { x: 0, y: 150, width: W, height: 1 })[1];
  const [plainEdge, mixed] = [await row(laid(0)), await row(laid(24))];
  const [inside, outside] = [plainEdge[10], plainEdge[400]];
  expect([mixed[10], mixed[400]]).toEqual([expect.closeTo(inside, 5), expect.closeTo(outside, 5)]);
  // an even difference is wholly coarse: on the root of light the border is the blurred mask, half way at the edge
  expect(Math.sqrt(mixed[209]) + Math.sqrt(mixed[210])).toBeCloseTo(Math.sqrt(inside) + Math.sqrt(outside), 2);
  for (let x = 150; x < 270; x++) expect(mixed[x + 1]).toBeLessThanOrEqual(mixed[x] + 1e-6);
  expect(mixed[215]).toBeGreaterThan(outside * 1.2);
  expect(plainEdge[215]).toBeCloseTo(outside, 6);
});

it("layers that stay as they are while others change are taken from where they are kept, and the picture is the same", async () => {
  const [f0, f1] = framesOf(plain);
  const frame = (frameId: string) => wholeFrame(frameId);
  let r = addLayer({ id: "a", name: "A", content: frame(f0.id), mask: paintedMask(0, "paint") })(plain);
  r = addLayer({ id: "b", name: "B", content: { type: "adjustment", adjustment: "sharpen", values: { amount: 1, radiusPx: 5 } }, clipped: true })(r);
  r = addLayer({ id: "c", name: "C", content: { type: "adjustment", adjustment: "exposure", values: { ev: 0.5 } }, clipped: true })(r);
  r = addLayer({ id: "d", name: "D", content: frame(f1.id), opacity: 0.5, mask: freshMask(0, [part({ kind: "link", layerId: "e" })]) })(r);
  r = addLayer({ id: "e", name: "E", content: frame(f1.id), mask: paintedMask(0, "on e") })(r);
  const stroke = (id: string, layerId: string, partId: string, points: number[]) => newStroke({ id, layerId, partId, diameterPx: 50, points });
  const states: [string, Records, number][] = [];
  const then = (what: string, records: Records, unchanged: number) => states.push([what, (r = records), unchanged]);
  then("first seen", r, 0);
  then("painted on the top layer, whose mask the one below follows", addRecord(stroke("s1", "e", "on e", [100, 100, 1]))(r), 3);
  then("the stroke grows", addRecord(stroke("s1", "e", "on e", [100, 100, 1, 120, 100, 1]))(r), 3);
  then("a value of a layer that is clipped", updateLayer("c", { content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } } })(r), 0);
  then("the top layer's opacity, of which only the mask matters below", updateLayer("e", { opacity: 0.7 })(r), 4);
  then("the lowest mask", addRecord(stroke("s2", "a", "paint", [90, 90, 1]))(r), 0);
  then("the top layer's opacity again", updateLayer("e", { opacity: 0.4 })(r), 4);
  then("a layer taken away", updateLayer("d", { visible: false })(r), 3);
  for (const [what, records, count] of states) {
    const job = await prepared(records);
    const unchanged = unchangedLayers(node.ctx, job);
    expect([what, unchanged]).toEqual([what, count]);
    const [kept, fresh] = [planesOf({ ...job, unchanged }, "layers"), planesOf(job, "layers")];
    near(kept, (i) => pixel(fresh, i), 1e-5);
  }
});

it("while a value on top is dragged, the view takes the layers below from where they are kept", async () => {
  const lower = addLayer({
    id: "low",
    name: "Low",
    content: { type: "adjustment", adjustment: "contrast", values: { factor: 1.2, pivot: 0.18 } },
    opacity: 0.5,
  });
  const draw = (ev: number) => {
    const records = setFinish("exposure", { ev })(lower(plain));
    return node.ask("renderRect", { records, view: { kind: "output" }, level: 0, rect: RECT, space: "srgb" });
  };
  const run = jest.spyOn(node.ctx.kernels, "run");
  const graded = async (ev: number) => {
    run.mockClear();
    const { rgba } = await draw(ev);
    return { rgba, times: run.mock.calls.filter(([kernel]) => kernel === "gradeSamples").length };
  };
  expect((await graded(0.1)).times).toBeGreaterThan(0);
  await graded(0.2);
  const dragged = await graded(0.3);
  run.mockRestore();
  expect(dragged.times).toBe(0);
  expect((await draw(0.1)).rgba).not.toEqual(dragged.rgba);
});

it("a fill turns from one colour into another between two places", async () => {
  const ramp = { red: 0.1, green: 0.9, blue: 0.4, x0: 60, y0: 0, x1: 140, y1: 0 };
  const colour = { red: 0.8, green: 0.3, blue: 0.2 };
  const job = await prepared(addLayer({ id: "f", name: "F", content: { type: "fill", ...colour, grain: 0, grainPx: 2, ramp } })(plain));
  near(planesOf(job, "layers"), (i) => {
    const t = smoothstep((RECT.x + (i % RECT.width) - 60) / 80);
    const mixed = (["red", "green", "blue"] as const).map((c) => decodeSrgb(colour[c] + (ramp[c] - colour[c]) * t));
    return transform(rgbToRgb(REC709, REC2020), mixed);
  });
});

it("grain lies on the picture: the same at a place whatever rectangle it is asked for in, of the spread that was asked for", async () => {
  const { grain } = await import("../core/adjust/grain");
  const whole = grain(2.5, 0, { x: 0, y: 0, width: 300, height: 200 });
  const piece = grain(2.5, 0, { x: 50, y: 40, width: 20, height: 10 });
  for (let y = 0; y < 10; y++) expect([...piece.subarray(y * 20, y * 20 + 20)]).toEqual([...whole.subarray((y + 40) * 300 + 50, (y + 40) * 300 + 70)]);
  const mean = whole.reduce((a, b) => a + b, 0) / whole.length;
  const spread = Math.sqrt(whole.reduce((s, v) => s + (v - mean) ** 2, 0) / whole.length);
  expect(Math.abs(mean)).toBeLessThan(0.03);
  expect(Math.abs(spread - 1)).toBeLessThan(0.05);
});
