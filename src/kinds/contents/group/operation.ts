import { allocatePlanes, each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { GroupContent } from "./record";

export const group: ContentOperation<GroupContent> = (on, { through }, layer, backdrop, scope) => {
  if (through) {
    const planes = on.own(backdrop, scope);
    on.lay(layer.id, { planes, alpha: 0 });
    return { planes, alpha: on.everywhere(scope, backdrop), changes: true };
  }
  const planes = allocatePlanes(scope, on.n);
  for (const at of each(planes)) on.ctx.kernels.f32(at, planes.length).fill(0);
  const alpha = on.nowhere(scope);
  on.lay(layer.id, { planes, alpha });
  return { planes, alpha, changes: false };
};
