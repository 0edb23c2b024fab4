import { atLevel, IDENTITY, invert } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { hashOf } from "../../graph/keys";
import { cutoutsOf, registrationOf } from "../../../document/selectors";
import { pictureIdOf } from "../../../document/sourceIds";
import type { Records } from "../../../document/records/types";
import type { Cut } from "../../../kinds/contents/frame/record";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { developedColor } from "../frames/develop";
import { openPlaced } from "../frames/placeFrame";
import { resampleInto } from "../frames/resample";
import { colorOf, openAlpha } from "../frames/sources";
import { ownLevel } from "../layers/frameLayers";
import type { PreparedJob } from "../layers/PreparedJob";
import type { MergeInputs } from "../merge/mergeTypes";
import type { ShownFrame } from "../merge/readLayer";
import { cutPicture } from "./cutPicture";
import { Cutter } from "./Cutter";
import type { CutPicture, Cutting } from "./CutProposals";

type Pictures = ReadonlyMap<string, ShownFrame>;

/** What layers cut out of their frames, by layer, opened so that any level of it can be made. */
export async function openCutouts(ctx: EngineContext, records: Records, inputs: MergeInputs, pictures: Pictures, task: Task): Promise<Map<string, Cutter>> {
  const out = new Map<string, Cutter>();
  for (const { id, content } of cutoutsOf(records)) {
    const picture = shownPicture(ctx, records, inputs, pictures, content.frameId);
    const cutting = picture && (await cuttingOf(ctx, records, inputs, content.cut, content.frameId, picture, task));
    if (!picture || !cutting) continue;
    const cutter = new Cutter(ctx.cache, picture, cutting, content.cut.marks);
    await cutter.begin(task);
    out.set(id, cutter);
  }
  return out;
}

/** A frame as a layer shows it. */
function shownPicture(ctx: EngineContext, records: Records, inputs: MergeInputs, pictures: Pictures, frameId: string): CutPicture | null {
  const merged = inputs.frames.find((f) => f.frame.id === frameId);
  const frame = records[frameId];
  const shown = merged ?? pictures.get(frameId);
  if (!shown || frame?.kind !== "frame") return null;
  return cutPicture(ctx, shown, merged ? [hashOf(inputs.key), frameId] : [pictureIdOf(frame), frame.development]);
}

async function cuttingOf(
  ctx: EngineContext,
  records: Records,
  inputs: MergeInputs,
  { by, box, plateId, plateMatrix }: Cut,
  frameId: string,
  { width, height }: CutPicture,
  task: Task,
): Promise<Cutting | null> {
  if (by === "backdrop" || by === "sky") return { by };
  if (by === "alpha") return alphaOf(ctx, records, inputs, frameId);
  if (by === "box") return box && { by, box };
  const plate = plateId === null ? undefined : records[plateId];
  if (plate?.kind !== "frame") return null;
  const [own, other] = [frameId, plate.id].map((id) => inputs.frames.find((f) => f.frame.id === id));
  if (own && other) return { by, plate: cutPicture(ctx, other, [hashOf(inputs.key), plate.id]) };
  // one that takes no part in the merge any more lies where it was registered
  const registered = own && registrationOf(records)?.placements.find((p) => p.frameId === plate.id)?.matrix;
  const matrix = plateMatrix ?? registered ?? [...IDENTITY];
  const file = await openPlaced(ctx, { pictureId: pictureIdOf(plate), matrix, lens: null, width, height }, task);
  const color = developedColor(ctx.cache, await colorOf(ctx, plate.sourceId), plate.development);
  return { by, plate: cutPicture(ctx, { file, color }, [pictureIdOf(plate), matrix, plate.development]) };
}

/** The alpha that a frame came with, where the frame lies. */
async function alphaOf(ctx: EngineContext, records: Records, inputs: MergeInputs, frameId: string): Promise<Cutting | null> {
  const frame = records[frameId];
  const file = frame?.kind === "frame" ? await openAlpha(ctx, frame) : null;
  if (!file) return null;
  const { kernels } = ctx;
  const { width, height } = file.spec;
  const read = (level: number, { x, y, width: w, height: h }: Rectangle, out: Float32Array) => {
    const codes = new Uint16Array(w * h);
    file.read(level, 0, x, y, w, h, codes);
    codes.forEach((v, i) => (out[i] = v / 65_535));
  };
  const merged = inputs.frames.some((f) => f.frame.id === frameId);
  const matrix = merged ? registrationOf(records)?.placements.find((p) => p.frameId === frameId)?.matrix : null;
  const alpha = (level: number, rect: Rectangle): Float32Array => {
    const n = rect.width * rect.height;
    const own = new Float32Array(n);
    if (!matrix) {
      read(level, rect, own);
      return own;
    }
    kernels.withScope((scope) => {
      const out = scope.floats(roomOf(n));
      resampleInto(scope, atLevel(invert(matrix), level), rect, sizeAtLevel(width, height, level), [out], (window) => {
        const plane = scope.floats(roomOf(window.width * window.height));
        read(level, window, kernels.f32(plane, window.width * window.height));
        return [plane];
      });
      own.set(kernels.f32(out, n).map((v) => Math.min(1, Math.max(0, v))));
    });
    return own;
  };
  return { by: "alpha", alpha };
}

/** Room for samples and for what kernels read behind them. */
const roomOf = (n: number) => Math.ceil(n / 8) * 8 + 16;

/** Makes what is cut out ready to be shown on a level, with progress. What cannot be cut is not shown. */
export async function readyCutouts(job: PreparedJob, level: number, task: Task): Promise<void> {
  for (const { id, content } of cutoutsOf(job.records)) {
    await job.cutouts.get(id)?.prepareShown(ownLevel(job, content, level), task);
  }
}

/** How much coarser a level has to be for all that is cut out to be at hand there, or nearly. */
export function levelsUntilReady(job: PreparedJob, level: number): number {
  return cutoutsOf(job.records).reduce((most, { id, content }) => {
    const cutter = job.cutouts.get(id);
    const own = ownLevel(job, content, level);
    return !cutter || cutter.isReady(own) ? most : Math.max(most, cutter.base - own);
  }, 0);
}
