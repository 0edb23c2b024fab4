/** A small job of three made-up exposures, registered and merged, for tests of the engine. */
import { written } from "../../src/messages/message";
import type { NodeEngine } from "../../src/cli/createNodeEngine";
import { addFrames, setMeasuredExposures, setRegistration, startJob, takeStep } from "../../src/document/edits";
import { freshMerge, setMerge } from "../../src/document/mergeEdits";
import type { Records } from "../../src/document/records/types";
import { framesOf } from "../../src/document/selectors";
import { concatBytes } from "../../src/formats/bytes";
import { encodeSrgb } from "../../src/core/color/srgbCurve";
import { IDENTITY, type Matrix3 } from "../../src/core/geometry/matrix3";
import { TiffWriter } from "../../src/formats/tiff/TiffWriter";
import { randomOf } from "./kernels";

export const SMALL_JOB = [420, 300] as const;
const [W, H] = SMALL_JOB;
const MATRIX = [1, 0.004, 2.5, -0.004, 1, -1.25, 0, 0, 1];

const EVS = [-2, 0, 2];

const glow = (x: number, y: number) => 0.02 + 2.2 * Math.exp(-((x - 300) ** 2 + (y - 80) ** 2) / 4000) + 0.15 * (1 + Math.sin(x / 9) * Math.cos(y / 7));

/** A made-up scene as a 16-bit TIFF file. @param light at a place, 1 where an exposure of 0 EV clips */
function file(ev: number, lightAt: (x: number, y: number) => number): Uint8Array {
  const random = randomOf(ev + 40);
  const writer = new TiffWriter({ width: W, height: H, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(W * H * 3);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const light = lightAt(x, y);
      for (let c = 0; c < 3; c++)
        samples[(y * W + x) * 3 + c] = Math.round(65535 * encodeSrgb(Math.min(1, light * (1 - 0.15 * c) * 2 ** ev * (1 + 0.01 * random()))));
    }
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

/** What is not said is a soft light with waves, the brightest frame a little turned, and the whole merged. */
interface Scene {
  light?: (x: number, y: number) => number;
  /** frame → reference, from the darkest to the brightest; the reference is the second */
  matrices?: Matrix3[];
}

export async function prepareSmallJob(node: NodeEngine, { light = glow, matrices = [IDENTITY, IDENTITY, MATRIX] }: Scene = {}): Promise<Records> {
  return setMerge(freshMerge("radiance"))(await prepareRegistered(node, { light, matrices }));
}

/** The same before anything is merged. */
export async function prepareRegistered(node: NodeEngine, { light = glow, matrices = [IDENTITY, IDENTITY, MATRIX] }: Scene = {}): Promise<Records> {
  let state = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const frames = [];
  for (const ev of EVS) {
    const bytes = file(ev, light);
    const frame = await node.ask("importFrame", { fileName: `f${ev}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    frames.push(frame);
  }
  state = takeStep(state.history, state.records, addFrames(frames), { stage: "gather", label: "step.compared" }, "t");
  const ids = framesOf(state.records).map((f) => f.id);
  const ev = Object.fromEntries(ids.map((id, i) => [id, EVS[i]]));
  const registration = {
    kind: "registration" as const,
    id: "registration-set-1",
    setId: "set-1",
    operationVersion: 1,
    model: "homography" as const,
    referenceId: ids[1],
    referenceReason: written(""),
    placements: ids.map((frameId, i) => ({
      frameId,
      registered: true,
      matrix: matrices[i],
      residualPx: 0,
      residualBeforePx: 0,
      agreeing: 1,
      confidence: 1,
      otherPx: [],
      reason: null,
      shifts: [],
      lens: null,
      model: "homography" as const,
      by: "measured" as const,
      points: [],
      models: [],
      drift: null,
    })),
    proposedCrop: { x: 6, y: 4, width: 400, height: 288 },
  };
  return setRegistration(registration, ev)(setMeasuredExposures(ev)(state.records));
}
