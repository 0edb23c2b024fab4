import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, each, readLinear } from "./frameSamples";
import { colorOf, openFrame } from "./sources";

export interface LinearFrame {
  /** red, green, blue in the frame's own primaries, row-major */
  planes: Float32Array[];
  width: number;
  height: number;
  level: number;
}

/** A whole frame as shot, as linear light, at the coarsest level that is at least so many px on its longer side. */
export async function linearFrame(ctx: EngineContext, frame: FrameRecord, side: number): Promise<LinearFrame> {
  const { levels } = (await openFrame(ctx, frame)).spec;
  const level = Math.min(levels - 1, Math.max(0, Math.floor(Math.log2(Math.max(frame.width, frame.height) / side))));
  const { width, height } = sizeAtLevel(frame.width, frame.height, level);
  return { planes: await linearRect(ctx, frame, level, { x: 0, y: 0, width, height }), width, height, level };
}

/** A rectangle of a frame as shot at a level. */
export async function linearRect(ctx: EngineContext, frame: FrameRecord, level: number, rect: Rectangle): Promise<Float32Array[]> {
  const file = await openFrame(ctx, frame);
  const color = await colorOf(ctx, frame.sourceId);
  const n = rect.width * rect.height;
  return ctx.kernels.withScope((scope) => {
    const at = allocatePlanes(scope, n);
    readLinear(scope, file, color, level, rect, at);
    return each(at).map((p) => ctx.kernels.f32(p, n).slice());
  });
}
