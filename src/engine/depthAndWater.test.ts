/** Depth of field, smoothed water and the plate's light over a rim, as an engine makes them: in every rectangle, on every level, warm and cold. */
import { engine, GREY, H, laidBoard, light, seatedBoard, W } from "../../tests/support/boardScene";
import type { NodeEngine } from "../cli/createNodeEngine";
import { bleedOf, depthOfFieldOf, focusAt, layBleed, layStillWater, proposedStill, removeSurface, stillWaterOf } from "../document/airEdits";
import { type Edit } from "../document/edits";
import { addLamp, changeLamp, freshLamp, layGlow, layLampLight, layMirror, mirrorOf, removeLamp } from "../document/lampEdits";
import { addLayer, updateLayer } from "../document/layerEdits";
import { layMatch } from "../document/matchEdits";
import { checkRecord } from "../document/parseDocument";
import { removeLayer } from "../document/removal";
import type { Records } from "../document/records/types";
import { tellPlate } from "../document/seatEdits";
import { childrenOf, documentSize, layersOf, plateOf } from "../document/selectors";
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
const at = (values: Float32Array, x: number, y: number) => values[y * W + x];
/** A bright half of the plate, to the right of a column. */
const halved =
  (column: number): Edit =>
  (records) => {
    const shape = { kind: "polygon" as const, points: [column, -1, W + 1, -1, W + 1, H + 1, column, H + 1] };
    const part = { id: "half", combine: "add" as const, inverted: false, featherPx: 0, ...shape };
    const lowest = childrenOf(records, null)[0];
    const laid = addLayer({
      ...{ id: "half", name: "Half", blendIn: "light" as const, index: lowest.index - 1 },
      content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } },
      mask: { base: 0, inverted: false, parts: [part as never], featherPx: 0, refinePx: 0, low: 0, high: 1, density: 1 } as never,
    })(records);
    return laid;
  };

const POND: [number, number][] = [
  [-200, 320],
  [220, 320],
  [220, 399],
  [-200, 399],
];
const pond = tellPlate({ surfaces: [{ id: "pond", is: "water", places: POND, heightM: 0 }] });

async function read(by: NodeEngine, records: Records, rect: { x: number; y: number; width: number; height: number }): Promise<Float32Array> {
  const job = await prepareJob(by.ctx, records, SILENT);
  return by.ctx.kernels.withScope((scope) => by.ctx.kernels.f32(each(composeRect(by.ctx, job, 0, rect, "layers", scope))[1], rect.width * rect.height).slice());
}

it("a depth of field leaves what it is focused on and softens the edges of what is behind", async () => {
  const plate = halved(120)(start);
  const away = 1.8 / Math.tan((12 * Math.PI) / 180 + Math.atan((300 - 199.5) / 550));
  const field = focusAt(away, "Depth of field")(plate);
  expect(checkRecord(depthOfFieldOf(field)!)).toBeUndefined();
  const moved = focusAt(20, "Depth of field")(field);
  expect(layersOf(moved)).toHaveLength(layersOf(field).length);
  expect(depthOfFieldOf(moved)!.content).toMatchObject({ focusM: 20 });
  const wide = updateLayer(depthOfFieldOf(field)!.id, { content: { type: "depthOfField", focusM: Math.round(100 * away) / 100, radiusPx: 8, farM: 500 } })(
    field,
  );
  const [sharp, soft] = [await light(node, plate), await light(node, wide)];
  // the board's own edge is as sharp as it was; the edge of the plate far behind it is spread over the disc of the horizon
  for (let x = 300; x < 360; x++) expect(at(soft, x, 290)).toBeCloseTo(at(sharp, x, 290), 1);
  const half = [...Array(40).keys()].map((k) => at(soft, 100 + k, 30));
  expect(half.filter((v) => v > GREY * 1.03 && v < 2 * GREY * 0.97).length).toBeGreaterThan(10);
  expect(half[0]).toBeCloseTo(GREY, 3);
  expect(half[39]).toBeCloseTo(2 * GREY, 3);
  // so near the foot the plate is nearly in focus
  const near = [...Array(40).keys()].map((k) => at(soft, 100 + k, 300));
  expect(near.filter((v) => v > GREY * 1.03 && v < 2 * GREY * 0.97).length).toBeLessThan(4);
});

it("the plate's light reaches over a rim as far as its edges are wide, and only there", async () => {
  const plate: Edit = updateLayer("half", { content: { type: "adjustment", adjustment: "exposure", values: { ev: 2 } } });
  const plain = then(start, halved(0), plate);
  const records = layBleed("l", 8, "Light over the rim")(plain);
  const layer = bleedOf(records, "l")!;
  expect(checkRecord(layer)).toBeUndefined();
  expect(layer.clipped).toBe(true);
  const [before, after] = [await light(node, plain), await light(node, records)];
  const row = 250;
  const edge = [...Array(W).keys()].find((x) => Math.abs(at(before, x, row) - 0.6) < 0.01)!;
  // a Gaussian edge 8 px wide from a tenth to nine tenths has a deviation of 3.12 px: 16 % of it lies that far inside
  const share = (at(after, edge + 3, row) - at(before, edge + 3, row)) / (4 * GREY - at(before, edge + 3, row));
  expect(share).toBeGreaterThan(0.08);
  expect(share).toBeLessThan(0.26);
  expect(at(after, 330, row)).toBeCloseTo(at(before, 330, row), 3);
  for (const x of [edge - 4, edge - 20]) expect(at(after, x, row)).toBeCloseTo(at(before, x, row), 5);
  // it goes with the thing
  expect(bleedOf(removeLayer("l")(records), "l")).toBeUndefined();
});

it("water is smoothed within its border alone, and what is wide as before", async () => {
  const told = then(start, pond, halved(120));
  const records = layStillWater("pond", "Smoothed water")(told);
  const layer = stillWaterOf(records, "pond")!;
  expect(checkRecord(layer)).toBeUndefined();
  expect(childrenOf(records, null)[0].id).toBe(layer.id);
  expect(proposedStill(plateOf(told)!, documentSize(told)!, "other")).toBeNull();
  const over = updateLayer(layer.id, { index: Math.max(...layersOf(records).map((l) => l.index)) + 1 })(records);
  const across = updateLayer(layer.id, { content: { type: "stillWater", surfaceId: "pond", lengthM: 0.5, widthM: 0.5, mostPx: 60 } })(over);
  const [before, after] = [await light(node, told), await light(node, across)];
  expect(at(after, 119, 380)).toBeGreaterThan(GREY * 1.1);
  expect(at(after, 10, 380)).toBeCloseTo(GREY, 4);
  for (const [x, y] of [
    [119, 310],
    [121, 310],
    [225, 380],
    [330, 250],
  ])
    expect(at(after, x, y)).toBeCloseTo(at(before, x, y), 5);
  // nearer water is seen larger, and is smoothed further
  const spread = (y: number) => [...Array(200).keys()].filter((x) => at(after, x, y) > 1.02 * GREY && at(after, x, y) < 1.98 * GREY).length;
  expect(spread(395)).toBeGreaterThan(spread(325));
});

const RECTANGLES = [
  { x: 150, y: 120, width: 90, height: 77 },
  { x: 301, y: 203, width: 64, height: 64 },
  { x: 0, y: 300, width: 600, height: 100 },
];
/** How far parts of a picture are off the whole of it, made at once, at most. */
async function offInParts(records: Records): Promise<number> {
  const all = await read(node, records, { x: 0, y: 0, width: W, height: H });
  let most = 0;
  for (const rect of RECTANGLES) {
    const part = await read(node, records, rect);
    for (let j = 0; j < rect.height; j++)
      for (let i = 0; i < rect.width; i++) most = Math.max(most, Math.abs(part[j * rect.width + i] - all[(rect.y + j) * W + rect.x + i]));
  }
  return most;
}
const POND_LAMP = (records: Records) => ({
  ...freshLamp(plateOf(records)!, documentSize(records)!, "lamp", 120, 190, null, true),
  ...{ id: "lamp", distanceM: 5, ev: 3 },
});

it.each([
  ["smoothed water", layStillWater("pond", "Water")],
  ["the plate's light over a rim", layBleed("l", 5, "Rim")],
  ["a depth of field", focusAt(4, "Field")],
  ["a lamp in water", (r: Records) => layMirror("lamp", "pond", "Road")(addLamp(POND_LAMP(r))(r))],
])("%s is the same in every rectangle", async (_, edit) => {
  expect(await offInParts(then(start, pond, halved(120), edit))).toBe(0);
});

it("all of them are the same in every rectangle, and the same again", async () => {
  const records = then(
    start,
    pond,
    halved(120),
    addLamp(POND_LAMP(start)),
    layLampLight("lamp", "l", "Light"),
    layGlow("lamp", { rimEv: -2, fallEv: -1.5, bendEv: 0 }, "Glow"),
    layMirror("lamp", "pond", "Road"),
    layStillWater("pond", "Water"),
    layBleed("l", 5, "Rim"),
    focusAt(4, "Field"),
  );
  const whole = { x: 0, y: 0, width: W, height: H };
  expect(await read(await engine(), records, whole)).toEqual(await read(node, records, whole));
  // sums of a few float32 begin at other places
  expect(await offInParts(records)).toBeLessThan(1e-6);
});

it("a lamp's road in the water follows the lamp and goes with it; what is in a water goes with that", async () => {
  const lit = then(start, pond, addLamp(POND_LAMP(start)), layMirror("lamp", "pond", "Road"), layStillWater("pond", "Water"));
  const road = mirrorOf(lit, "lamp", "pond")!;
  expect(checkRecord(road)).toBeUndefined();
  const brightest = async (records: Records) => (await light(node, records)).reduce((most, v, i) => (i >= 320 * W ? Math.max(most, v) : most), 0);
  const [dark, strong, weak] = [await brightest(then(start, pond)), await brightest(lit), await brightest(changeLamp("lamp", { ev: -3 })(lit))];
  expect(strong).toBeGreaterThan(weak + 0.05);
  expect(weak).toBeGreaterThan(dark);
  expect(mirrorOf(removeLamp("lamp")(lit), "lamp", "pond")).toBeUndefined();
  const dry = removeSurface("pond")(lit);
  expect(mirrorOf(dry, "lamp", "pond")).toBeUndefined();
  expect(stillWaterOf(dry, "pond")).toBeUndefined();
  expect(plateOf(dry)!.surfaces).toEqual([]);
});

it("the plate's light lies over all that is clipped to a thing, what is laid later too", () => {
  const rimmed = layBleed("l", 5, "Rim")(layLampLight("lamp", "l", "Light")(addLamp(POND_LAMP(start))(start)));
  const later = layMatch("l", { adjustment: "chroma", values: { factor: 0.9 } }, "Match")(rimmed);
  expect(childrenOf(later, null).map((l) => l.name)).toEqual(["Board", "Light", "Match", "Rim"]);
  expect(layersOf(later).filter((l) => l.clipped)).toHaveLength(3);
});

it("proof tells a bright side that is turned from the lamp, and a glow that is bluer than what shines", async () => {
  const shining = then(start, halved(0), tellPlate({ light: null, ambientEv: 0 }));
  const lamp = { ...freshLamp(plateOf(shining)!, { width: W, height: H }, "lamp", 100, 200, 24, true), id: "lamp", color: [0.6, 1, 2.2] };
  const blue = then(shining, addLamp(lamp), layGlow("lamp", { rimEv: -4, fallEv: -1.5, bendEv: 0 }, "Glow"));
  const kinds = async (records: Records) => (await node.ask("proof", { records })).map((f) => f.kind);
  expect(await kinds(blue)).toContain("glowColder");
  const grey = then(shining, addLamp({ ...lamp, color: [1, 1, 1] }), layGlow("lamp", { rimEv: -4, fallEv: -1.5, bendEv: 0 }, "Glow"));
  expect(await kinds(grey)).not.toContain("glowColder");

  // a board that is bright on its right, with a lamp to either side
  const lit = await seatedBoard(node, await laidBoard(node, (x) => 0.2 + (0.6 * (x - 240)) / 120));
  const beside = (x: number) => then(lit, tellPlate({ light: null, ambientEv: -4 }), addLamp({ ...lamp, x, y: 230, ev: 3, distanceM: 3.5, color: [1, 1, 1] }));
  expect(await kinds(beside(60))).toContain("rimSide");
  expect(await kinds(beside(540))).not.toContain("rimSide");
});
