import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import type { Size } from "../../../core/geometry/lens";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob } from "../layers/compose";

/** A plate without anything that was laid on it. */
export interface BarePlate extends Size {
  /** red, green and blue of a rectangle of a level, as far as the picture goes */
  read: (level: number, rect: Rectangle) => Float32Array[];
}

export async function barePlate(ctx: EngineContext, records: Records, task: Task): Promise<BarePlate> {
  const bare = Object.fromEntries(Object.entries(records).filter(([, r]) => r.kind !== "layer"));
  const job = await prepareJob(ctx, bare, portion(task, 0, 0.8));
  await task.step(0.8, 1, "task.looking");
  const { width, height } = job.inputs;
  const read = (level: number, asked: Rectangle) => {
    const rect = widen(asked, 0, sizeAtLevel(width, height, level));
    return ctx.kernels.withScope((scope) =>
      each(composeRect(ctx, job, level, rect, "layers", scope)).map((at) => ctx.kernels.f32(at, rect.width * rect.height).slice()),
    );
  };
  return { width, height, read };
}
