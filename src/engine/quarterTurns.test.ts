/** Frames turned by quarters: read anew, measured anew, laid on each other, grouped and delivered as they then lie. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { compareParity } from "../core/measure/sets/parity";
import { addFrames, setRegistration, startJob, takeStep, turnFrames, unmovedRegistration } from "../document/edits";
import { addLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { FrameRecord, Records } from "../document/records/types";
import { framesOf, workingSetOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { openFrame } from "./operations/frames/sources";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [480, 320];

/** A scene with structure everywhere and no symmetry, in 16-bit codes. */
function code(x: number, y: number, channel: number): number {
  const waves =
    Math.sin(x / 11 + Math.sin(y / 23)) * Math.cos(y / 8 - x / 31) + 0.6 * Math.sin((x * y) / 1700) + 0.4 * Math.cos(Math.hypot(x - 90, y - 60) / 5);
  return Math.round(30000 + 9000 * waves + 2000 * channel);
}

/** The scene as a file. @param at the place of the scene that a px shows */
function file(width: number, height: number, gain: number, at: (x: number, y: number) => [number, number]): Uint8Array {
  const writer = new TiffWriter({ width, height, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) samples[(y * width + x) * 3 + c] = code(...at(x, y), c) * gain;
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

const FILES = [
  file(W, H, 1, (x, y) => [x, y]),
  // written as it lay in the camera held upright, a quarter to the right
  file(H, W, 0.8, (x, y) => [y, H - 1 - x]),
  file(W, H, 0.6, (x, y) => [x, y]),
  // on its head
  file(W, H, 0.5, (x, y) => [W - 1 - x, H - 1 - y]),
];

async function gathered(node: NodeEngine): Promise<Records> {
  const state = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const frames = [];
  for (const [i, bytes] of FILES.entries()) {
    const frame = await node.ask("importFrame", { fileName: `${i}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    frames.push(frame);
  }
  return takeStep(state.history, state.records, addFrames(frames), { stage: "gather", label: "step.compared" }, "t").records;
}

/** Full-size red samples of a frame's picture. */
async function redOf(node: NodeEngine, frame: FrameRecord): Promise<Uint16Array> {
  const { width, height } = frame;
  const red = new Uint16Array(width * height);
  (await openFrame(node.ctx, frame)).read(0, 0, 0, 0, width, height, red);
  return red;
}

let node: NodeEngine;
let records: Records;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  records = await gathered(node);
});

it("frames that lie on a side or on their head are told, with the turns that lay them like the others", async () => {
  const frames = framesOf(records);
  const parity = await node.ask("compareFrames", { records, frames });
  const shown = frames.map((f, i) => ({ ...f, number: i + 1, edgeWidthPx: 1 }));
  const turned = compareParity(shown, parity).find((d) => d.aspect === "rotation")!;
  expect(turned.frames.map((f) => [f.number, f.quarterTurns])).toEqual([
    [2, 3],
    [4, 2],
  ]);
});

it("turned frames lie like the others, sample by sample", async () => {
  const frames = framesOf(records);
  const read = {
    [frames[1].id]: await node.ask("turnFrame", { frame: frames[1], quarterTurns: 3 }),
    [frames[3].id]: await node.ask("turnFrame", { frame: frames[3], quarterTurns: 2 }),
  };
  expect(read[frames[1].id]).toMatchObject({ width: W, height: H });
  const turned = turnFrames(read)(records);
  const parity = await node.ask("compareFrames", { records: turned, frames: framesOf(turned) });
  expect(parity.map((p) => [p.comparable, Math.round(p.rotationDeg), p.scale.toFixed(3)])).toEqual(frames.map(() => [true, 0, "1.000"]));
  const [upright, side, , head] = await Promise.all(framesOf(turned).map((f) => redOf(node, f)));
  for (let i = 0; i < upright.length; i += 977) {
    // codes were cut to whole numbers when the files were made
    expect(Math.abs(side[i] - upright[i] * 0.8)).toBeLessThanOrEqual(1);
    expect(Math.abs(head[i] - upright[i] * 0.5)).toBeLessThanOrEqual(1);
  }
});

it("what is merged and laid of them is theirs as they lie, also where all was kept of them as they lay before", async () => {
  const pictures = async (engine: NodeEngine, of: Records) => {
    const rect = { x: 0, y: 0, width: W, height: H };
    const view = { kind: "compose" as const };
    return (await engine.ask("renderRect", { records: of, view, level: 0, rect, space: "srgb" })).rgba;
  };
  const job = (of: Records) => {
    const [a, , b] = framesOf(of);
    const registration = { ...unmovedRegistration([a, b], a, 1), id: `registration-${a.setId}`, setId: a.setId };
    const merged = setMerge(freshMerge("fusion"))(setRegistration(registration, {})(of));
    return addLayer({ name: "B", opacity: 0.5, content: wholeFrame(b.id) })(merged);
  };
  const before = await pictures(node, job(records));
  const [a, , b] = framesOf(records);
  const read = Object.fromEntries(await Promise.all([a, b].map(async (f) => [f.id, await node.ask("turnFrame", { frame: f, quarterTurns: 2 })])));
  const turned = job(turnFrames(read)(records));
  const cold = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const [id, load] of node.sources) cold.sources.set(id, load);
  const warm = await pictures(node, turned);
  expect(warm).toEqual(await pictures(cold, turned));
  expect(warm).not.toEqual(before);
});

it("they fall into one set, though they lie otherwise", async () => {
  const { sets } = await node.ask("gatherSets", { records, frames: framesOf(records) });
  expect(sets.map((s) => s.frameIds.length)).toEqual([4]);
});

it("what was marked and registered on their set goes; sets of other frames stay", () => {
  const frame = framesOf(records)[0];
  const region = {
    kind: "region" as const,
    id: "region-1",
    setId: frame.setId,
    index: 0,
    purpose: "ignore" as const,
    shape: { kind: "box" as const, rectangle: { x: 0, y: 0, width: 9, height: 9 } },
  };
  const other = { ...region, id: "region-2", setId: "another" };
  const turned = turnFrames({ [frame.id]: { quarterTurns: 1, width: H, height: W, measures: frame.measures } })({
    ...records,
    [region.id]: region,
    [other.id]: other,
  });
  expect(turned[frame.id]).toMatchObject({ quarterTurns: 1, width: H, height: W });
  expect(turned["region-1"]).toBeUndefined();
  expect(turned["region-2"]).toBe(other);
  expect(workingSetOf(turned)!.parity).toBeNull();
});
