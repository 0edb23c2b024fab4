/** A very small job with every kind of merge in it, for tests that try many states: five frames, one of them in a set of its own. */
import { written } from "../../src/messages/message";
import { rotationAbout, type Camera } from "../../src/core/panorama/camera";
import { layOut } from "../../src/core/panorama/layout";
import type { ProjectionName } from "../../src/core/panorama/projections";
import { encodeSrgb } from "../../src/core/color/srgbCurve";
import { IDENTITY } from "../../src/core/geometry/matrix3";
import type { NodeEngine } from "../../src/cli/createNodeEngine";
import { addFrames, moveFrames, setMeasuredExposures, setRegistration, startJob, unmovedRegistration, workOnSet } from "../../src/document/edits";
import { freshMerge, setMerge } from "../../src/document/mergeEdits";
import { setPanorama } from "../../src/document/panoramaEdits";
import type { PanoramaRecord } from "../../src/document/records/panoramaTypes";
import type { Records } from "../../src/document/records/types";
import { activeFramesOf, framesOf, workingSetIdOf } from "../../src/document/selectors";
import { concatBytes } from "../../src/formats/bytes";
import { TiffWriter } from "../../src/formats/tiff/TiffWriter";
import type { MergeMethod } from "../../src/kinds/merges/records";
import { randomOf } from "./kernels";

export const WORLD = { width: 276, height: 188 } as const;
const EVS = [-1.5, 0, 1.5, 0, 0];

/** Light with a sky, something that moves, grain and edges; the last frames are focused differently. */
function file(k: number): Uint8Array {
  const { width, height } = WORLD;
  const random = randomOf(k + 7);
  const writer = new TiffWriter({ width, height, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sky = y < 40 + 8 * Math.sin(x / 20);
      const moved = Math.hypot(x - 60 - 14 * k, y - 100) < 11 ? 0.7 : 0;
      const texture = 0.12 * (1 + Math.sin(x / (2 + k)) * Math.cos(y / 3));
      const light = sky ? [0.35, 0.5, 0.9] : [0.05 + texture + moved, 0.06 + texture, 0.04 + texture * 0.8];
      for (let c = 0; c < 3; c++)
        samples[(y * width + x) * 3 + c] = Math.round(65535 * encodeSrgb(Math.min(1, light[c] * 2 ** EVS[k] * (1 + 0.02 * random()))));
    }
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

export const FILES = EVS.map((_, k) => file(k));

/** The job as it is before any edit of a test. @param method "panorama" turns the frames side by side */
export async function worldJob(node: NodeEngine, method: MergeMethod): Promise<Records> {
  const frames = [];
  for (const [k, bytes] of FILES.entries()) {
    const frame = await node.ask("importFrame", { fileName: `w${k}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    frames.push(frame);
  }
  let records = addFrames(frames)(startJob("World", "2026-01-01T00:00:00Z", "set-1").records);
  records = workOnSet("set-1")(moveFrames([framesOf(records)[4].id], null)(records));
  const ids = activeFramesOf(records).map((f) => f.id);
  const ev = Object.fromEntries(ids.map((id, k) => [id, EVS[k]]));
  records = setMeasuredExposures(ev)(records);
  const base = unmovedRegistration(activeFramesOf(records), activeFramesOf(records)[1], 1);
  const placements = base.placements.map((p, k) => (k === 2 ? { ...p, matrix: [1, 0.003, 1.5, -0.003, 1, -0.75, 0, 0, 1] } : { ...p, matrix: IDENTITY }));
  const registration = { ...base, placements };
  records = method === "panorama" ? setPanorama(registration, turned(records, "cylindrical"))(records) : setRegistration(registration, ev)(records);
  return setMerge(freshMerge(method))(records);
}

/** Frames turned by 22° from one to the next. */
function turned(records: Records, projection: ProjectionName): PanoramaRecord {
  const setId = workingSetIdOf(records);
  const lens = { focalPx: 260, focalSd: 0, toldFocalPx: null, k1: 0, k2: 0, shiftX: 0, shiftY: 0 };
  const frames = activeFramesOf(records).map((f, k) => ({
    frameId: f.id,
    rotation: rotationAbout(0, ((k - 1.5) * 22 * Math.PI) / 180, 0),
    sdDeg: 0,
    gainEv: [0, 0, 0].map(() => EVS[k]),
  }));
  return {
    kind: "panorama",
    id: `panorama-${setId}`,
    setId,
    operationVersion: 1,
    lens,
    frames,
    pairs: [],
    points: [],
    levels: [],
    falloff: [0, 0, 0],
    view: layOut(
      frames.map((f): Camera => ({ ...WORLD, ...lens, rotation: f.rotation })),
      { yawDeg: 0, pitchDeg: 0, rollDeg: 0 },
      projection,
    )!,
    proposal: { projection, reason: written("") },
  };
}
