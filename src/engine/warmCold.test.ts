/**
 * Whatever is done, in any order: what the screen shows with everything kept is what an engine that keeps nothing makes of the same job. How many sequences
 * are tried: MARSH_SEQUENCES.
 */
import { UNMOVED, wholeFrame } from "../kinds/contents/frame/record";
import { SILENT } from "./task";
import { readLayer } from "./operations/merge/readLayer";
import { each } from "./operations/frames/frameSamples";
import { prepareJob } from "./operations/layers/compose";
import { cutOut } from "../core/raster/planeParts";
import fc from "fast-check";
import { DRAWN, editOf, UNIT, type Drawn } from "../../tests/support/randomEdits";
import { newStroke } from "../../tests/support/records";
import { FILES, worldJob } from "../../tests/support/worldJob";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { layOut, type PanoramaView } from "../core/panorama/layout";
import type { MergeMethod } from "../kinds/merges/records";
import { sizeAtLevel, type Rectangle } from "../core/geometry/rectangle";
import { VALIDATORS } from "../document/records/validators";
import type { Records, StrokeRecord } from "../document/records/types";
import { addRecord, developFrames, type Edit } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { hideSeat } from "../document/hideSeat";
import { addLayer, blurLayer, paintedMask, updateLayer } from "../document/layerEdits";
import { layReflection } from "../document/reflectionEdits";
import { focusAt, layBleed, layStillWater } from "../document/airEdits";
import { addLamp, changeLamp, layBeam, layGlow, layLampLight, layLampShadow, layMirror, layRelight, removeLamp } from "../document/lampEdits";
import { addSeat, changeSeat, mirrorSeat, tellPlate } from "../document/seatEdits";
import { layOtherSky } from "../document/skyEdits";
import { layShadow } from "../document/shadowEdits";
import { sinkSeat } from "../document/sinkSeat";
import { setPanoramaView } from "../document/panoramaEdits";
import { documentSize, framesOf, layersOf, mergeOf, panoramaCamerasOf, panoramaOf } from "../document/selectors";
import { createContext } from "./EngineContext";
import { createAsk, type Ask } from "./requests";
import { tilesOf, type HeldTiles } from "./operations/view/viewTiles";
import type { ViewSpec } from "./operations/view/ViewSpec";
import { sha256 } from "./graph/keys";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const SEQUENCES = Number(process.env.MARSH_SEQUENCES ?? 60);
const SEED = process.env.MARSH_SEED ? Number(process.env.MARSH_SEED) : undefined;
const LENGTH = 7;

let node: NodeEngine;
const starts = new Map<MergeMethod, Records>();
/** Merges that take long to make anew are tried less often. */
const OFTEN: MergeMethod[] = ["radiance", "fusion", "clippedMean", "base"];
const SELDOM: MergeMethod[] = ["focus", "panorama"];
const METHOD = fc.nat(49).map((n) => SELDOM[n] ?? OFTEN[n % OFTEN.length]);
const sources = new Map<string, Uint8Array>();

beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const bytes of FILES) sources.set(await sha256(bytes), bytes);
  for (const method of [...OFTEN, ...SELDOM]) starts.set(method, await worldJob(node, method));
});

/** An engine that knows nothing but the decoded sources, over the same kernels. */
function freshEngine(): Ask {
  const { kernels, codecs, store, colors } = node.ctx;
  const own = new MemoryRasterStore();
  const open = async (key: string) => (key.startsWith("source-") ? store.open(key) : own.open(key));
  const host = { kernels, codecs, loadSource: async (id: string) => sources.get(id)! };
  return createAsk({ ...createContext({ ...host, store: { open, create: own.create.bind(own), remove: own.remove.bind(own) } }), colors });
}

/** What a screen holds of a view, put together from what the engine sends, as the painter does. */
class Screen {
  private held: HeldTiles | null = null;
  private pixels = new Uint8ClampedArray();

  constructor(private readonly ask: Ask) {}

  async show(records: Records, view: ViewSpec, level: number, rect: Rectangle): Promise<{ rect: Rectangle; level: number; pixels: Uint8ClampedArray }> {
    const got = await this.ask("renderView", { records, view, level, rect, space: "srgb", held: this.held });
    const next = new Uint8ClampedArray(got.rect.width * got.rect.height * 4);
    if (this.held?.level === got.level) copy(this.pixels, this.held.rect, next, got.rect);
    for (const { rect: part, rgba } of got.pieces) copy(rgba, part, next, got.rect);
    expect(got.keys).toHaveLength(tilesOf(got.rect).length);
    this.held = { level: got.level, rect: got.rect, keys: got.keys };
    this.pixels = next;
    return { rect: got.rect, level: got.level, pixels: next };
  }
}

function copy(from: Uint8ClampedArray, a: Rectangle, to: Uint8ClampedArray, b: Rectangle): void {
  for (let y = Math.max(a.y, b.y); y < Math.min(a.y + a.height, b.y + b.height); y++) {
    const [x0, x1] = [Math.max(a.x, b.x), Math.min(a.x + a.width, b.x + b.width)];
    if (x1 <= x0) return;
    const at = ((y - a.y) * a.width + x0 - a.x) * 4;
    to.set(from.subarray(at, at + (x1 - x0) * 4), ((y - b.y) * b.width + x0 - b.x) * 4);
  }
}

function viewOf(records: Records, { kind, which, a }: Drawn): ViewSpec {
  const layers = layersOf(records);
  const layer = layers[Math.floor(which * layers.length)];
  if (kind < 0.5 || !layer) return { kind: "compose" };
  if (kind < 0.55) return { kind: "residual", layerId: layer.id };
  if (kind < 0.8) return { kind: "mask", layerId: layer.id, as: a < 0.4 ? "alone" : a < 0.7 ? "pattern" : "edge" };
  if (kind < 0.9) return { kind: "output" };
  return kind < 0.95 ? { kind: "merge", method: null } : { kind: "provenance" };
}

function placeOf(records: Records, { a, b, c }: Drawn): { level: number; rect: Rectangle } {
  const size = documentSize(records)!;
  const level = c > 0.75 ? 1 : 0;
  const { width, height } = sizeAtLevel(size.width, size.height, level);
  const [x, y] = a < 0.5 ? [0, 0] : [Math.floor((width / 3) * b), Math.floor((height / 3) * a)];
  return { level, rect: { x, y, width: width - x, height: height - y } };
}

/** Largest difference of two pictures, and how many samples differ. */
function differ(a: Uint8ClampedArray, b: Uint8ClampedArray): { most: number; count: number } {
  expect(a).toHaveLength(b.length);
  let [most, count] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (a[i] === b[i]) continue;
    count++;
    most = Math.max(most, Math.abs(a[i] - b[i]));
  }
  return { most, count };
}

/** States shown one after the other, each held to a cold engine over the whole picture. */
async function expectWarmEqualsCold(states: Records[], view: ViewSpec = { kind: "compose" }): Promise<void> {
  const screen = new Screen(node.ask);
  for (const [i, records] of states.entries()) {
    const { width, height } = documentSize(records)!;
    const warm = await screen.show(records, view, 0, { x: 0, y: 0, width, height });
    const cold = await freshEngine()("renderRect", { records, view, level: 0, rect: warm.rect, space: "srgb" });
    expect([i, differ(warm.pixels, cold.rgba).most]).toEqual([i, 0]);
  }
}

const then = (start: Records, ...edits: Edit[]): Records[] => edits.reduce<Records[]>((all, edit) => [...all, edit(all[all.length - 1])], [start]).slice(1);
const lift = addLayer({ id: "l", name: "L", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1.5 } }, mask: paintedMask(0, "p") });
const stroke = (points: number[], over = {}) => newStroke({ id: "s", layerId: "l", partId: "p", diameterPx: 30, points, ...over });
const grown =
  (points: number[]): Edit =>
  (r) => ({ ...r, s: { ...(r.s as StrokeRecord), points: [...(r.s as StrokeRecord).points, ...points] } });

it("what was painted goes along when a panorama is laid out in another projection, and comes back with it", async () => {
  const start = starts.get("panorama")!;
  const view = panoramaOf(start)!.view;
  const flat = layOut(panoramaCamerasOf(start), { yawDeg: 12, pitchDeg: 4, rollDeg: 0 }, "equirectangular")!;
  const show = (v: PanoramaView): Edit => setPanoramaView(v, { x: 0, y: 0, width: v.width, height: v.height });
  await expectWarmEqualsCold(then(start, lift, addRecord(stroke([view.width / 2, 70, 1, view.width / 2 + 40, 90, 1])), show(flat), show(view)));
});

it("a retouch changes its whole area while it is painted, wherever it takes from, and the local tone response the whole picture", async () => {
  const start = starts.get("radiance")!;
  for (const method of ["heal", "clone", "smooth"] as const) {
    const content = { type: "retouch" as const, method, dx: 60, dy: -20, angleDeg: 0, scale: 1, mirrored: false };
    const mend = addLayer({ id: "l", name: "R", content, mask: paintedMask(0, "p") });
    const below = addLayer({ id: "below", name: "B", content: { type: "adjustment", adjustment: "exposure", values: { ev: -1 } }, mask: paintedMask(0, "q") });
    const under = addRecord(newStroke({ id: "u", layerId: "below", partId: "q", diameterPx: 40, points: [200, 60, 1] }));
    await expectWarmEqualsCold(then(start, below, mend, addRecord(stroke([140, 80, 1])), grown([150, 90, 1]), under, grown([30, 150, 1])));
  }
  // so does air that is told by the picture itself, wherever it lies
  const values = { amount: 0.8, airEv: -1.2 };
  const cleared = addLayer({ id: "air", name: "Air", content: { type: "adjustment", adjustment: "clearing", values } });
  const thicker = updateLayer("air", { content: { type: "adjustment", adjustment: "clearing", values: { ...values, airEv: -0.6 } } });
  const under = addLayer({ id: "below", name: "B", content: { type: "adjustment", adjustment: "exposure", values: { ev: -1 } } });
  const dropped = updateLayer("below", { visible: false });
  await expectWarmEqualsCold(then(start, under, cleared, lift, addRecord(stroke([40, 40, 1])), grown([60, 60, 1]), thicker, dropped));
  const evened = setFinish("localTone", { strength: 0.7, scale: 0.1 });
  await expectWarmEqualsCold(then(start, evened, lift, addRecord(stroke([40, 40, 1])), grown([60, 60, 1])));
});

it("a frame of another set, below what is worked on, shows as it is developed", async () => {
  const start = starts.get("fusion")!;
  const other = framesOf(start).at(-1)!;
  const laid = addLayer({
    id: "o",
    name: "O",
    content: wholeFrame(other.id),
    opacity: 0.8,
  });
  const top = addRecord(stroke([90, 90, 1]));
  await expectWarmEqualsCold(then(start, laid, lift, top, grown([100, 100, 1]), developFrames([other.id], { exposureEv: 1 }), grown([140, 60, 1])));
});

it("a frame of a panorama is the same px in whatever rectangle it is read, shaded and covered", async () => {
  const job = await prepareJob(node.ctx, starts.get("panorama")!, SILENT);
  const read = (rect: Rectangle) =>
    node.ctx.kernels.withScope((scope) => {
      const [input] = job.inputs.frames;
      const n = rect.width * rect.height;
      const planes = each(readLayer(scope, input, 1, rect, 0)).map((at) => node.ctx.kernels.f32(at, n).slice());
      return [...planes, Float32Array.from(input.projected!.coverage(1, rect))];
    });
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, 1);
  const whole = { x: 0, y: 0, width, height };
  const all = read(whole);
  for (const rect of [
    { x: 13, y: 5, width: 70, height: 41 },
    { x: width - 22, y: 3, width: 22, height: height - 3 },
  ])
    expect(read(rect).map((plane, c) => plane.every((v, i) => v === cutOut(all[c], whole, rect)[i]))).toEqual([true, true, true, true]);
});

it("what is seated, and all that it throws, follows it and the plate", async () => {
  const start = starts.get("fusion")!;
  const { width, height } = documentSize(start)!;
  const at = (x: number, y: number): [number, number] => [x * width, y * height];
  const box = { x: Math.round(0.2 * width), y: Math.round(0.2 * height), width: Math.round(0.4 * width), height: Math.round(0.5 * height) };
  const cut = { by: "box" as const, box, plateId: null, plateMatrix: null, marks: [] };
  const content = wholeFrame(framesOf(start).at(-1)!.id, { moved: { ...UNMOVED }, cut });
  const foot = (x: number, y: number): Edit => changeSeat("seat", { foot: { x: x * width, y: y * height } });
  const pond = (heightM: number): Edit => tellPlate({ surfaces: [{ id: "pond", is: "water", heightM, places: [at(0, 0.6), at(1, 0.6), at(1, 1), at(0, 1)] }] });
  const wall: Edit = tellPlate({ surfaces: [{ id: "wall", is: "wall", heightM: 1, places: [at(0.1, 0.75), at(0.9, 0.7)] }] });
  const own = { footX: box.x + box.width / 2, footY: box.y + box.height, topX: box.x + box.width / 2, topY: box.y };
  const begin = [
    addLayer({ id: "l", name: "L", content, blendIn: "light" }),
    tellPlate({ stance: { pitchDeg: -10, rollDeg: 1, focalPx: width }, heightM: 1.6, heightBy: "hand", light: { azimuthDeg: 50, elevationDeg: 35 } }),
    addSeat("l", own, { x: 0.5 * width, y: 0.8 * height }, "seat"),
  ];
  const states = then(
    start,
    ...begin,
    layShadow("seat", { ratioEv: 2, sourceDeg: 2, shadowMired: -20 }, { shadow: "S", contact: "C" }),
    pond(0),
    layReflection("seat", { surfaceId: "pond", slope: 0.03, sky: [0.3, 0.3, 0.4] }, "R"),
    foot(0.6, 0.75),
    pond(-0.1),
    mirrorSeat("seat"),
    sinkSeat("seat", 15),
    wall,
    hideSeat("seat", true),
    tellPlate({ light: { azimuthDeg: -120, elevationDeg: 50 } }),
    foot(0.4, 0.7),
    changeSeat("seat", { on: "flat", turnDeg: 20 }),
    changeSeat("seat", { on: "sky", wideDeg: 20 }),
    updateLayer("l", { visible: false }),
  );
  // without a shadow, whose key holds the same: the water alone changes
  const narrow = tellPlate({ surfaces: [{ id: "pond", is: "water", heightM: 0, places: [at(0, 0.95), at(1, 0.95), at(1, 1), at(0, 1)] }] });
  const mirror = layReflection("seat", { surfaceId: "pond", slope: 0.01, sky: [0.9, 0.9, 0.9] }, "R");
  const wet = then(start, ...begin, pond(0), mirror, narrow);
  const shown = async (records: Records) => {
    const rect = { x: 0, y: 0, width, height };
    return (await freshEngine()("renderRect", { records, view: { kind: "compose" }, level: 0, rect, space: "srgb" })).rgba;
  };
  expect(differ(await shown(wet[4]), await shown(wet[5])).count).toBeGreaterThan(50);
  await expectWarmEqualsCold(wet);
  // each of the first edits shows
  expect(layersOf(states[5])).toHaveLength(4);
  expect(new Set(states).size).toBe(states.length);
  await expectWarmEqualsCold(states);
});

it("light and air on what is seated follow it, the lamp, the plate and the sky", async () => {
  const start = starts.get("fusion")!;
  const { width, height } = documentSize(start)!;
  const box = { x: Math.round(0.2 * width), y: Math.round(0.2 * height), width: Math.round(0.4 * width), height: Math.round(0.5 * height) };
  const cut = { by: "box" as const, box, plateId: null, plateMatrix: null, marks: [] };
  const [frame] = framesOf(start);
  const content = wholeFrame(framesOf(start).at(-1)!.id, { moved: { ...UNMOVED }, cut });
  const own = { footX: box.x + box.width / 2, footY: box.y + box.height, topX: box.x + box.width / 2, topY: box.y };
  const lamp = { id: "lamp", is: "lamp" as const, x: 0.3 * width, y: 0.2 * height, distanceM: 4, wide: 0.3, ev: 3, color: [1.3, 0.9, 0.5], isAdded: true };
  const mist = {
    type: "mist" as const,
    visibleM: 40,
    halfHeightM: 1,
    patchy: 0.5,
    cloudM: 2,
    seed: 1,
    color: [0.5, 0.5, 0.6],
    farM: 100,
    hides: [0.8, 1, 1.3],
  };
  const snow = {
    ...{ type: "particles" as const, count: 300, sizeMm: 20, nearM: 1, farM: 20, fallMs: 1, driftMs: 0.4, exposureS: 0.02, focusM: 5, blurPx: 6 },
    seed: 2,
  };
  const sky = {
    ...{ type: "otherSky" as const, frameId: frame.id, landId: framesOf(start)[1].id, bottomY: 0.6 * height, focalPx: width, horizonY: 0.6 * height },
    ...{
      panDeg: 0,
      liftDeg: 0,
      times: 1,
      exposureEv: 0,
      land: [0.8, 1, 1.2],
      landAmount: 1,
      haze: 0.4,
      hazeDeg: 4,
      hazeColor: [0.6, 0.6, 0.6],
      water: 1,
      sun: null,
    },
  };
  const at = (x: number, y: number): [number, number] => [x * width, y * height];
  const states = then(
    start,
    addLayer({ id: "l", name: "L", content, blendIn: "light" }),
    tellPlate({ stance: { pitchDeg: -10, rollDeg: 1, focalPx: width }, heightM: 1.6, heightBy: "hand", light: { azimuthDeg: 50, elevationDeg: 35 } }),
    addSeat("l", own, { x: 0.5 * width, y: 0.8 * height }, "seat"),
    addLamp(lamp),
    layLampLight("lamp", null, "Pool"),
    layLampShadow("lamp", "l", "Shadow"),
    layLampLight("lamp", "l", "Light"),
    layRelight("l", { azimuthDeg: -60, elevationDeg: 20, ratioEv: 1, toRatioEv: 2 }, "Turned"),
    layGlow("lamp", { rimEv: -2, fallEv: -1.5, bendEv: 0 }, "Glow"),
    layBeam("lamp", "Beam"),
    addLayer({ id: "mist", name: "Mist", blendIn: "light", content: mist }),
    addLayer({ id: "snow", name: "Snow", blendIn: "light", content: { ...snow, color: [0.9, 0.9, 0.9], solid: 0.9 } }),
    changeSeat("seat", { foot: { x: 0.6 * width, y: 0.7 * height } }),
    changeLamp("lamp", { x: 0.6 * width, color: [1, 1, 1] }),
    blurLayer("l", { radiusPx: 3, motionPx: 5, motionDeg: 20 }),
    tellPlate({ ambientEv: -2 }),
    layOtherSky(sky, "Sky"),
    tellPlate({ surfaces: [{ id: "pond", is: "water", heightM: 0, places: [at(0, 0.7), at(1, 0.7), at(1, 1), at(0, 1)] }] }),
    layMirror("lamp", "pond", "Road"),
    layStillWater("pond", "Smoothed water"),
    layBleed("l", 6, "Rim"),
    mirrorSeat("seat"),
    focusAt(3, "Field"),
    changeSeat("seat", { foot: { x: 0.55 * width, y: 0.75 * height } }),
    updateLayer("mist", { visible: false }),
    changeLamp("lamp", { distanceM: null, wide: 2 }),
    updateLayer("l", { visible: false }),
    removeLamp("lamp"),
  );
  expect(new Set(states).size).toBe(states.length);
  await expectWarmEqualsCold(states);
});

const step = fc.record({ edit: DRAWN, look: DRAWN, back: UNIT });

it(
  "the screen with all caches warm shows what a cold engine makes",
  async () => {
    await fc.assert(
      fc.asyncProperty(METHOD, fc.array(step, { minLength: 2, maxLength: LENGTH }), async (method, steps) => {
        const screen = new Screen(node.ask);
        const states = [starts.get(method)!];
        const done: string[] = [];
        for (const [i, { edit, look, back }] of steps.entries()) {
          const now = states[states.length - 1];
          if (back > 0.85 && states.length > 1) states.push(states[Math.floor(back * 7) % states.length]);
          else states.push(editOf(now, edit, i)(now));
          const records = states[states.length - 1];
          for (const [id, record] of Object.entries(records)) if (now[id] !== record) VALIDATORS[record.kind].validateSync(record, { strict: true });
          const view = viewOf(records, look);
          const { level, rect } = placeOf(records, look);
          done.push(`${mergeOf(records)?.method} ${JSON.stringify(view)} level ${level}`);
          const warm = await screen.show(records, view, level, rect);
          // what is wrong once stays wrong, so not every picture need be made twice
          if (i < steps.length - 1 && look.d < 0.75) continue;
          // a small picture has not every level: the cold one is of the level that the screen was given
          const cold = await freshEngine()("renderRect", { records, view, level: warm.level, rect: warm.rect, space: "srgb" });
          const off = differ(warm.pixels, cold.rgba);
          // blurs by running sums may round the last bit otherwise where a rectangle begins elsewhere: now and then one code
          if (off.most > 1 || off.count > warm.pixels.length / 2000)
            throw new Error(`${off.count} samples differ, by up to ${off.most}, after ${done.join("; ")}`);
        }
      }),
      { numRuns: SEQUENCES, seed: SEED, endOnFailure: process.env.MARSH_SHRINK !== "yes" },
    );
  },
  Math.max(120_000, SEQUENCES * 3000),
);
