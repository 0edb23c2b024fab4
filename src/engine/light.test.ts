/** Light and air on what is seated: lamps, glow, mist, things in the air, beams and another sky, as an engine makes them, in every rectangle and on every level. */
import { engine, GREY, H, laidBoard, light, seatedBoard, W } from "../../tests/support/boardScene";
import type { NodeEngine } from "../cli/createNodeEngine";
import { glowAt } from "../core/light/glow";
import { lampPlace } from "../core/light/lamp";
import { readFileSync } from "node:fs";
import { addFrames, setRegistration, startJob, takeStep, unmovedRegistration, type Edit } from "../document/edits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import {
  addLamp,
  beamOf,
  changeLamp,
  freshLamp,
  glowOf,
  lampLightOf,
  lampShadowOf,
  lampsOf,
  layBeam,
  layersOfLamp,
  layGlow,
  layLampLight,
  layLampShadow,
  layRelight,
  relightOf,
  removeLamp,
} from "../document/lampEdits";
import { addLayer, blurLayer, topOfClipped, updateLayer } from "../document/layerEdits";
import type { PlateLamp } from "../document/records/plateTypes";
import type { Records } from "../document/records/types";
import { checkRecord } from "../document/parseDocument";
import { copySeats } from "../document/copySeats";
import { removeFrame, removeLayer } from "../document/removal";
import { cameraOf } from "../document/seatGeometry";
import { tellPlate } from "../document/seatEdits";
import { layOtherSky, otherSkyOf, proposedSky } from "../document/skyEdits";
import { childrenOf, documentSize, framesOf, layerOf, layersOf, plateOf, seatsOf } from "../document/selectors";
import { each } from "./operations/frames/frameSamples";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { SILENT } from "./task";

let node: NodeEngine;
let start: Records;
beforeAll(async () => {
  node = await engine();
  start = await seatedBoard(node, await laidBoard(node));
});

const then = (records: Records, ...edits: Edit[]): Records => edits.reduce((r, e) => e(r), records);
/** How far away the board stands, metres: its foot is seen that far under the horizon, 1.8 m lower. */
const AWAY = 1.8 / Math.tan((12 * Math.PI) / 180 + Math.atan((300 - 199.5) / 550));
/** A lamp to the left of the board, as far away. */
const lamp = (records: Records, given: Partial<PlateLamp> = {}): PlateLamp => ({
  ...freshLamp(plateOf(records)!, documentSize(records)!, "lamp", 180, 200, null, true),
  ...{ id: "lamp", distanceM: AWAY, ev: 3, color: [1, 1, 1] },
  ...given,
});
/** Where the board is seen: its middle row, near its left and its right edge. */
const [LEFT, RIGHT, ROW] = [317, 343, 250];
const at = (values: Float32Array, x: number, y: number) => values[y * W + x];

it("a lamp lights the side of a thing that faces it, and nothing else", async () => {
  const dark = await light(node, start);
  const records = then(start, addLamp(lamp(start)), layLampLight("lamp", "l", "Light"));
  const lit = await light(node, records);
  expect(at(lit, LEFT, ROW)).toBeGreaterThan(1.5 * at(dark, LEFT, ROW));
  expect(at(lit, LEFT, ROW)).toBeGreaterThan(1.3 * at(lit, RIGHT, ROW));
  expect(lit.filter((v, i) => v < dark[i] - 1e-5)).toHaveLength(0);
  expect(at(lit, 100, 350)).toBe(at(dark, 100, 350));
  // half as strong where it is said to be
  const half = await light(node, updateLayer(lampLightOf(records, "lamp", "l")!.id, { opacity: 0.5 })(records));
  expect(at(half, LEFT, ROW) - at(dark, LEFT, ROW)).toBeCloseTo((at(lit, LEFT, ROW) - at(dark, LEFT, ROW)) / 2, 3);
});

// the inverse square law and Lambert's cosine law, any handbook of photometry
it("a lamp lights the ground by distance and angle, and what stands there takes it away", async () => {
  const told = lamp(start, { x: 420, y: 180 });
  const pool = then(start, addLamp(told), layLampLight("lamp", null, "Pool"));
  const camera = cameraOf(plateOf(pool)!, { width: W, height: H });
  const place = lampPlace(camera, told)!;
  const values = await light(node, pool);
  for (const [x, y] of [
    [430, 330],
    [520, 300],
    [150, 360],
  ] as const) {
    const ground = camera.placeAt(x, y)!;
    const way = place.map((v, k) => v - ground[k]);
    const distance = Math.hypot(...way);
    const expected = GREY * (1 + (8 / distance ** 2) * (way[1] / distance));
    expect(at(values, x, y) / expected).toBeCloseTo(1, 2);
  }
  const shaded = await light(node, layLampShadow("lamp", "l", "Shadow")(pool));
  expect(shaded.filter((v, i) => v < values[i] - 1e-3).length).toBeGreaterThan(300);
  expect(shaded.filter((v, i) => v > values[i] + 1e-4)).toHaveLength(0);
  // where all of its light is hidden the ground is as it was without it
  const least = shaded.reduce((low, v, i) => (values[i] > GREY * 1.05 ? Math.min(low, v) : low), 1);
  expect(least).toBeCloseTo(GREY, 2);
});

it("the shadow by a lamp that the plate shows takes that lamp's share away, and leaves the rest", async () => {
  const told = lamp(start, { x: 420, y: 180, isAdded: false });
  const records = then(start, tellPlate({ ambientEv: 0 }), addLamp(told), layLampShadow("lamp", "l", "Shadow"));
  expect(lampShadowOf(records, "lamp", "l")).toBeDefined();
  const values = await light(node, records);
  const darkened = [...values.keys()].filter((i) => values[i] < GREY - 0.003 && values[i] > 0);
  expect(darkened.length).toBeGreaterThan(300);
  const camera = cameraOf(plateOf(records)!, { width: W, height: H });
  const place = lampPlace(camera, told)!;
  const least = darkened.reduce((best, i) => (values[i] < values[best] ? i : best), darkened[0]);
  const ground = camera.placeAt(least % W, Math.floor(least / W))!;
  const way = place.map((v, k) => v - ground[k]);
  const falls = (8 / Math.hypot(...way) ** 2) * (way[1] / Math.hypot(...way));
  // eight EV less of it, which is all but nothing
  expect(values[least] / GREY).toBeCloseTo(1 - (falls / (falls + 1)) * (1 - 2 ** -8), 1);
});

it("glow is added around a lamp as it is told to fall off", async () => {
  const spread = { rimEv: -2, fallEv: -1.5, bendEv: -0.1 };
  const dark = await light(node, start);
  const records = then(start, addLamp(lamp(start, { wide: 0.4 })), layGlow("lamp", spread, "Glow"));
  const values = await light(node, records);
  const radius = (0.2 / Math.hypot(...lampPlace(cameraOf(plateOf(records)!, { width: W, height: H }), lamp(records))!.map((v, k) => v - [0, 1.8, 0][k]))) * 550;
  for (const away of [30, 60, 120]) {
    const added = at(values, 180 - away, 200) - at(dark, 180 - away, 200);
    expect(Math.abs(Math.log2(added / glowAt(spread, away / radius)))).toBeLessThan(0.15);
  }
  expect(glowOf(records, "lamp")).toBeDefined();
});

it("a moon as far as the sky is, and all that lamps do, are records that can be kept; they go with their lamp", () => {
  const moon = { ...freshLamp(plateOf(start)!, documentSize(start)!, "moon", 400, 40, null, true), id: "moon" };
  expect(moon.distanceM).toBeNull();
  const records = then(
    start,
    addLamp(moon),
    addLamp(lamp(start)),
    layGlow("moon", null, "Glow"),
    layLampLight("moon", "l", "Light"),
    layLampLight("moon", null, "Pool"),
    layLampShadow("moon", "l", "Shadow"),
    layBeam("moon", "Shaft"),
    layBeam("lamp", "Beam"),
    layRelight("l", { azimuthDeg: 10, elevationDeg: 30, ratioEv: 1, toRatioEv: 2 }, "Turned"),
    addLayer({ name: "Mist", content: { type: "mist", visibleM: 100, halfHeightM: null, patchy: 0, cloudM: 1, seed: 1, color: [1, 1, 1], farM: 100 } }),
  );
  for (const record of Object.values(records)) expect(() => checkRecord(record)).not.toThrow();
  expect(layersOfLamp(records, "moon")).toHaveLength(4);
  const without = removeLamp("moon")(records);
  expect(lampsOf(plateOf(without))).toHaveLength(1);
  expect(layersOfLamp(without, "moon")).toHaveLength(0);
  expect(beamOf(without, "lamp")).toBeDefined();
  // what falls on a thing goes with it, what falls on the plate stays
  const bare = removeLayer("l")(records);
  expect(relightOf(bare, "l")).toBeUndefined();
  expect(lampLightOf(bare, "moon", "l")).toBeUndefined();
  expect(lampLightOf(bare, "moon", null)).toBeDefined();
});

it("what was laid of a lamp on the ground goes once its light is new, or is shown already; light on things stays", () => {
  const shown = then(start, addLamp(lamp(start, { isAdded: false })), layLampShadow("lamp", "l", "Shadow"), layLampLight("lamp", "l", "Light"));
  const turned = changeLamp("lamp", { isAdded: true })(shown);
  expect(layersOfLamp(turned, "lamp").map((l) => l.name)).toEqual(["Light"]);
  const lit = then(turned, layLampLight("lamp", null, "Pool"), layLampShadow("lamp", "l", "Shadow"));
  expect(layersOfLamp(changeLamp("lamp", { ev: 1, isAdded: true })(lit), "lamp")).toHaveLength(2);
  expect(layersOfLamp(changeLamp("lamp", { isAdded: false })(lit), "lamp").map((l) => l.name)).toEqual(["Light"]);
});

it.each([1, -1])("a copy of a thing %d m further away has lamps' light and its turned light of its own, clipped to it", (away) => {
  const records = then(
    start,
    addLamp(lamp(start)),
    layLampLight("lamp", "l", "Light: Board"),
    layRelight("l", { azimuthDeg: 0, elevationDeg: 30, ratioEv: 1, toRatioEv: 2 }, "Turned: Board"),
    copySeats("seat", 1, away, 0.5),
  );
  const copy = seatsOf(records).find((s) => s.layerId !== "l")!.layerId;
  const order = childrenOf(records, null).map((l) => l.id);
  for (const id of ["l", copy]) {
    const [own, turned] = [lampLightOf(records, "lamp", id)!, relightOf(records, id)!];
    expect(own.clipped && turned.clipped).toBe(true);
    const at = order.indexOf(id);
    expect(new Set(order.slice(at + 1, at + 3))).toEqual(new Set([own.id, turned.id]));
  }
  expect(order.indexOf(copy) < order.indexOf("l")).toBe(away > 0);
});

it("another sky goes with the frame that shows it, and with the plate's own", () => {
  const [plate, thing] = framesOf(start);
  const content = {
    ...{ type: "otherSky" as const, frameId: thing.id, landId: plate.id, bottomY: 100, focalPx: 500, horizonY: 300, panDeg: 0, liftDeg: 0, times: 1 },
    ...{ exposureEv: 0, land: [1, 1, 1], landAmount: 1, haze: 0, hazeDeg: 3, hazeColor: [1, 1, 1], water: 1, sun: null },
  };
  const records = layOtherSky(content, "Sky")(start);
  expect(otherSkyOf(records)).toBeDefined();
  for (const { id } of [plate, thing]) expect(otherSkyOf(removeFrame(id)(records))).toBeUndefined();
});

it("what is laid over a thing lies over what is clipped to it", () => {
  const records = then(start, addLamp(lamp(start)), layLampLight("lamp", "l", "Light"));
  expect(topOfClipped(records, "l")).toBe(lampLightOf(records, "lamp", "l")!.id);
  expect(topOfClipped(records, lampLightOf(records, "lamp", "l")!.id)).toBe(lampLightOf(records, "lamp", "l")!.id);
});

it("light that is turned to the plate's is brighter where that comes from, and darker on the other side", async () => {
  const dark = await light(node, start);
  const told = tellPlate({ light: { azimuthDeg: 90, elevationDeg: 20 } })(start);
  const turned = await light(node, layRelight("l", { azimuthDeg: 0, elevationDeg: 90, ratioEv: 0, toRatioEv: 2 }, "Turned")(told));
  // the plate's light comes from the right
  expect(at(turned, RIGHT, ROW) / at(dark, RIGHT, ROW)).toBeGreaterThan(1.5 * (at(turned, LEFT, ROW) / at(dark, LEFT, ROW)));
});

it("mist hides the ground by how far it is, and lies behind what stands nearer", async () => {
  const mist = { type: "mist" as const, visibleM: 20, halfHeightM: null, patchy: 0, cloudM: 2, seed: 1, color: [1, 1, 1], farM: 200 };
  const records = addLayer({ id: "mist", name: "Mist", blendIn: "light", content: mist })(start);
  const values = await light(node, records);
  const camera = cameraOf(plateOf(records)!, { width: W, height: H });
  for (const y of [260, 320, 390]) {
    const ground = camera.placeAt(60, y)!;
    const clear = 0.02 ** (Math.hypot(ground[0], 1.8, ground[2]) / 20);
    expect(at(values, 60, y)).toBeCloseTo(GREY * clear + 1 - clear, 3);
  }
  // the board, before ground at the horizon
  const thing = at(values, 330, 200);
  expect(thing).toBeLessThan(at(values, 60, 200));
  expect(thing).toBeCloseTo(0.6 * 0.02 ** (AWAY / 20) + 1 - 0.02 ** (AWAY / 20), 2);
});

it("out of focus a thing keeps its light and softens its edge, in every rectangle alike", async () => {
  const sharp = await light(node, start);
  const soft = await light(node, blurLayer("l", { radiusPx: 6, motionPx: 0, motionDeg: 0 })(start));
  expect(at(soft, 330, ROW)).toBeCloseTo(at(sharp, 330, ROW), 3);
  // what reaches beyond its outline is lit as well
  const lit = then(start, addLamp(lamp(start)), layLampLight("lamp", "l", "Light"), blurLayer("l", { radiusPx: 6, motionPx: 0, motionDeg: 0 }));
  const [bright, plain] = [await light(node, lit), soft];
  const rims = [...Array(10).keys()].map((k) => [at(bright, 302 + k, ROW), at(plain, 302 + k, ROW)]).filter(([, v]) => v > GREY + 0.02);
  expect(rims.length).toBeGreaterThan(3);
  for (const [v, before] of rims) expect(v).toBeGreaterThan(before + 0.02);
  const edge = [...Array(40).keys()].map((k) => at(soft, 295 + k, ROW));
  expect(edge.filter((v) => v > GREY + 0.01 && v < 0.59).length).toBeGreaterThan(8);
  expect(blurLayer("l", { radiusPx: 0, motionPx: 0, motionDeg: 0 })(blurLayer("l", { radiusPx: 6, motionPx: 0, motionDeg: 0 })(start))).toEqual(start);
});

it("what stands in a beam throws its shadow through it", async () => {
  // a lamp behind the board and over it, whose beam falls to the ground before it
  const behind = lamp(start, { x: 330, y: 130, distanceM: AWAY + 1.5, ev: 4, wide: 0.1 });
  const records = then(start, addLamp(behind), layBeam("lamp", "Beam"));
  const beam = beamOf(records, "lamp")!;
  const forward = updateLayer(beam.id, { content: { ...beam.content, toX: 330, toY: 340, toM: AWAY - 1, halfDeg: 20, dusty: 0, ev: 6 } as never })(records);
  const alone = updateLayer("l", { visible: false })(forward);
  const [shaded, open] = [await light(node, forward), await light(node, alone)];
  // below its foot the beam goes on before the board, in its shadow; beside it all of it
  const gain = (values: Float32Array, x: number, y: number) => at(values, x, y) - GREY;
  expect(gain(open, 330, 312)).toBeGreaterThan(0.005);
  expect(gain(shaded, 330, 312)).toBeLessThan(0.75 * gain(open, 330, 312));
  expect(gain(shaded, 410, 312)).toBeGreaterThan(0.9 * gain(open, 410, 312));
});

it("all of it is the same in every rectangle, and the same again", async () => {
  const pool = layLampLight("lamp", null, "Pool");
  const rain = {
    type: "particles" as const,
    count: 400,
    sizeMm: 8,
    nearM: 1,
    farM: 20,
    fallMs: 4,
    driftMs: 1,
    exposureS: 0.02,
    focusM: 5,
    blurPx: 10,
    seed: 4,
    color: [1, 1, 1],
    solid: 0.8,
  };
  const mist = { type: "mist" as const, visibleM: 60, halfHeightM: 1, patchy: 0.6, cloudM: 2, seed: 1, color: [0.5, 0.5, 0.6], farM: 200 };
  const records = then(
    start,
    addLamp(lamp(start)),
    pool,
    layLampShadow("lamp", "l", "Shadow"),
    layLampLight("lamp", "l", "Light"),
    layGlow("lamp", { rimEv: -2, fallEv: -1.5, bendEv: 0 }, "Glow"),
    layBeam("lamp", "Beam"),
    blurLayer("l", { radiusPx: 3, motionPx: 4, motionDeg: 30 }),
    addLayer({ name: "Mist", blendIn: "light", content: mist }),
    addLayer({ name: "Rain", blendIn: "light", content: rain }),
  );
  const job = await prepareJob(node.ctx, records, SILENT);
  const read = (rect: { x: number; y: number; width: number; height: number }) =>
    node.ctx.kernels.withScope((scope) =>
      node.ctx.kernels.f32(each(composeRect(node.ctx, job, 0, rect, "layers", scope))[1], rect.width * rect.height).slice(),
    );
  const whole = await light(node, records);
  expect(await light(await engine(), records)).toEqual(whole);
  const all = read({ x: 0, y: 0, width: W, height: H });
  for (const rect of [
    { x: 150, y: 120, width: 90, height: 77 },
    { x: 301, y: 203, width: 64, height: 64 },
    { x: 0, y: 300, width: 600, height: 100 },
  ]) {
    const part = read(rect);
    let most = 0;
    for (let j = 0; j < rect.height; j++)
      for (let i = 0; i < rect.width; i++) most = Math.max(most, Math.abs(part[j * rect.width + i] - all[(rect.y + j) * W + rect.x + i]));
    expect(most).toBe(0);
  }
});

it("proof finds a lamp that does nothing, air that is passed over, and nothing of what was laid", async () => {
  const told = then(start, tellPlate({ ambientEv: 0 }), addLamp(lamp(start)));
  const kinds = async (records: Records) =>
    (await node.ask("proof", { records })).map((f) => f.kind).filter((k) => ["lampMissing", "mistBehind", "skySun"].includes(k));
  expect(await kinds(told)).toEqual(["lampMissing"]);
  const lit = layLampLight("lamp", "l", "Light")(told);
  expect(await kinds(lit)).toEqual([]);
  expect(await kinds(changeLamp("lamp", { ev: -6 })(told))).toEqual([]);
  const mist = { type: "mist" as const, visibleM: 60, halfHeightM: null, patchy: 0, cloudM: 2, seed: 1, color: [0.5, 0.5, 0.6], farM: 200 };
  const over = addLayer({ id: "mist", name: "Mist", blendIn: "light", content: mist })(lit);
  expect(await kinds(over)).toEqual([]);
  const under = updateLayer("mist", { index: layersOf(over).reduce((low, l) => Math.min(low, l.index), 0) - 1 })(over);
  expect(await kinds(under)).toEqual(["mistBehind"]);
  expect(layerOf(under, "mist")!.index).toBeLessThan(layerOf(under, "l")!.index);
});

it("another sky is the same in every rectangle, through a wide lens turned far aside, in water too; proof judges its edges alone", async () => {
  const own = await engine();
  const frames = [];
  for (const name of ["01-land.jpg", "01-sky.jpg"]) {
    const bytes = new Uint8Array(readFileSync(`tests/fixtures/twoSkies/${name}`));
    const frame = await own.ask("importFrame", { fileName: name, bytes });
    own.sources.set(frame.sourceId, async () => bytes);
    frames.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(frames), { stage: "gather", label: "step.compared" }, "t");
  const [land, sky] = framesOf(records);
  const size = { width: land.width, height: land.height };
  const built = setMerge(freshMerge("base", { baseId: land.id }))(setRegistration(unmovedRegistration([land], land, 1), {})(records));
  const places: [number, number][] = [
    [0, 300],
    [599, 300],
    [599, 399],
    [0, 399],
  ];
  const told = tellPlate({ stance: { pitchDeg: 2, rollDeg: 0, focalPx: 330 }, surfaces: [{ id: "pond", is: "water", places, heightM: 0 }] })(built);
  const [old, other] = [(await own.ask("measureSky", { frame: land }))!, (await own.ask("measureSky", { frame: sky }))!];
  const content = { ...proposedSky(plateOf(told)!, size, land, sky, old, other), panDeg: 28, focalPx: 260 };
  const laid = layOtherSky(content, "Sky")(told);
  const job = await prepareJob(own.ctx, laid, SILENT);
  const read = (rect: { x: number; y: number; width: number; height: number }) =>
    own.ctx.kernels.withScope((scope) => own.ctx.kernels.f32(each(composeRect(own.ctx, job, 0, rect, "layers", scope))[2], rect.width * rect.height).slice());
  const all = read({ x: 0, y: 0, ...size });
  for (const rect of [
    { x: 0, y: 0, width: 64, height: 64 },
    { x: 536, y: 40, width: 64, height: 64 },
    { x: 250, y: 280, width: 90, height: 60 },
  ]) {
    const part = read(rect);
    let most = 0;
    for (let j = 0; j < rect.height; j++)
      for (let i = 0; i < rect.width; i++) most = Math.max(most, Math.abs(part[j * rect.width + i] - all[(rect.y + j) * size.width + rect.x + i]));
    expect(most).toBeLessThan(1e-5);
  }
  const kinds = (await own.ask("proof", { records: laid })).map((f) => f.kind);
  expect(kinds.filter((k) => ["apart", "gap", "cutOff", "stub", "seeThrough"].includes(k))).toEqual([]);
});
