/** A board cut out of a picture of its own, seated on a grey plate of one light: what engines make of it. */
import { createNodeEngine, type NodeEngine } from "../../src/cli/createNodeEngine";
import { encodeSrgb } from "../../src/core/color/srgbCurve";
import { addFrames, setRegistration, startJob, takeStep, unmovedRegistration } from "../../src/document/edits";
import { addLayer } from "../../src/document/layerEdits";
import { freshMerge, setMerge } from "../../src/document/mergeEdits";
import type { Records } from "../../src/document/records/types";
import { addSeat, changeSeat, tellPlate } from "../../src/document/seatEdits";
import { framesOf } from "../../src/document/selectors";
import { each } from "../../src/engine/operations/frames/frameSamples";
import { composeRect, prepareJob } from "../../src/engine/operations/layers/compose";
import { SILENT } from "../../src/engine/task";
import { MemoryRasterStore } from "../../src/engine/tiles/MemoryRasterStore";
import { concatBytes } from "../../src/formats/bytes";
import { TiffWriter } from "../../src/formats/tiff/TiffWriter";
import { wholeFrame } from "../../src/kinds/contents/frame/record";

export const [W, H] = [600, 400];
export const GREY = 0.3;
/** The thing: a board from (240, 60) to (359, 339) of its own picture. */
const BOARD = { left: 240, right: 360, top: 60, bottom: 340 };
const isThere = (x: number, y: number) => x >= BOARD.left && x < BOARD.right && y >= BOARD.top && y < BOARD.bottom;
export const LIGHT = { azimuthDeg: 60, elevationDeg: 40 };

function file(channels: 3 | 4, boardAt: (x: number) => number): Uint8Array {
  const writer = new TiffWriter({ width: W, height: H, bits: 16, channels, metadata: [], profile: null });
  const samples = new Uint16Array(channels * W * H);
  for (let i = 0; i < samples.length; i++) {
    const [k, c] = [Math.floor(i / channels), i % channels];
    const there = isThere(k % W, Math.floor(k / W));
    samples[i] = Math.round(65_535 * (c === 3 ? Number(there) : encodeSrgb(channels === 4 ? boardAt(k % W) : GREY)));
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

export const sources = new Map<string, Uint8Array>();

/** An engine that has the pictures and keeps nothing else. */
export async function engine(): Promise<NodeEngine> {
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const [id, bytes] of sources) node.sources.set(id, async () => bytes);
  return node;
}

/** The job with the board laid on the plate, not seated yet. @param boardAt light of the board in a column of its picture */
export async function laidBoard(node: NodeEngine, boardAt: (x: number) => number = () => 0.6): Promise<Records> {
  const made = [];
  for (const channels of [3, 4] as const) {
    const bytes = file(channels, boardAt);
    const frame = await node.ask("importFrame", { fileName: `${channels}.tif`, bytes });
    sources.set(frame.sourceId, bytes);
    node.sources.set(frame.sourceId, async () => bytes);
    made.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(made), { stage: "gather", label: "step.compared" }, "t");
  const [plate, thing] = framesOf(records);
  const built = setMerge(freshMerge("base", { baseId: plate.id }))(setRegistration(unmovedRegistration([plate], plate, 1), {})(records));
  const cut = { by: "alpha" as const, box: null, plateId: null, plateMatrix: null, marks: [] };
  return addLayer({ id: "l", name: "Board", blendIn: "light", content: wholeFrame(thing.id, { cut }) })(built);
}

/** The same a metre tall, with its foot at (330, 300). */
export async function seatedBoard(node: NodeEngine, laid: Records): Promise<Records> {
  const own = (await node.ask("standsAt", { records: laid, layerId: "l" }))!;
  const told = tellPlate({ stance: { pitchDeg: -12, rollDeg: 0, focalPx: 550 }, heightM: 1.8, heightBy: "hand", light: LIGHT })(laid);
  return changeSeat("seat", { heightM: 1, heightBy: "hand" })(addSeat("l", own, { x: 330, y: 300 }, "seat")(told));
}

/** Red of the working light of the whole picture. */
export async function light(by: NodeEngine, records: Records, level = 0): Promise<Float32Array> {
  const job = await prepareJob(by.ctx, records, SILENT);
  const rect = { x: 0, y: 0, width: Math.ceil(W / 2 ** level), height: Math.ceil(H / 2 ** level) };
  return by.ctx.kernels.withScope((scope) =>
    by.ctx.kernels.f32(each(composeRect(by.ctx, job, level, rect, "layers", scope))[0], rect.width * rect.height).slice(),
  );
}
