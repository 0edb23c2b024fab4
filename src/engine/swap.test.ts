/** Parts taken from another frame, on the two poses of the wooden figure, held to the truth its scene was made with (scripts/scenes/figureSwap.py); later pictures by a known map. */
import { readFileSync } from "node:fs";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { decodeSrgb, encodeSrgb } from "../core/color/srgbCurve";
import { multiply, project, type Matrix3 } from "../core/geometry/matrix3";
import { fillCells } from "../core/masks/cellRuns";
import { addFrames, setRegistration, startJob, takeStep } from "../document/edits";
import { addLayer, updateLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { movedMatrix, movedOf } from "../document/outputGeometry";
import type { SwapRecord } from "../document/records/swapTypes";
import type { FrameRecord, Records } from "../document/records/types";
import { framesOf, layerOf, layersOf, swapsOf } from "../document/selectors";
import { addSwap, beginPart, leavePart, removeSwap, takenFrom, takePart } from "../document/swapEdits";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { UNMOVED, wholeFrame } from "../kinds/contents/frame/record";
import { message } from "../messages/message";
import { runPython, temporaryFolder } from "../../tests/support/python";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const truth = JSON.parse(readFileSync("demo/figure/truth.json", "utf8")) as {
  size: [number, number];
  shoulder: [number, number, number, number];
  points: { reference: [number, number][]; moving: [number, number][] };
};
const [W, H] = truth.size;
const [X, Y, WIDTH, HEIGHT] = truth.shoulder;
const SIZE = { width: W, height: H };

let node: NodeEngine;
let plain: Records;
let frames: FrameRecord[];
let placed: Matrix3;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const made = [];
  for (const name of ["figure-1", "figure-2"]) {
    const bytes = new Uint8Array(readFileSync(`demo/figure/${name}.jpg`));
    const frame = await node.ask("importFrame", { fileName: `${name}.jpg`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    made.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(made), { stage: "gather", label: "step.compared" }, "t");
  frames = framesOf(records);
  const request = { referenceId: frames[0].id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const { registration, measuredEv } = await node.ask("register", { records, frames, request });
  plain = setMerge(freshMerge("base", { baseId: frames[0].id }))(setRegistration(registration, measuredEv)(records));
  placed = registration.placements[1].matrix!;
});

/** Mean distance at the shoulder, px, of where a layer puts the other frame from where it belongs. */
const offAt = (moved: Parameters<typeof movedMatrix>[0]) => {
  const matrix = multiply(movedMatrix(moved, SIZE), placed);
  const each = truth.points.moving.map(([x, y], i) => {
    const [u, v] = project(matrix, x, y);
    return Math.hypot(u - truth.points.reference[i][0], v - truth.points.reference[i][1]);
  });
  return each.reduce((a, b) => a + b, 0) / each.length;
};

const drawn = (records: Records, id: string, box: SwapRecord["box"]): Records => addSwap({ id, name: id, box, looks: [] })(records);
const swapOf = (records: Records, id: string) => swapsOf(records).find((s) => s.id === id)!;

async function taken(records: Records, id: string, joint: SwapRecord["joint"]): Promise<Records> {
  const swap = swapOf(records, id);
  const begun = beginPart(swap, frames[1].id);
  const part = await node.ask("fitPart", { records: begun.edit(records), layerId: begun.layerId, box: swap.box, joint });
  return takePart(id, frames[1].id, part!.content, part!.cells)(records);
}

it("an arm comes from another frame: the old one goes by what lay behind it, the new one hangs on its shoulder, and neither seam shows", async () => {
  const oldArm = { x: 220, y: 10, width: 460, height: 340 };
  const newArm = { x: 500, y: 270, width: 250, height: 360 };
  const shoulder = { x: X - 10, y: Y - 40, width: WIDTH + 10, height: HEIGHT + 80 };
  let records = await taken(drawn(plain, "old", oldArm), "old", null);
  records = await taken(drawn(records, "new", newArm), "new", shoulder);
  const [old, next] = ["old", "new"].map((id) => layerOf(records, swapOf(records, id).layerId!)!);
  // the later part lies on the earlier one, and was looked at with it
  expect(layersOf(records).map((l) => l.id)).toEqual([old.id, next.id]);
  if (next.content.type !== "frame" || old.content.type !== "frame") throw new Error("no frames");
  const off = offAt(next.content.moved!);
  // no similarity comes nearer than 0.24 px to this chest, which is curved and leans
  process.stdout.write(`joint off by ${off.toFixed(2)} px, ${next.content.fit!.residualPx.toFixed(2)} px left\n`);
  expect(off).toBeLessThan(0.3);
  expect(next.content.fit!.residualPx).toBeLessThan(0.4);
  // both were shot alike
  expect(Math.abs(old.content.fit!.lightEv)).toBeLessThan(0.05);
  // the wall lies where it lay: there the frames were registered
  expect(offAt(old.content.moved!)).toBeGreaterThan(20);
  const seams = [];
  for (const { id } of [old, next]) seams.push((await node.ask("seamFigures", { records, layerId: id }))!);
  process.stdout.write(seams.map((s) => `seam ΔE ${s.deltaE.toFixed(2)}, worst tenth ${s.worstDeltaE.toFixed(2)}, ${s.lengthPx} px\n`).join(""));
  for (const { deltaE } of seams) expect(deltaE).toBeLessThan(1);
  // a border that is put where it shows is told: straight through the arm
  const { mask } = layerOf(records, next.id)!;
  const halved = mask.parts.map((p) => (p.kind === "cells" ? { ...p, runs: p.runs.filter((_, i) => p.runs[i - (i % 3)] * p.cellPx < 450) } : p));
  const cut = updateLayer(next.id, { mask: { ...mask, parts: halved } })(records);
  const told = (await node.ask("seamFigures", { records: cut, layerId: next.id }))!;
  expect(told.worstDeltaE).toBeGreaterThan(seams[1].worstDeltaE);
  expect(Math.abs(told.worst.y - 450)).toBeLessThan(12);
  // the raised hand is gone wholly, and the new one is there to its fingers
  const cellsOf = (layer: typeof old) => layer.mask.parts.find((p) => p.kind === "cells")!;
  const has = (layer: typeof old, x: number, y: number) => {
    const cells = cellsOf(layer);
    return cells.kind === "cells" && fillCells(cells.runs, { x: Math.floor(x / cells.cellPx), y: Math.floor(y / cells.cellPx), width: 1, height: 1 })[0] === 1;
  };
  for (const [x, y] of [
    [382, 100],
    [348, 52],
    [480, 200],
    [600, 285],
  ])
    expect([x, y, has(old, x, y)]).toEqual([x, y, true]);
  for (const [x, y] of [
    [555, 595],
    [570, 560],
    [620, 450],
  ])
    expect([x, y, has(next, x, y)]).toEqual([x, y, true]);
  expect(has(next, 350, 350)).toBe(false);
});

it("where nothing that is drawn lies alike in both frames it is refused", async () => {
  const swap = drawn(plain, "s", { x: 200, y: 100, width: 200, height: 200 });
  const begun = beginPart(swapOf(swap, "s"), frames[1].id);
  // the raised hand is in one frame only
  const joint = { x: 240, y: 40, width: 90, height: 90 };
  const asked = node.ask("fitPart", { records: begun.edit(swap), layerId: begun.layerId, box: swapOf(swap, "s").box, joint });
  await expect(asked).rejects.toMatchObject({ name: "Refusal", message: expect.stringContaining("swap.jointDiffers") as string });
});

it("a part that is left goes with its layer, and a part that is taken anew keeps it", async () => {
  const cells = { kind: "cells" as const, cellPx: 4, runs: [10, 5, 9] };
  const swapped = takePart("s", frames[1].id, wholeFrame(frames[1].id, { moved: UNMOVED }), cells)(drawn(plain, "s", { x: 20, y: 20, width: 80, height: 80 }));
  const { layerId } = swapOf(swapped, "s");
  expect(takenFrom(swapped, swapOf(swapped, "s"))).toBe(frames[1].id);
  const again = takePart("s", frames[0].id, wholeFrame(frames[0].id), cells)(swapped);
  expect(swapOf(again, "s").layerId).toBe(layerId);
  expect(takenFrom(again, swapOf(again, "s"))).toBe(frames[0].id);
  expect(layersOf(again)).toHaveLength(1);
  const left = leavePart("s")(again);
  expect([swapOf(left, "s").layerId, layersOf(left)]).toEqual([null, []]);
  const gone = removeSwap("s")(again);
  expect([swapsOf(gone), layersOf(gone)]).toEqual([[], []]);
});

/** The first frame turned, scaled, shifted and darkened by OpenCV: a later picture of the same view, whose map is known. */
const MAKE = `
import sys, json, cv2, numpy as np
im = cv2.imread('demo/figure/figure-1.jpg').astype(np.float32) / 255
lin = np.where(im <= .04045, im / 12.92, ((im + .055) / 1.055) ** 2.4)
lin = lin * np.array([0.5 * 2 ** 0.1, 0.5, 0.5], np.float32)  # half the light, blue a tenth of an EV more (BGR)
a = np.radians(4); s = 0.8
M = np.array([[s * np.cos(a), -s * np.sin(a), 60], [s * np.sin(a), s * np.cos(a), -30]])
out = cv2.warpAffine(lin, M, (1280, 860), flags=cv2.INTER_LANCZOS4, borderMode=cv2.BORDER_REPLICATE)
out[..., ::-1].astype(np.float32).tofile(sys.argv[1])
print(json.dumps(M.ravel().tolist()))
`;

it("a later picture of the same view is registered onto what lies below, and what differs is told", async () => {
  const path = `${temporaryFolder()}/later.f32`;
  const M = runPython<number[]>(MAKE, [path]);
  const bytes = readFileSync(path);
  const light = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const writer = new TiffWriter({ width: 1280, height: 860, bits: 16, metadata: [], profile: null });
  writer.writeRows(Uint16Array.from(light, (v) => Math.round(65_535 * encodeSrgb(Math.min(1, Math.max(0, v))))));
  const file = concatBytes(writer.finish());
  const frame = await node.ask("importFrame", { fileName: "later.tif", bytes: file });
  node.sources.set(frame.sourceId, async () => file);
  // it lies in the job, and takes no part in the merge
  const record: FrameRecord = { ...frames[0], ...frame, id: "later", index: 9, setId: "set-2" };
  const records = addLayer({ id: "l", name: "Later", content: wholeFrame("later") })({ ...plain, later: record });
  const { moved, fit } = (await node.ask("fitFrame", { records, layerId: "l", joint: null }))!;
  const toPicture = movedMatrix(moved, SIZE, { width: 1280, height: 860 });
  for (const [x, y] of [
    [200, 200],
    [1400, 250],
    [800, 900],
  ]) {
    const [u, v] = [M[0] * x + M[1] * y + M[2], M[3] * x + M[4] * y + M[5]];
    const [a, b] = project(toPicture, u, v);
    expect(Math.hypot(a - x, b - y)).toBeLessThan(0.15);
  }
  expect(fit.lightEv).toBeCloseTo(-1, 1);
  expect(fit.blueEv).toBeCloseTo(0.1, 1);
  expect(Math.abs(fit.redEv)).toBeLessThan(0.03);
  expect(fit.residualPx).toBeLessThan(0.3);
});

it("a picture of another view fits nowhere", async () => {
  const noise = new TiffWriter({ width: 640, height: 480, bits: 16, metadata: [], profile: null });
  noise.writeRows(Uint16Array.from({ length: 3 * 640 * 480 }, (_, i) => Math.round(65_535 * decodeSrgb(((i * 7919) % 1009) / 1009))));
  const file = concatBytes(noise.finish());
  const frame = await node.ask("importFrame", { fileName: "other.tif", bytes: file });
  node.sources.set(frame.sourceId, async () => file);
  const record: FrameRecord = { ...frames[0], ...frame, id: "other", index: 9, setId: "set-2" };
  const records = addLayer({ id: "l", name: "Other", content: wholeFrame("other") })({ ...plain, other: record });
  expect(await node.ask("fitFrame", { records, layerId: "l", joint: null })).toBeNull();
});

it("what is moved as a map says lies where the map has it, whatever the map", () => {
  const own = { width: 700, height: 500 };
  for (const map of [
    [1, 0, 0, 0, 1, 0, 0, 0, 1],
    [0.8, -0.3, 40, 0.3, 0.8, -25, 0, 0, 1],
    [1.1, 0.04, 10, -0.02, 0.95, 3, 2e-5, -1e-5, 1],
  ] as Matrix3[]) {
    const matrix = movedMatrix(movedOf(map, SIZE, own), SIZE, own);
    for (const [x, y] of [
      [0, 0],
      [699, 20],
      [350, 480],
    ])
      project(matrix, x, y).forEach((v, c) => expect(v).toBeCloseTo(project(map, x, y)[c], 3));
  }
  expect(movedOf([0.8, -0.3, 40, 0.3, 0.8, -25, 0, 0, 1], SIZE, own).corners).toEqual(UNMOVED.corners);
});
