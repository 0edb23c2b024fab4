import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { quantile } from "../../../core/numeric/statistics";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import type { FrameLight } from "../../../kinds/contents/frame/record";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { each, type Planes } from "../frames/frameSamples";
import { readLayer, type ShownFrame } from "../merge/readLayer";
import type { PreparedJob } from "./PreparedJob";

/**
 * Leaves only what shines in planes of a frame, in place: what its black is, and what shines in another frame, is taken off, and the rest made warmer.
 * @param gain by which the planes are brighter than the frame @param ambient planes of that other frame, as bright as the frame is, or null
 */
export function leaveLight(
  ctx: EngineContext,
  planes: Planes,
  n: number,
  { black, warmthMired }: FrameLight,
  gain: number,
  ambient: Planes | null,
  scope: Scope,
): void {
  const { kernels } = ctx;
  each(planes).forEach((at, c) => {
    const own = kernels.f32(at, n);
    const off = gain * black[c];
    if (!ambient) for (let i = 0; i < n; i++) own[i] = Math.max(0, own[i] - off);
    else {
      const other = kernels.f32(each(ambient)[c], n);
      for (let i = 0; i < n; i++) own[i] = Math.max(0, own[i] - off - gain * other[i]);
    }
  });
  if (warmthMired !== 0) kernels.run("applyMatrix", [...each(planes), scope.matrix(whiteBalanceMatrix(warmthMired, 0))], 0, planes.length, 65536);
}

/** By how many EV another frame has to be brightened to be exposed as a frame is: as noted by the camera, since what the pixels tell is the lamps' doing too. */
export function evBetween({ records }: PreparedJob, frameId: string, otherId: string): number {
  const [a, b] = [frameId, otherId].map((id) => {
    const frame = records[id];
    return frame?.kind === "frame" ? frame.meteredEv : null;
  });
  return a === null || b === null ? 0 : a - b;
}

/** Longest side of the level on which black is measured, and how much of a frame that shines on black is no lighter. Common practice, no source. */
const SIDE = 600;
const DARK_SHARE = 0.25;

/** The black level of a frame whose light is added: what a quarter of it is no lighter than, working light, red, green and blue. */
export function blackOf(ctx: EngineContext, shown: ShownFrame): number[] {
  const { width, height, levels } = shown.file.spec;
  const level = Math.min(levels - 1, levelOfSide({ width, height }, SIDE));
  const size = sizeAtLevel(width, height, level);
  return ctx.kernels.withScope((scope) => {
    const planes = readLayer(scope, shown, level, { x: 0, y: 0, ...size }, 0);
    return each(planes).map((at) => Math.max(0, quantile(ctx.kernels.f32(at, size.width * size.height).slice(), DARK_SHARE)));
  });
}
