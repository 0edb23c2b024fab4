/** Retouch that follows what lies below it: what was removed stays removed. */
import { wholeFrame } from "../kinds/contents/frame/record";
import type { Rectangle } from "../core/geometry/rectangle";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { prepareSmallJob, SMALL_JOB } from "../../tests/support/smallJob";
import { addLayer, laySpecks, updateLayer } from "../document/layerEdits";
import { freshMask } from "../document/records/layerTypes";
import type { LayerContent } from "../kinds/contents/records";
import type { RetouchMethod } from "../kinds/contents/retouch/record";
import type { MaskPart, PartShape } from "../kinds/maskParts/records";
import type { Records } from "../document/records/types";
import { framesOf, layerOf, composedLayersOf } from "../document/selectors";
import { findTwinPatches } from "./operations/retouch/cleaning";
import { renderRect } from "./operations/view/renderView";
import { auditRemnants, residualLight } from "./operations/retouch/remnants";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { each } from "./operations/frames/frameSamples";
import { findInMerge } from "./operations/masks/foundMask";
import { maskPlane } from "./operations/masks/maskPlane";
import { CancelledError, SILENT, type Task } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = SMALL_JOB;
const WHOLE = { x: 0, y: 0, width: W, height: H };
const [CX, CY, R] = [110, 150, 9];

let node: NodeEngine;
let plain: Records;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  plain = await prepareSmallJob(node);
});

const part = (shape: PartShape): MaskPart => ({ id: `p${Math.random()}`, combine: "add", inverted: false, featherPx: 0, ...shape }) as MaskPart;
const disc = (r: number) => freshMask(0, [part({ kind: "ellipse", cx: CX, cy: CY, rx: r, ry: r, angleDeg: 0 })]);
const retouch = (method: RetouchMethod, dx = 0, dy = 0): LayerContent => ({ type: "retouch", method, dx, dy, angleDeg: 0, scale: 1, mirrored: false });
const planes = async (records: Records, rect: Rectangle = WHOLE, level = 0) => {
  const job = await prepareJob(node.ctx, records, SILENT);
  return node.ctx.kernels.withScope((scope) =>
    each(composeRect(node.ctx, job, level, rect, "layers", scope)).map((at) => node.ctx.kernels.f32(at, rect.width * rect.height).slice()),
  );
};
/** A black disc on the merge, as a thing that is to go. */
const speck = addLayer({ id: "thing", name: "Thing", content: { type: "fill", red: 0, green: 0, blue: 0, grain: 0, grainPx: 2, ramp: null }, mask: disc(R) });
/** How much darker the middle of the disc is than the scene without it, as a share of what the thing itself takes away. */
async function left(records: Records, without: Records): Promise<number> {
  const [now, clean] = [await planes(records), await planes(without)];
  let [sum, all] = [0, 0];
  for (let y = CY - R; y <= CY + R; y++) {
    for (let x = CX - R; x <= CX + R; x++) {
      if (Math.hypot(x - CX, y - CY) > R - 1) continue;
      sum += Math.abs(now[1][y * W + x] - clean[1][y * W + x]);
      all += clean[1][y * W + x];
    }
  }
  return sum / all;
}

it.each([
  ["heal", 0, 46],
  ["clone", 0, 44],
  ["fill", 0, 0],
  ["smooth", 0, 0],
] as const)("what is removed by %s stays removed when anything below changes", async (method, dx, dy) => {
  const removed = addLayer({ id: "r", name: "R", content: retouch(method, dx, dy), mask: disc(R + 4) });
  // the scene has waves: what has no detail, or that of elsewhere, cannot follow them
  const limit = method === "clone" || method === "smooth" ? 0.35 : 0.2;
  expect(await left(speck(plain), plain)).toBeGreaterThan(0.95);
  expect(await left(removed(speck(plain)), plain)).toBeLessThan(limit);
  const brighter = addLayer({ id: "e", name: "E", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } } });
  expect(await left(removed(brighter(speck(plain))), brighter(plain))).toBeLessThan(limit);
  const faded = updateLayer("thing", { opacity: 0.5 })(speck(plain));
  expect(await left(removed(faded), plain)).toBeLessThan(limit);
  const [, f1] = framesOf(plain);
  const under = addLayer({ id: "f", name: "F", content: wholeFrame(f1.id) })(plain);
  expect(await left(removed(speck(under)), under)).toBeLessThan(limit);
});

it("a healed area keeps the tones around it and takes its detail from the source, the same in pieces and with another layer above", async () => {
  const healed = addLayer({ id: "r", name: "R", content: retouch("heal", 60, 20), mask: disc(20) })(plain);
  const whole = await planes(healed);
  const piece = { x: CX - 10, y: CY - 14, width: 31, height: 17 };
  const cut = await planes(healed, piece);
  cut.forEach((plane, c) =>
    plane.forEach((v, i) => expect(v).toBeCloseTo(whole[c][(piece.y + Math.floor(i / piece.width)) * W + piece.x + (i % piece.width)], 6)),
  );
  const before = await planes(plain);
  // outside of the area nothing changes
  expect(whole[0][(CY + 30) * W + CX]).toBe(before[0][(CY + 30) * W + CX]);
  // inside, what is added to the root of the source is smooth: it solves Laplace's equation
  const added = (x: number, y: number) => Math.sqrt(whole[1][y * W + x]) - Math.sqrt(before[1][(y + 20) * W + x + 60]);
  for (const [x, y] of [
    [CX, CY],
    [CX + 7, CY - 5],
    [CX - 9, CY + 3],
  ])
    expect(Math.abs(4 * added(x, y) - added(x - 1, y) - added(x + 1, y) - added(x, y - 1) - added(x, y + 1))).toBeLessThan(2e-4);
});

it("a source is proposed beside the area, where the surroundings go on best, and none where nothing is revealed", async () => {
  const place = (records: Records) => node.ask("retouchPlace", { records, layerId: "r" });
  const healing = addLayer({ id: "r", name: "R", content: retouch("heal"), mask: disc(12) });
  const { area, proposal } = (await place(healing(plain)))!;
  expect([area.x <= CX - 12, area.x + area.width >= CX + 13]).toEqual([true, true]);
  expect(Math.hypot(proposal!.dx, proposal!.dy)).toBeGreaterThan(20);
  // a black field beside the area, below the layer, is not taken from
  const field = part({ kind: "polygon", points: [CX + 25, 0, W, 0, W, H, CX + 25, H] });
  const black = { type: "fill" as const, red: 0, green: 0, blue: 0, grain: 0, grainPx: 2, ramp: null };
  const beside = (await place(healing(addLayer({ name: "Black", content: black, mask: freshMask(0, [field]) })(plain))))!;
  expect(CX + beside.proposal!.dx).toBeLessThan(CX + 20);
  expect(await place(addLayer({ id: "r", name: "R", content: retouch("heal"), mask: freshMask(0) })(plain))).toBeNull();
});

it("a rough area is given a rough source, although a flat one differs less from it px by px", async () => {
  const grey = { type: "fill" as const, red: 0.5, green: 0.5, blue: 0.5, grainPx: 3, ramp: null };
  const flat = part({ kind: "polygon", points: [CX + 30, 0, W, 0, W, H, CX + 30, H] });
  let r = addLayer({ id: "rough", name: "Rough", content: { ...grey, grain: 0.15 } })(plain);
  r = addLayer({ id: "flat", name: "Flat", content: { ...grey, grain: 0 }, mask: freshMask(0, [flat]) })(r);
  for (const method of ["heal", "clone"] as const) {
    const place = await node.ask("retouchPlace", { records: addLayer({ id: "r", name: "R", content: retouch(method), mask: disc(12) })(r), layerId: "r" });
    expect(CX + place!.proposal!.dx).toBeLessThan(CX + 20);
  }
});

it("specks become one layer with a dab each", async () => {
  const specks = [
    { x: 50, y: 60, radiusPx: 3 },
    { x: 200, y: 220, radiusPx: 6 },
  ];
  const { edit, layerId } = laySpecks(specks);
  const records = edit(plain);
  expect(composedLayersOf(records).map((l) => l.id)).toEqual([layerId]);
  const job = await prepareJob(node.ctx, records, SILENT);
  const mask = maskPlane(node.ctx, job, layerOf(records, layerId)!, 0, WHOLE);
  expect([mask[60 * W + 50], mask[220 * W + 200], mask[220 * W + 206] > 0.5, mask[60 * W + 60]]).toEqual([1, 1, true, 0]);
});

it("what a mask leaves of a thing is found around it, and a clean removal leaves nothing", async () => {
  const [, f1] = framesOf(plain);
  // one frame alone is the merge; the thing stands on it, and the same frame shows the place without it
  const ground = setMerge(freshMerge("base", { baseId: f1.id }))(plain);
  const frame = (r: number) => addLayer({ id: "clean", name: "Clean", content: wholeFrame(f1.id), mask: disc(r) });
  const audit = async (r: number) => {
    const job = await prepareJob(node.ctx, frame(r)(speck(ground)), SILENT);
    return (await auditRemnants(node.ctx, job, layerOf(job.records, "clean")!, SILENT))!;
  };
  const short = await audit(R - 4);
  expect(short.compared).toBe("frame");
  expect(short.remnants.length).toBeGreaterThan(0);
  const [worst] = short.remnants;
  expect(Math.abs(worst.place.x + worst.place.width / 2 - CX)).toBeLessThan(R + 2);
  expect(worst.contrastEv).toBeLessThan(-1);
  expect((await audit(R + 3)).remnants).toEqual([]);
});

it("what is left is drawn dark on grey, the same in pieces, and is nowhere after a clean removal", async () => {
  const [, f1] = framesOf(plain);
  const ground = speck(setMerge(freshMerge("base", { baseId: f1.id }))(plain));
  const frame = (r: number) => addLayer({ id: "clean", name: "Clean", content: wholeFrame(f1.id), mask: disc(r) });
  const healed = addLayer({ id: "clean", name: "Clean", content: retouch("heal", 90, 0), mask: disc(R - 4) })(ground);
  const draw = async (records: Records, rect: Rectangle) =>
    (await renderRect(node.ctx, records, { view: { kind: "residual", layerId: "clean" }, level: 0, rect, space: "srgb" }, SILENT)).rgba.filter(
      (_, i) => i % 4 === 0,
    );
  // between the mask and the border of the thing
  const at = (CY | 0) * W + Math.round(CX + R - 2);
  for (const short of [frame(R - 4)(ground), healed]) {
    const whole = await draw(short, WHOLE);
    expect(whole[at]).toBeLessThan(60);
    const piece = { x: CX - 20, y: CY - 30, width: 90, height: 50 };
    const drawn = await draw(short, piece);
    for (const [x, y] of [
      [0, 0],
      [30, 20],
      [40, 31],
      [89, 49],
    ])
      expect(Math.abs(drawn[y * 90 + x] - whole[(piece.y + y) * W + piece.x + x])).toBeLessThanOrEqual(1);
  }
  const clean = await draw(frame(R + 3)(ground), WHOLE);
  expect(clean.filter((v) => v !== 0 && v !== 255 && Math.abs(v - 127) > 2)).toHaveLength(0);
});

it("a view that is gone does not take with it what another waits for; where nothing is taken away that is drawn, not an even grey", async () => {
  const [, f1] = framesOf(plain);
  const ground = speck(setMerge(freshMerge("base", { baseId: f1.id }))(plain));
  const frame = (mask: ReturnType<typeof disc>) => addLayer({ id: "clean", name: "Clean", content: wholeFrame(f1.id), mask })(ground);
  const job = await prepareJob(node.ctx, frame(disc(R - 5)), SILENT);
  const look = (task: Task) => residualLight(node.ctx, job, layerOf(job.records, "clean")!, 0, WHOLE, task);
  const [gone, waiting] = await Promise.allSettled([look({ step: () => Promise.reject(new CancelledError()) }), look(SILENT)]);
  expect(gone.status).toBe("rejected");
  expect(waiting).toMatchObject({ status: "fulfilled", value: expect.any(Float32Array) as Float32Array });
  const { rgba } = await renderRect(
    node.ctx,
    frame(freshMask(1)),
    { view: { kind: "residual", layerId: "clean" }, level: 0, rect: WHOLE, space: "srgb" },
    SILENT,
  );
  expect(new Set(rgba.filter((_, i) => i % 4 === 0))).toEqual(new Set([90, 128]));
});

it("what remnants are compared with follows the layer's own mask, hidden or not", async () => {
  const [, f1] = framesOf(plain);
  const ground = speck(setMerge(freshMerge("base", { baseId: f1.id }))(plain));
  const hidden = (mask: ReturnType<typeof disc>) =>
    addLayer({
      id: "clean",
      name: "Clean",
      content: wholeFrame(f1.id),
      mask,
      visible: false,
    })(ground);
  const left = async (mask: ReturnType<typeof disc>) => {
    const job = await prepareJob(node.ctx, hidden(mask), SILENT);
    return residualLight(node.ctx, job, layerOf(job.records, "clean")!, 0, WHOLE, SILENT);
  };
  expect(await left(disc(R - 5))).toBeInstanceOf(Float32Array);
  // a mask that reveals all leaves nothing to compare with
  expect(await left(freshMask(1))).toBeNull();
});

it("a clone whose source can still be seen stands twice", async () => {
  const rough = (records: Records) =>
    addLayer({ id: "n", name: "N", content: { type: "fill", red: 0.5, green: 0.5, blue: 0.5, grain: 0.12, grainPx: 3, ramp: null } })(records);
  const cloned = addLayer({ id: "r", name: "R", content: retouch("clone", 120, 40), mask: disc(28) });
  const twins = async (records: Records) => findTwinPatches(node.ctx, await prepareJob(node.ctx, records, SILENT), SILENT);
  const [found] = await twins(cloned(rough(plain)));
  expect(Math.hypot(found.ax - CX, found.ay - CY)).toBeLessThan(12);
  expect(Math.hypot(found.bx - CX - 120, found.by - CY - 40)).toBeLessThan(12);
  expect(await twins(rough(plain))).toEqual([]);
});

it("what is looked for in the merge is a mask at every level, and says how sure it is", async () => {
  // the lamp of the scene, bright and alone
  const lamp = { kind: "found" as const, what: "near" as const, x0: 300, y0: 80, x1: 0, y1: 0, tolerance: 20 };
  const job = await prepareJob(node.ctx, addLayer({ id: "a", name: "A", content: { type: "merge" }, mask: freshMask(0, [part(lamp)]) })(plain), SILENT);
  const found = findInMerge(node.ctx, job, lamp);
  expect(found.share).toBeGreaterThan(0.01);
  expect(found.share).toBeLessThan(0.3);
  const layer = layerOf(job.records, "a")!;
  const mask = maskPlane(node.ctx, job, layer, 0, WHOLE);
  expect([mask[80 * W + 300] > 0.9, mask[280 * W + 20] < 0.1]).toEqual([true, true]);
  const half = maskPlane(node.ctx, job, layer, 1, { x: 0, y: 0, width: W / 2, height: H / 2 });
  expect(half[40 * (W / 2) + 150]).toBeGreaterThan(0.9);
});
