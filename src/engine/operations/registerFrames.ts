import { largestCrop } from "../../core/geometry/validArea";
import { sizeAtLevel } from "../../core/geometry/rectangle";
import { thumbprintOfGreen, type Thumbprint } from "../../core/measure/relativeExposure";
import { describeFrame, ladderExposures, registerSet, type SetFrame } from "../../core/register/registerSet";
import type { MotionModel } from "../../core/register/refine";
import type { FrameRecord, RegistrationRecord } from "../../document/records/types";
import type { EngineContext } from "../EngineContext";
import { portion, type Task } from "../task";
import { allocateSamples } from "../tiles/RasterStore";
import { greyOfSource } from "./greyOfSource";
import { openSource } from "./sources";

export const REGISTRATION_VERSION = 1;

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

async function printOf(ctx: EngineContext, frame: FrameRecord): Promise<Thumbprint> {
  const file = await openSource(ctx, frame.sourceId);
  const level = Math.min(file.spec.levels - 1, Math.ceil(Math.log2(Math.max(frame.width, frame.height) / PRINT_SIDE)));
  const { width, height } = sizeAtLevel(frame.width, frame.height, Math.max(0, level));
  const green = allocateSamples(file.spec.type, width * height);
  file.read(Math.max(0, level), 1, 0, 0, width, height, green);
  return thumbprintOfGreen(green, width, height, file.spec.type === "u8" ? 255 : 65535);
}

/** Registers a job's frames and proposes the crop. */
export async function registerFrames(
  ctx: EngineContext,
  frames: FrameRecord[],
  referenceId: string,
  referenceReason: string,
  model: MotionModel,
  task: Task,
): Promise<{ registration: RegistrationRecord; measuredEv: Record<string, number> }> {
  const described: SetFrame[] = [];
  for (const [i, frame] of frames.entries()) {
    await task.step(i * 0.25, frames.length, "Looking at the frames");
    described.push(describeFrame(await greyOfSource(ctx, frame.sourceId)));
  }
  const reference = frames.findIndex((f) => f.id === referenceId);
  let asked = 0;
  const part = portion(task, 0.25, 1);
  const results = await registerSet(described, {
    model,
    reference,
    load: async (i) => {
      await part.step(Math.min(++asked, frames.length * 4), frames.length * 4, "Registering");
      return greyOfSource(ctx, frames[i].sourceId);
    },
  });
  const { width, height } = frames[reference];
  const placed = results.flatMap((r, i) => (r.matrix ? [{ width: frames[i].width, height: frames[i].height, matrix: r.matrix }] : []));
  const order = described.map((_, i) => i).sort((a, b) => described[a].brightness - described[b].brightness);
  const ev = ladderExposures(described, order);
  return {
    measuredEv: Object.fromEntries(frames.map((f, i) => [f.id, ev[i]])),
    registration: {
      kind: "registration",
      id: "registration",
      operationVersion: REGISTRATION_VERSION,
      model,
      referenceId,
      referenceReason,
      placements: results.map((r, i) => ({
        frameId: frames[i].id,
        registered: r.registered,
        matrix: r.matrix,
        residualPx: r.residualPx,
        residualBeforePx: r.residualBeforePx,
        agreeing: r.agreeing,
        confidence: r.confidence,
        reason: r.reason,
        shifts: r.shifts.map((s) => [s.x, s.y, s.dx, s.dy, s.correlation].map((v) => Math.round(v * 1000) / 1000)),
      })),
      proposedCrop: largestCrop(width, height, placed) ?? { x: 0, y: 0, width, height },
    },
  };
}
