import type { Message } from "../../../messages/message";
import { hasLens } from "../../../core/geometry/lens";
import type { LocalShift } from "../../../core/register/localShifts";
import { largestCrop, type PlacedFrame } from "../../../core/geometry/validArea";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { thumbprintOfGreen, type Thumbprint } from "../../../core/measure/relativeExposure";
import { setRecord } from "../../../kinds/sets/records";
import type { ModelChoice } from "../../../core/register/models";
import { registerSet, type FrameRegistration, type SetWork } from "../../../core/register/registerSet";
import { describeFrame, ladderExposures, type SetFrame } from "../../../core/register/setFrames";
import type { FramePlacement, FrameRecord, Records, RegistrationRecord } from "../../../document/records/types";
import { regionsOf } from "../../../document/selectors";
import { pictureIdOf } from "../../../document/sourceIds";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import type { MarkedRegions } from "../../pool/tasks";
import { allocateSamples } from "../../tiles/RasterStore";
import { encoderOf } from "../frames/encoder";
import { heldGrey } from "../frames/greyCache";
import { colorOf, openFrame, SOURCE_VERSION } from "../frames/sources";

export const REGISTRATION_VERSION = 3;

const PRINT_SIDE = 700;

/** EV of each frame from the pixels, against the darkest; only differences mean something. */
export async function measureLadder(ctx: EngineContext, frames: FrameRecord[]): Promise<Record<string, number>> {
  const prints: SetFrame[] = [];
  for (const frame of frames) {
    const { width, height } = frame;
    prints.push({ width, height, brightness: frame.measures.brightness, print: await printOf(ctx, frame) });
  }
  const order = prints.map((_, i) => i).sort((a, b) => prints[a].brightness - prints[b].brightness);
  const ev = ladderExposures(prints, order);
  return Object.fromEntries(frames.map((f, i) => [f.id, ev[i]]));
}

const PRINT_VERSION = 1;

function printOf(ctx: EngineContext, frame: FrameRecord): Promise<Thumbprint> {
  return ctx.cache.takeLong(
    contentKey("thumbprint", PRINT_VERSION, [SOURCE_VERSION, pictureIdOf(frame), frame.width, frame.height]),
    () => makePrint(ctx, frame),
    bytesHeld,
  );
}

async function makePrint(ctx: EngineContext, frame: FrameRecord): Promise<Thumbprint> {
  const file = await openFrame(ctx, frame);
  const level = Math.min(file.spec.levels - 1, Math.ceil(Math.log2(Math.max(frame.width, frame.height) / PRINT_SIDE)));
  const { width, height } = sizeAtLevel(frame.width, frame.height, Math.max(0, level));
  const green = allocateSamples(file.spec.type, width * height);
  file.read(Math.max(0, level), 1, 0, 0, width, height, green);
  const encode = encoderOf(await colorOf(ctx, frame.sourceId), file.spec.type);
  if (encode) return thumbprintOfGreen(Float32Array.from(green, encode), width, height, 1);
  return thumbprintOfGreen(green, width, height, file.spec.type === "u8" ? 255 : 65535);
}

/** What a registration is asked to do. */
export interface RegisterRequest {
  referenceId: string;
  referenceReason: Message;
  model: ModelChoice;
}

/** Registers the frames of a set and proposes the crop. */
export async function registerFrames(
  ctx: EngineContext,
  records: Records,
  frames: FrameRecord[],
  request: RegisterRequest,
  task: Task,
): Promise<{ registration: RegistrationRecord; measuredEv: Record<string, number> }> {
  const described: SetFrame[] = [];
  for (const [i, frame] of frames.entries()) {
    await task.step(i * 0.25, frames.length, "task.looking");
    const { edgeWidthPx, noiseSigma } = frame.measures;
    described.push({ ...describeFrame(await heldGrey(ctx, frame)), straight: frame.development.lens !== null, edgeWidthPx, noiseSigma });
  }
  const { setId } = frames[0];
  const set = records[setId];
  const marked = { regions: regionsOf(records, setId), width: 0, height: 0 };
  const reference = frames.findIndex((f) => f.id === request.referenceId);
  const results = await registerSet(described, {
    model: request.model,
    reference,
    order: set?.kind === "set" && setRecord(set.setKind).isSequence ? "sequence" : "ladder",
    regions: marked.regions,
    work: pooledWork(ctx, frames, { ...marked, width: frames[reference].width, height: frames[reference].height }, portion(task, 0.25, 1)),
  });
  const order = described.map((_, i) => i).sort((a, b) => described[a].brightness - described[b].brightness);
  const ev = ladderExposures(described, order);
  const placements = results.map((r, i) => placementOf(frames[i], r));
  return {
    measuredEv: Object.fromEntries(frames.map((f, i) => [f.id, ev[i]])),
    registration: {
      kind: "registration",
      id: `registration-${setId}`,
      setId,
      operationVersion: REGISTRATION_VERSION,
      ...request,
      placements,
      proposedCrop: proposeCrop(frames, placements, request.referenceId),
    },
  };
}

/** Pairs of a set on whichever threads are free. */
function pooledWork(ctx: EngineContext, frames: FrameRecord[], marked: MarkedRegions, task: Task): SetWork {
  let done = 0;
  // about two pairs a frame, and each frame judged
  const all = frames.length * 3;
  const pause = () => task.step(Math.min(done, all), all, "task.registering");
  const counted = async <T>(work: () => Promise<T>): Promise<T> => {
    await pause();
    const result = await work();
    done++;
    return result;
  };
  return {
    atATime: ctx.pool.size,
    pair: (a, b, relativeEv, options, regions) =>
      counted(async () => {
        const [fixed, moving] = [await heldGrey(ctx, frames[a]), await heldGrey(ctx, frames[b])];
        return ctx.pool.run("registerPair", { fixed, moving, relativeEv, options, marked: regions && marked.regions.length ? marked : null }, pause);
      }),
    judge: (a, b, fit, regions) =>
      counted(async () => {
        const [fixed, moving] = [await heldGrey(ctx, frames[a]), await heldGrey(ctx, frames[b])];
        return ctx.pool.run("judgeFit", { fit: { ...fit, fixed, moving }, marked: regions && marked.regions.length ? marked : null }, pause);
      }),
  };
}

function placementOf(frame: FrameRecord, r: FrameRegistration): FramePlacement {
  const { registered, matrix, model, residualPx, residualBeforePx, agreeing, confidence, otherPx, reason, models, drift } = r;
  // frames whose lens is known are registered without it; sampled as shot they need it again
  const lens = frame.development.lens ?? (hasLens(r.lens) ? r.lens : null);
  return {
    frameId: frame.id,
    registered,
    matrix,
    lens,
    model,
    by: "measured",
    points: [],
    models,
    drift,
    residualPx,
    residualBeforePx,
    agreeing,
    confidence,
    otherPx,
    reason,
    shifts: storedShifts(r.shifts),
  };
}

/** Shifts as the document keeps them: x, y, dx, dy, correlation to a thousandth. */
export function storedShifts(shifts: LocalShift[]): number[][] {
  return shifts.map((s) => [s.x, s.y, s.dx, s.dy, s.correlation].map((v) => Math.round(v * 1000) / 1000));
}

/** The registered frames as the crop sees them. */
export function placedFrames(frames: FrameRecord[], placements: FramePlacement[]): (PlacedFrame & { frameId: string })[] {
  return frames.flatMap((f) => {
    const p = placements.find((q) => q.frameId === f.id);
    return p?.registered && p.matrix ? [{ frameId: f.id, width: f.width, height: f.height, matrix: p.matrix, lens: p.lens }] : [];
  });
}

/** The largest crop that every registered frame covers, else the whole reference. */
export function proposeCrop(frames: FrameRecord[], placements: FramePlacement[], referenceId: string): Rectangle {
  const { width, height } = frames.find((f) => f.id === referenceId)!;
  return largestCrop(width, height, placedFrames(frames, placements)) ?? { x: 0, y: 0, width, height };
}
