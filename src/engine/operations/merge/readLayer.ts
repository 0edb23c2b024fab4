import type { Rectangle } from "../../../core/geometry/rectangle";
import { exp2 } from "../../../core/numeric/elementary";
import type { Scope } from "../../../kernels/Kernels";
import { allocatePlanes, cutPlanes, each, readWorking, type Planes } from "../frames/frameSamples";
import { onGrid } from "../panorama/projectFrame";
import type { MergeFrame, MergeResult } from "./mergeTypes";

/** What a layer can show: a frame placed on the reference, or any picture of the job as it is. */
export type ShownFrame = Pick<MergeFrame, "file" | "color" | "projected">;

/** A frame in working RGB, brightened by an offset in EV. */
export function readLayer(scope: Scope, input: ShownFrame, level: number, rect: Rectangle, exposureEv: number): Planes {
  const wide = input.projected ? onGrid(rect) : rect;
  const planes = allocatePlanes(scope, wide.width * wide.height);
  const gain = exp2(exposureEv);
  const color = gain === 1 ? input.color : { ...input.color, toWorking: input.color.toWorking.map((v) => v * gain) };
  readWorking(scope, input.file, color, level, wide, planes);
  input.projected?.shade(scope, planes, level, wide);
  return cutPlanes(scope, planes, wide, rect);
}

/** The merge in working RGB. */
export function readMerge(scope: Scope, { picture }: MergeResult, level: number, rect: Rectangle): Planes {
  const n = rect.width * rect.height;
  const planes = allocatePlanes(scope, n);
  each(planes).forEach((at, c) => picture.read(level, c, rect.x, rect.y, rect.width, rect.height, scope.kernels.f32(at, n)));
  return planes;
}
