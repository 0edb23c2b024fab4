/** Something seated in a plate: its feet as they are found, its shadow as light that is missing, and both as an engine has them that keeps nothing. */
import { readFileSync } from "node:fs";
import { engine, GREY, H, laidBoard, light, LIGHT, seatedBoard, sources, W } from "../../tests/support/boardScene";
import type { NodeEngine } from "../cli/createNodeEngine";
import { GroundCamera } from "../core/seat/groundCamera";
import { directionOf, lightsApartDeg } from "../core/seat/lightFromShadows";
import type { Surface } from "../core/seat/scenery";
import { combineShadows } from "../core/seat/measureShadow";
import { stanceThrough } from "../core/seat/upright";
import { fresnel } from "../core/seat/water";
import { encodeSrgb } from "../core/color/srgbCurve";
import { addFrames, setRegistration, startJob, unmovedRegistration, type Edit } from "../document/edits";
import { addLayer, updateLayer, updatePart } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { Records } from "../document/records/types";
import { addSeat, changeSeat, mirrorSeat, removeSeat, tellPlate } from "../document/seatEdits";
import { cameraOf, lightOf, seatFigures } from "../document/seatGeometry";
import { layReflection } from "../document/reflectionEdits";
import { contactOf, layShadow, shadowOf } from "../document/shadowEdits";
import { hideSeat } from "../document/hideSeat";
import { removeLayer } from "../document/removal";
import { sinkSeat } from "../document/sinkSeat";
import { framesOf, layerOf, layersOf, plateOf, seatsOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { wholeFrame } from "../kinds/contents/frame/record";
import { each } from "./operations/frames/frameSamples";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { stackKey } from "./operations/layers/stackKeys";
import { SILENT } from "./task";

let node: NodeEngine;
let laid: Records;
beforeAll(async () => {
  node = await engine();
  laid = await laidBoard(node);
});

const EV = 2;
const seated = async (): Promise<Records> =>
  layShadow("seat", { ratioEv: EV, sourceDeg: 0.53, shadowMired: 0 }, { shadow: "Shadow", contact: "Contact" })(await seatedBoard(node, laid));

it("its foot and its top are the middle of its lowest and of its highest rows", async () => {
  const own = (await node.ask("standsAt", { records: laid, layerId: "l" }))!;
  // to half a sample of the level that is looked at
  expect(Math.abs(own.footX - 299.5)).toBeLessThanOrEqual(1);
  expect(Math.abs(own.topX - 299.5)).toBeLessThanOrEqual(1);
  expect(Math.abs(own.footY - 339.5)).toBeLessThanOrEqual(1);
  expect(Math.abs(own.topY - 59.5)).toBeLessThanOrEqual(1);
});

it("its shadow takes light away and nothing else, under the thing", async () => {
  const laidAll = await seated();
  const [seat] = seatsOf(laidAll);
  const records = updateLayer(contactOf(laidAll, seat)!.id, { visible: false })(laidAll);
  const values = await light(node, records);
  const camera = cameraOf(plateOf(records)!, { width: W, height: H });
  const foot = camera.placeAt(330, 300)!;
  const a = (LIGHT.azimuthDeg * Math.PI) / 180;
  const length = 1 / Math.tan((LIGHT.elevationDeg * Math.PI) / 180);
  const at = (share: number) => {
    const [x, y] = camera.pixelOf([foot[0] - share * length * Math.sin(a), 0, foot[2] - share * length * Math.cos(a)])!;
    return values[Math.round(y) * W + Math.round(x)];
  };
  expect(at(0.6)).toBeCloseTo(GREY * 2 ** -EV, 3);
  expect(at(1.3)).toBeCloseTo(GREY, 3);
  // over its own shadow the thing is as it was
  expect(values[220 * W + 330]).toBeCloseTo(0.6, 2);
  const without = await light(node, updateLayer(shadowOf(records, seatsOf(records)[0])!.id, { visible: false })(records));
  const darker = values.filter((v, i) => v < without[i] - 1e-4).length;
  expect(darker).toBeGreaterThan(500);
  expect(values.filter((v, i) => v > without[i] + 1e-4).length).toBe(0);
  // close to the foot the sky is hidden as well, away from it hardly
  const whole = await light(node, laidAll);
  const darkerAt = (share: number) => {
    const [x, y] = camera.pixelOf([foot[0] - share * length * Math.sin(a), 0, foot[2] - share * length * Math.cos(a)])!;
    const i = Math.round(y) * W + Math.round(x);
    return Math.log2(values[i] / whole[i]);
  };
  expect(darkerAt(0.25)).toBeGreaterThan(0.1);
  expect(darkerAt(0.9)).toBeLessThan(0.06);
});

it("in the plate's own shade it is not dark twice", async () => {
  const records = await seated();
  const plate = framesOf(records)[0];
  expect(await node.ask("litGround", { records, seatId: "seat", ratioEv: EV })).toBeNull();
  // the left half of another plate lies in the shade
  const writer = new TiffWriter({ width: W, height: H, bits: 16, channels: 3, metadata: [], profile: null });
  const samples = new Uint16Array(3 * W * H);
  for (let i = 0; i < samples.length; i++) samples[i] = Math.round(65_535 * encodeSrgb(Math.floor(i / 3) % W < 200 ? GREY * 2 ** -EV : GREY));
  writer.writeRows(samples);
  const bytes = concatBytes(writer.finish());
  const frame = await node.ask("importFrame", { fileName: "half.tif", bytes });
  sources.set(frame.sourceId, bytes);
  node.sources.set(frame.sourceId, async () => bytes);
  const half = { ...records, [plate.id]: { ...plate, sourceId: frame.sourceId } };
  const bare = removeSeat("seat")(half);
  const again = changeSeat("seat", { heightM: 1, heightBy: "hand" })(addSeat("l", seatsOf(records)[0].own, { x: 330, y: 300 }, "seat")(bare));
  const lit = await node.ask("litGround", { records: again, seatId: "seat", ratioEv: EV });
  expect(lit).not.toBeNull();
  const thrown = layShadow("seat", { ratioEv: EV, sourceDeg: 0.53, shadowMired: 0 }, { shadow: "Shadow", contact: "Contact" }, lit)(again);
  const darkened = await light(node, updateLayer(contactOf(thrown, seatsOf(thrown)[0])!.id, { visible: false })(thrown));
  let [inShade, inLight] = [0, 0];
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      // the thing itself is brighter than any of the two
      const v = darkened[y * W + x];
      if (x < 198 && v < GREY * 2 ** -EV - 0.002) inShade++;
      if (x > 202 && v < GREY - 0.02) inLight++;
    }
  }
  expect(inShade).toBe(0);
  expect(inLight).toBeGreaterThan(200);
});

it("proof finds what was moved off its seat, throws no shadow, or is seen through, and nothing of what is well seated", async () => {
  const records = await seated();
  const kinds = async (edit: Edit) => {
    const found = await node.ask("proof", { records: edit(records) });
    return found.filter((f) => ["offSeat", "noShadow", "seeThrough", "lightOff", "wrongOrder"].includes(f.kind));
  };
  expect(await kinds((r) => r)).toEqual([]);
  // the border of its shadow is no halo; a board of one grey is lit evenly, and would not be there
  const all = await node.ask("proof", { records });
  expect(all.filter((f) => f.kind === "halo")).toEqual([]);
  const [even] = all.filter((f) => f.kind === "lightEven");
  expect(even).toMatchObject({ values: { layer: "Board", plate: "sun", ownEv: 0 } });
  expect((even.values as { thereEv: number }).thereEv).toBeGreaterThan(2);
  const overcast = await node.ask("proof", { records: tellPlate({ overcast: true })(records) });
  expect(overcast.filter((f) => f.kind === "lightEven")).toEqual([]);
  const [missing] = await kinds(updateLayer(shadowOf(records, seatsOf(records)[0])!.id, { visible: false }));
  expect(missing).toMatchObject({ kind: "noShadow", values: { layer: "Board" } });
  const content = layerOf(records, "l")!.content as ReturnType<typeof wholeFrame>;
  const [off] = await kinds(updateLayer("l", { content: { ...content, moved: { ...content.moved!, scale: 1.1 * content.moved!.scale } } }));
  expect(off).toMatchObject({ kind: "offSeat" });
  expect((off.values as { percent: number }).percent).toBeCloseTo(10, 6);
  expect((await kinds(updateLayer("l", { opacity: 0.7 }))).map((f) => f.values)).toEqual([{ layer: "Board", percent: 70 }]);
  // free of the ground, or under an even sky, neither is asked for
  expect(await kinds(changeSeat("seat", { on: "free", scale: 0.5 }))).toEqual([]);
  expect(await kinds((r) => updateLayer(shadowOf(r, seatsOf(r)[0])!.id, { visible: false })(tellPlate({ overcast: true })(r)))).toEqual([]);
});

it("a shadow that was measured is at hand, another mark is measured anew, as an engine has it that keeps nothing", async () => {
  const shadowed = await seated();
  const camera = cameraOf(plateOf(shadowed)!, { width: W, height: H });
  const mark = (x: number) => {
    const place = camera.placeAt(x, 330)!;
    const at = (dx: number, y: number) => camera.pixelOf([place[0] + dx, y, place[2]])!;
    return { foot: [x, 330] as const, top: at(0, 0.8), tip: at(0.9, 0) };
  };
  const ask = (by: NodeEngine, x: number) =>
    by.ask("measureShadows", {
      frame: framesOf(shadowed)[0],
      stance: plateOf(shadowed)!.stance,
      heightM: 1.8,
      marks: [mark(x)],
      light: { azimuthDeg: -90, elevationDeg: 41 },
    });
  const run = jest.spyOn(node.ctx.pool, "run");
  const first = await ask(node, 200);
  expect(await ask(node, 200)).toEqual(first);
  expect(run.mock.calls.filter(([name]) => name === "measureShadow")).toHaveLength(1);
  const other = await ask(node, 260);
  expect(run.mock.calls.filter(([name]) => name === "measureShadow")).toHaveLength(2);
  run.mockRestore();
  expect(other).toEqual(await ask(await engine(), 260));
});

it("whatever changes what it is made of changes it, as an engine has it that keeps nothing", async () => {
  const records = await seated();
  const shadow = shadowOf(records, seatsOf(records)[0])!;
  const [part] = shadow.mask.parts;
  const cut = layerOf(records, "l")!.content as ReturnType<typeof wholeFrame>;
  const edits: [string, Edit][] = [
    ["foot", changeSeat("seat", { foot: { x: 250, y: 330 } })],
    ["height", changeSeat("seat", { heightM: 1.4 })],
    ["own foot", changeSeat("seat", { own: { ...seatsOf(records)[0].own, footX: 280 } })],
    ["azimuth", tellPlate({ light: { azimuthDeg: -40, elevationDeg: 40 } })],
    ["horizon", tellPlate({ stance: { pitchDeg: -9, rollDeg: 1, focalPx: 550 } })],
    ["camera", tellPlate({ heightM: 1.2 })],
    ["overcast", tellPlate({ overcast: true })],
    ["source", updatePart(shadow.id, part.id, { sourceDeg: 6 })],
    ["depth", updatePart(shadow.id, part.id, { depth: 1.5 })],
    ["by", updatePart(shadow.id, part.id, { by: "sky" })],
    ["cut", updateLayer("l", { content: { ...cut, moved: (layerOf(records, "l")!.content as typeof cut).moved, cut: null } })],
  ];
  const before = await light(node, records, 1);
  for (const [name, edit] of edits) {
    const after = edit(records);
    const warm = await light(node, after, 1);
    const cold = await light(await engine(), after, 1);
    expect({ name, isSame: warm.every((v, i) => v === cold[i]) }).toEqual({ name, isSame: true });
    // and the tiles that the screen holds of it are known to be stale
    const [old, now] = await Promise.all([records, after].map(async (r) => stackKey(await prepareJob(node.ctx, r, SILENT), null)));
    expect({ name, isNew: now !== old }).toEqual({ name, isNew: true });
    expect({ name, isChanged: warm.some((v, i) => v !== before[i]) }).toEqual({ name, isChanged: true });
  }
});

it("proof finds what is lit from another side, and that mirrored it is not; and what covers a nearer thing; taste outranks", async () => {
  const records = await seated();
  const [W2, H2] = [300, 400];
  // a ball lit from the left, under a plate whose light comes from the right
  const samples = new Uint16Array(4 * W2 * H2);
  for (let y = 0; y < H2; y++) {
    for (let x = 0; x < W2; x++) {
      const [u, v] = [(x - 149.5) / 120, (199.5 - y) / 160];
      const r = Math.hypot(u, v);
      const lit = Math.max(0, -0.8 * u + 0.5 * v + 0.3 * Math.sqrt(Math.max(0, 1 - r * r)));
      for (let c = 0; c < 4; c++) samples[4 * (y * W2 + x) + c] = Math.round(65_535 * (c === 3 ? Number(r < 1) : encodeSrgb(0.1 + 0.6 * lit)));
    }
  }
  const writer = new TiffWriter({ width: W2, height: H2, bits: 16, channels: 4, metadata: [], profile: null });
  writer.writeRows(samples);
  const bytes = concatBytes(writer.finish());
  const imported = await node.ask("importFrame", { fileName: "ball.tif", bytes });
  sources.set(imported.sourceId, bytes);
  node.sources.set(imported.sourceId, async () => bytes);
  const [, , ball] = framesOf(addFrames([imported])(records));
  const cut = { by: "alpha" as const, box: null, plateId: null, plateMatrix: null, marks: [] };
  const held = addLayer({ id: "b", name: "Ball", blendIn: "light", content: wholeFrame(ball.id, { cut }) })({ ...records, [ball.id]: ball });
  const own = (await node.ask("standsAt", { records: held, layerId: "b" }))!;
  // further off, right behind the board, and over it
  const put = changeSeat("second", { heightM: 1, heightBy: "hand" })(addSeat("b", own, { x: 335, y: 270 }, "second")(held));
  const kinds = async (r: Records) => (await node.ask("proof", { records: r })).filter((f) => ["lightOff", "wrongOrder"].includes(f.kind));
  const found = await kinds(put);
  expect(found.map((f) => f.kind).sort()).toEqual(["lightOff", "wrongOrder"]);
  expect(found.find((f) => f.kind === "lightOff")).toMatchObject({ values: { layer: "Ball", helps: "yes" } });
  expect(found.find((f) => f.kind === "wrongOrder")).toMatchObject({ values: { layer: "Board", over: "Ball" } });
  expect((await kinds(mirrorSeat("second")(put))).map((f) => f.kind)).toEqual(["wrongOrder"]);
  expect(await kinds(tellPlate({ byTaste: true })(put))).toEqual([]);
  // under an even sky it is lit from a side that nothing comes from
  const under = await node.ask("proof", { records: tellPlate({ overcast: true })(put) });
  expect(under.filter((f) => f.kind === "lightEven")).toMatchObject([{ values: { layer: "Ball", plate: "overcast", thereEv: 0 } }]);
});

it("sunk among blades, the lowest of it goes under what the plate shows, higher where a blade is bright", async () => {
  const records = await seated();
  const [plate] = framesOf(records);
  // upright stripes, four px of each
  const writer = new TiffWriter({ width: W, height: H, bits: 16, channels: 3, metadata: [], profile: null });
  const samples = new Uint16Array(3 * W * H);
  const isBright = (x: number) => Math.floor(x / 4) % 2 === 0;
  for (let i = 0; i < samples.length; i++) samples[i] = Math.round(65_535 * encodeSrgb(isBright(Math.floor(i / 3) % W) ? 0.24 : 0.12));
  writer.writeRows(samples);
  const bytes = concatBytes(writer.finish());
  const frame = await node.ask("importFrame", { fileName: "stripes.tif", bytes });
  sources.set(frame.sourceId, bytes);
  node.sources.set(frame.sourceId, async () => bytes);
  const grass = { ...records, [plate.id]: { ...plate, sourceId: frame.sourceId } };
  const without = layersOf(grass).reduce<Records>((r, l) => (l.id === "l" ? r : removeLayer(l.id)(r)), grass);
  const seat = seatsOf(without)[0];
  expect(seatFigures(without, seat)!.heightPx).toBeGreaterThan(100);
  const perCm = seatFigures(without, seat)!.heightPx / 100;
  const values = await light(node, sinkSeat("seat", 20)(without));
  /** Share of a row of the thing that still shows. */
  const shownAt = (cm: number, bright: boolean) => {
    const y = Math.round(300 - cm * perCm);
    const xs = Array.from({ length: 40 }, (_, i) => 310 + i).filter((x) => isBright(x) === bright);
    return xs.filter((x) => values[y * W + x] > 0.45).length / xs.length;
  };
  expect([shownAt(2, true), shownAt(2, false)]).toEqual([0, 0]);
  expect([shownAt(45, true), shownAt(45, false)]).toEqual([1, 1]);
  expect(shownAt(22, false)).toBeGreaterThan(shownAt(22, true) + 0.5);
  // not sunk it is as it was
  expect(await light(node, sinkSeat("seat", 0)(sinkSeat("seat", 20)(without)))).toEqual(await light(node, without));
  const cold = await engine();
  const moved = changeSeat("seat", { foot: { x: 300, y: 320 } })(sinkSeat("seat", 20)(without));
  expect(await light(node, moved)).toEqual(await light(cold, moved));
});

it("what cannot be cut tells no light, and proof goes on", async () => {
  const records = await seated();
  const content = layerOf(records, "l")!.content as ReturnType<typeof wholeFrame>;
  // a box around nothing but even ground
  const [plate] = framesOf(records);
  const cut = { by: "box" as const, box: { x: 100, y: 100, width: 60, height: 60 }, plateId: null, plateMatrix: null, marks: [] };
  const uncut = updateLayer("l", { content: { ...content, frameId: plate.id, cut } })(records);
  expect(await node.ask("outlineLight", { records: uncut, layerId: "l" })).toBeNull();
  expect(Array.isArray(await node.ask("proof", { records: uncut }))).toBe(true);
});

describe("in water of the plate", () => {
  const WATER: Surface = {
    ...{ id: "pond", is: "water", heightM: 0 },
    places: [
      [100, 260],
      [560, 260],
      [560, 399],
      [100, 399],
    ],
  };
  const SKY = 0.5;
  async function mirrored(slope: number): Promise<Records> {
    const own = (await node.ask("standsAt", { records: laid, layerId: "l" }))!;
    const told = tellPlate({ stance: { pitchDeg: -12, rollDeg: 0, focalPx: 550 }, heightM: 1.8, heightBy: "hand", light: LIGHT, surfaces: [WATER] })(laid);
    const put = changeSeat("seat", { heightM: 0.5, heightBy: "hand" })(addSeat("l", own, { x: 330, y: 300 }, "seat")(told));
    return layReflection("seat", { surfaceId: "pond", slope, sky: [SKY, SKY, SKY] }, "Reflection")(put);
  }
  /** The light at a height of the thing's mirror image. */
  function at(values: Float32Array, records: Records, metres: number): { value: number; sine: number } {
    const camera = cameraOf(plateOf(records)!, { width: W, height: H });
    const foot = camera.placeAt(330, 300)!;
    const [x, y] = camera.pixelOf([foot[0], -metres, foot[2]])!;
    const [dx, dy, dz] = camera.rayOf(x, y);
    return { value: values[Math.round(y) * W + Math.round(x)], sine: -dy / Math.hypot(dx, dy, dz) };
  }

  it("still water shows the thing upside down in place of the sky, as much of it as it throws back", async () => {
    const records = await mirrored(0);
    const values = await light(node, records);
    const there = at(values, records, 0.25);
    expect(there.value).toBeCloseTo(GREY + fresnel(there.sine) * (0.6 - SKY), 3);
    expect(there.value - GREY).toBeGreaterThan(0.001);
    // as 16 bits hold it
    expect(at(values, records, 0.6).value).toBeCloseTo(GREY, 4);
  });

  it("ripples smear it more the further up it is, and it is the same in a part of the picture", async () => {
    const [still, rippled] = [await mirrored(0), await mirrored(0.08)];
    const [sharp, soft] = [await light(node, still), await light(node, rippled)];
    const wash = (height: number) => Math.abs(at(soft, rippled, height).value - at(sharp, still, height).value);
    expect(wash(0.5)).toBeGreaterThan(wash(0.05) + 1e-4);
    const job = await prepareJob(node.ctx, rippled, SILENT);
    const rect = { x: 250, y: 310, width: 130, height: 50 };
    const part = node.ctx.kernels.withScope((scope) =>
      node.ctx.kernels.f32(each(composeRect(node.ctx, job, 0, rect, "layers", scope))[0], rect.width * rect.height).slice(),
    );
    for (const [x, y] of [
      [0, 0],
      [70, 20],
      [129, 49],
    ])
      expect(part[y * rect.width + x]).toBeCloseTo(soft[(rect.y + y) * W + rect.x + x], 6);
  });

  it("follows the thing and its water, as an engine has it that keeps nothing, and goes with it", async () => {
    const before = await mirrored(0.02);
    await light(node, before);
    const moved = changeSeat("seat", { foot: { x: 300, y: 290 } })(tellPlate({ surfaces: [{ ...WATER, heightM: -0.1 }] })(before));
    expect([...(await light(node, moved))]).toEqual([...(await light(await engine(), moved))]);
    expect(layersOf(removeLayer("l")(moved))).toHaveLength(0);
  });

  it("what its water shows without it is measured, and none where no water is", async () => {
    const records = await mirrored(0);
    const seen = (await node.ask("waterUnder", { records, seatId: "seat" }))!;
    expect(seen.surfaceId).toBe("pond");
    // a plate of one grey: so is its sky, and no ripples show
    for (const v of seen.sky) expect(v).toBeCloseTo(GREY, 3);
    expect(seen.slope).toBeNull();
    expect(await node.ask("waterUnder", { records: tellPlate({ surfaces: [] })(records), seatId: "seat" })).toBeNull();
  });
});

it("what is marked nearer hides it, and what is marked further does not", async () => {
  const own = (await node.ask("standsAt", { records: laid, layerId: "l" }))!;
  const told = tellPlate({ stance: { pitchDeg: -12, rollDeg: 0, focalPx: 550 }, heightM: 1.8, heightBy: "hand" })(laid);
  const put = changeSeat("seat", { heightM: 1, heightBy: "hand" })(addSeat("l", own, { x: 330, y: 300 }, "seat")(told));
  const camera = cameraOf(plateOf(put)!, { width: W, height: H });
  const foot = camera.placeAt(330, 300)!;
  // a wall half a metre high, half a metre before the thing, and one as far behind
  const wall = (by: number): Surface => ({
    ...{ id: "w", is: "wall", heightM: 0.5 },
    places: [camera.pixelOf([foot[0] - 1, 0, foot[2] + by])!, camera.pixelOf([foot[0] + 1, 0, foot[2] + by])!],
  });
  const shown = async (by: number) => {
    const values = await light(node, hideSeat("seat", true)(tellPlate({ surfaces: [wall(by)] })(put)));
    return (metres: number) => {
      const [x, y] = camera.pixelOf([foot[0], metres, foot[2]])!;
      return values[Math.round(y) * W + Math.round(x)];
    };
  };
  const before = await shown(-0.5);
  expect(before(0.2)).toBeCloseTo(GREY, 4);
  expect(before(0.9)).toBeCloseTo(0.6, 3);
  const behind = await shown(0.5);
  expect(behind(0.2)).toBeCloseTo(0.6, 3);
  expect(layerOf(hideSeat("seat", false)(hideSeat("seat", true)(put)), "l")!.mask.parts).toHaveLength(0);
});

it("a ball of the plate tells its light through the file, and a place without one does not", async () => {
  // a picture of a ball lit from the upper right, by the camera of a level plate
  const [side, radius] = [400, 120];
  const camera = new GroundCamera({ width: side, height: side }, { pitchDeg: 0, rollDeg: 0, focalPx: 4000 }, 1.6);
  const towards = directionOf(60, 40);
  const samples = new Uint16Array(3 * side * side);
  for (let i = 0; i < side * side; i++) {
    const [u, v] = [((i % side) - 199.5) / radius, (199.5 - Math.floor(i / side)) / radius];
    const r2 = u * u + v * v;
    const lit = r2 < 1 ? Math.max(0, u * towards[0] + v * towards[1] - Math.sqrt(1 - r2) * towards[2]) : 0;
    samples.fill(Math.round(65_535 * encodeSrgb(0.1 + 0.6 * lit)), 3 * i, 3 * i + 3);
  }
  const writer = new TiffWriter({ width: side, height: side, bits: 16, channels: 3, metadata: [], profile: null });
  writer.writeRows(samples);
  const bytes = concatBytes(writer.finish());
  const imported = await node.ask("importFrame", { fileName: "round.tif", bytes });
  node.sources.set(imported.sourceId, async () => bytes);
  const frame = framesOf(addFrames([imported])(laid)).at(-1)!;
  const asked = { frame, stance: camera.stance, heightM: 1.6 };
  const told = await node.ask("ballLight", { ...asked, middle: [199.5, 199.5], radius });
  expect(lightsApartDeg(told as Exclude<typeof told, null | "even">, { azimuthDeg: 60, elevationDeg: 40 })).toBeLessThan(4);
  expect(await node.ask("ballLight", { ...asked, middle: [20, 20], radius: 15 })).toBe("even");
});

it("proof finds a shadow that is weaker or softer than the plate's own, and one that was laid as those are is none", async () => {
  // a rendered plate whose camera, sun and stake are known (scripts/scenes/plates.py)
  const name = "sheds-08.jpg";
  const {
    horizon,
    focalPx,
    cameraHeightM,
    stakes: [stake],
  } = (
    JSON.parse(readFileSync("tests/fixtures/plates/truth.json", "utf8")) as Record<
      string,
      {
        horizon: [[number, number], [number, number]];
        focalPx: number;
        cameraHeightM: number;
        stakes: { foot: [number, number]; top: [number, number]; tip: [number, number] }[];
      }
    >
  )[name];
  const bytes = new Uint8Array(readFileSync(`tests/fixtures/plates/${name}`));
  const imported = await node.ask("importFrame", { fileName: name, bytes });
  node.sources.set(imported.sourceId, async () => bytes);
  const [, thing] = framesOf(laid);
  const base = addFrames([imported])(startJob("Plate", "2026-01-01T00:00:00Z", "set-1").records);
  const [plate] = framesOf(base);
  const beside = { ...thing, id: "thing", setId: "elsewhere" };
  const built = setMerge(freshMerge("base", { baseId: plate.id }))(setRegistration(unmovedRegistration([plate], plate, 1), {})({ ...base, thing: beside }));
  const cut = { by: "alpha" as const, box: null, plateId: null, plateMatrix: null, marks: [] };
  const job = addLayer({ id: "l", name: "Board", blendIn: "light", content: wholeFrame("thing", { cut }) })(built);
  const own = (await node.ask("standsAt", { records: job, layerId: "l" }))!;
  const told = tellPlate({
    stance: stanceThrough(...horizon, focalPx, plate),
    ...{ heightM: cameraHeightM, heightBy: "hand" as const, horizonBy: "hand" as const },
    shadows: [{ foot: stake.foot, top: stake.top, tip: stake.tip }],
  })(job);
  const put = changeSeat("seat", { heightM: 0.6, heightBy: "hand" })(addSeat("l", own, { x: stake.foot[0] + 120, y: stake.foot[1] }, "seat")(told));
  const light = lightOf(plateOf(put)!, plate) as { azimuthDeg: number; elevationDeg: number };
  const { stance, shadows: marks, heightM } = plateOf(put)!;
  const figures = combineShadows(await node.ask("measureShadows", { frame: plate, stance, heightM, marks, light }))!;
  const names = { shadow: "Shadow", contact: "Contact" };
  const unlike = async (thrown: Parameters<typeof layShadow>[1]) =>
    (await node.ask("proof", { records: layShadow("seat", thrown, names)(put) })).filter((f) => f.kind === "shadowUnlike");
  expect(await unlike(figures)).toEqual([]);
  const [weak] = await unlike({ ...figures, ratioEv: figures.ratioEv! - 1 });
  expect((weak.values as { ownEv: number }).ownEv).toBeCloseTo(figures.ratioEv!, 1);
  expect(await unlike({ ...figures, sourceDeg: 4 * figures.sourceDeg })).toHaveLength(1);
});
