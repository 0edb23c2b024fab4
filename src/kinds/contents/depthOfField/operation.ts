import { depthBlur, discAt, widestDisc, type DepthShare } from "../../../core/air/depthBlur";
import { plateNow } from "../../../document/seatEdits";
import { depthsOf } from "../../../engine/operations/light/depths";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { DepthOfFieldContent } from "./record";

/** Spreads all that lies below over the discs of a lens, by how far each is. */
export const depthOfField: ContentOperation<DepthOfFieldContent> = (on, content, layer, backdrop, scope) => {
  const plate = plateNow(on.job.records);
  if (!plate || content.radiusPx === 0) return null;
  const { level, rect } = on.where;
  const scale = 2 ** level;
  const { stands, plateAt, alongRay } = depthsOf(on.job, plate, layer, on.where, content.farM);
  const shareOf = (): DepthShare => ({ share: new Float32Array(on.n), disc: new Float32Array(on.n) });
  const things = stands.map(shareOf);
  const rest = shareOf();
  for (let j = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * scale - 0.5;
    for (let i = 0; i < rect.width; i++) {
      const x = (rect.x + i + 0.5) * scale - 0.5;
      const k = j * rect.width + i;
      let left = 1;
      for (let s = 0; s < stands.length; s++) {
        const covers = left * stands[s].coversAt(x, y);
        if (covers === 0) continue;
        things[s].share[k] = covers;
        things[s].disc[k] = discAt(content, alongRay(stands[s], x, y)) / scale;
        left -= covers;
      }
      rest.share[k] = left;
      if (left > 0) rest.disc[k] = discAt(content, plateAt(x, y)) / scale;
    }
  }
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  depthBlur(planes, [...things, rest], rect.width, rect.height, widestDisc(content, level), rect.x, rect.y);
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
