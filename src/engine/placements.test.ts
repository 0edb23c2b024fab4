/** Placing frames whose lens is known, by hand and by points, on small pictures made from a formula. */
import { written } from "../messages/message";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { encodeSrgb } from "../core/color/srgbCurve";
import { distort, undistort, type Lens } from "../core/geometry/lens";
import { IDENTITY, project, type Matrix3 } from "../core/geometry/matrix3";
import { addFrames, addRegion, developFrames, setRegistration, startJob, unmovedRegistration } from "../document/edits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { Records } from "../document/records/types";
import { framesOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { randomOf } from "../../tests/support/kernels";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const size = { width: 480, height: 320 };
const LENS: Lens = { k1: -0.08, k2: 0 };
const MOVE: Matrix3 = [0.9995, -0.012, 6.5, 0.012, 0.9995, -4.25, 0, 0, 1];

const random = randomOf(12);
const blobs = Array.from({ length: 1500 }, () => ({ x: random() * 640 - 80, y: random() * 480 - 80, r: 1.6 + random() * 5, a: random() - 0.4 }));
const scene = (x: number, y: number) => {
  let sum = 0.16;
  for (const b of blobs) {
    const d = ((x - b.x) ** 2 + (y - b.y) ** 2) / (b.r * b.r);
    if (d < 12) sum += 0.3 * b.a * Math.exp(-d);
  }
  return Math.max(0.01, sum);
};

/** A frame as shot: its px, without the lens, through the map into the scene. */
function file(map: Matrix3, lens: Lens | null): Uint8Array {
  const writer = new TiffWriter({ ...size, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(size.width * size.height * 3);
  for (let y = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++) {
      const value = Math.round(65535 * encodeSrgb(scene(...project(map, ...undistort(lens, size, x, y)))));
      samples.fill(value, (y * size.width + x) * 3, (y * size.width + x) * 3 + 3);
    }
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

let node: NodeEngine;
/** Frame 1 straight, frame 2 moved and seen through the lens. */
let records: Records;
let ids: string[];
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const frames = [];
  for (const [name, map, lens] of [
    ["a.tif", IDENTITY, null],
    ["b.tif", MOVE, LENS],
  ] as const) {
    const bytes = file(map, lens);
    const frame = await node.ask("importFrame", { fileName: name, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    frames.push(frame);
  }
  records = addFrames(frames)(startJob("Test", "t").records);
  ids = framesOf(records).map((f) => f.id);
});

const register = async (r: Records, reference: number) => {
  const request = { referenceId: ids[reference], referenceReason: written(""), model: "auto" as const };
  return node.ask("register", { records: r, frames: framesOf(r), request });
};
const worstOf = (matrix: Matrix3, wanted: Matrix3) =>
  Math.max(
    ...[
      [60, 50],
      [420, 50],
      [240, 160],
      [60, 270],
      [420, 270],
    ].map(([x, y]) => {
      const [p, q] = [project(matrix, x, y), project(wanted, x, y)];
      return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }),
  );

it("an unknown lens is measured", async () => {
  const { registration } = await register(records, 0);
  const placed = registration.placements[1];
  expect(placed).toMatchObject({ registered: true, model: "radial" });
  expect(placed.lens!.k1).toBeCloseTo(LENS.k1, 2);
  expect(worstOf(placed.matrix!, MOVE)).toBeLessThan(0.1);
});

it("a lens that the development knows is undone first, and the simpler model does", async () => {
  const known = developFrames([ids[1]], { lens: LENS })(records);
  const { registration } = await register(known, 0);
  const placed = registration.placements[1];
  expect(placed.lens).toEqual(LENS);
  expect(placed.model).toBe("similarity");
  expect(worstOf(placed.matrix!, MOVE)).toBeLessThan(0.1);
  expect(placed.residualPx).toBeLessThan(0.1);
});

it("also where the frame with the lens is the reference: places and regions are those of the straightened picture", async () => {
  const known = developFrames([ids[1]], { lens: LENS })(records);
  const { registration } = await register(known, 1);
  const [moving, reference] = registration.placements;
  expect([reference.lens, moving.lens]).toEqual([LENS, null]);
  // frame 1 → straight frame 2 undoes the move
  expect(worstOf(MOVE, IDENTITY)).toBeGreaterThan(4);
  for (const [x, y] of [
    [60, 50],
    [400, 270],
  ]) {
    const [u, v] = project(moving.matrix!, ...project(MOVE, x, y));
    expect(Math.hypot(u - x, v - y)).toBeLessThan(0.1);
  }
  const corner = addRegion({ purpose: "lineUp", shape: { kind: "box", rectangle: { x: 40, y: 40, width: 170, height: 130 } } })(known);
  const pinned = (await register(corner, 1)).registration.placements[0];
  expect(pinned.residualPx).toBeLessThan(0.1);
  // all of the picture moved alike, so nothing drifts elsewhere
  expect(pinned.drift!.rmsPx).toBeLessThan(0.6);
});

it("by hand: what is left is told, a point is found to a fraction of a px, points and refining lead home", async () => {
  const known = developFrames([ids[1]], { lens: LENS })(records);
  const frames = framesOf(known);
  const placed = setRegistration({ ...unmovedRegistration(frames, frames[0], 2), model: "auto" }, {})(known);
  const start = { matrix: IDENTITY, lens: LENS };
  const off = await node.ask("judgePlacement", { records: placed, frameId: ids[1], placing: start });
  expect(off.residualPx).toBeGreaterThan(3);
  const good = await node.ask("judgePlacement", { records: placed, frameId: ids[1], placing: { matrix: MOVE, lens: LENS } });
  expect(good.residualPx).toBeLessThan(0.1);
  expect(good.agreeing).toBeGreaterThan(0.9);

  const points: number[][] = [];
  for (const [x, y] of [
    [90, 80],
    [380, 90],
    [120, 250],
    [370, 240],
  ]) {
    // where frame 2 as shot shows this place of frame 1
    const inverse = [MOVE[0], MOVE[3], 0, MOVE[1], MOVE[4], 0, 0, 0, 1].map((v) => v / (MOVE[0] ** 2 + MOVE[3] ** 2));
    const [dx, dy] = [x - MOVE[2], y - MOVE[5]];
    const truth = distort(LENS, size, inverse[0] * dx + inverse[1] * dy, inverse[3] * dx + inverse[4] * dy);
    const found = await node.ask("snapPoint", {
      records: placed,
      frameId: ids[1],
      placing: start,
      point: { x, y },
      guess: { u: truth[0] + 3, v: truth[1] - 2 },
    });
    expect(Math.hypot(found!.u - truth[0], found!.v - truth[1])).toBeLessThan(0.2);
    points.push([x, y, found!.u, found!.v]);
  }
  const byPoints = await node.ask("placeByPoints", { records: placed, frameId: ids[1], points, lens: LENS });
  expect(byPoints!.placement).toMatchObject({ by: "points", lens: LENS });
  expect(worstOf(byPoints!.placement.matrix!, MOVE)).toBeLessThan(0.6);
  const refined = await node.ask("refinePlacement", { records: placed, frameId: ids[1], placing: byPoints!.placement as { matrix: Matrix3; lens: Lens } });
  expect(worstOf(refined!.placement.matrix!, MOVE)).toBeLessThan(0.1);
  expect(refined!.placement).toMatchObject({ by: "measured", model: "similarity", lens: LENS });
});

it("an exposure developed for all frames changes the merge by as much, and clipping stays where the camera put it", async () => {
  const at = async (exposureEv: number) => {
    const developed = developFrames(ids, { exposureEv })(developFrames([ids[1]], { lens: LENS })(records));
    const { registration, measuredEv } = await register(developed, 0);
    const merged = setMerge(freshMerge("radiance"))(setRegistration(registration, measuredEv)(developed));
    return (await node.ask("readOut", { records: merged, x: 240, y: 160, radius: 5 })).sceneEv!;
  };
  expect((await at(1)) - (await at(0))).toBeCloseTo(1, 2);
});

it("views laid over each other do not depend on the bands they are drawn in", async () => {
  const frames = framesOf(records);
  const placed = setRegistration(unmovedRegistration(frames, frames[0], 2), {})(records);
  const draw = async (mode: "difference" | "checker" | "edges", y: number, height: number) => {
    const view = { kind: "placing" as const, frameId: ids[1], referenceId: ids[0], placing: { matrix: MOVE, lens: LENS }, mode };
    return (await node.ask("renderRect", { records: placed, view, level: 0, rect: { x: 0, y, width: size.width, height }, space: "srgb" })).rgba;
  };
  for (const mode of ["difference", "checker"] as const) {
    const whole = await draw(mode, 0, size.height);
    expect([...(await draw(mode, 100, 90))]).toEqual([...whole.subarray(100 * size.width * 4, 190 * size.width * 4)]);
  }
  // outlines are differences of neighbours: the first row of a band knows one side only, and must not show as a line
  const edges = await draw("edges", 0, size.height);
  const rowMean = (y: number) =>
    edges.subarray(y * size.width * 4, (y + 1) * size.width * 4).reduce((sum, v, i) => sum + (i % 4 === 1 ? v : 0), 0) / size.width;
  for (const y of [127, 128, 255, 256]) expect(Math.abs(rowMean(y) - (rowMean(y - 3) + rowMean(y + 3)) / 2)).toBeLessThan(6);
});
