import { clearness } from "../../../core/air/mist";
import { plateNow } from "../../../document/seatEdits";
import { depthsOf } from "../../../engine/operations/light/depths";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { MistContent } from "./record";

/** Lays the light of air over all that lies below, and takes theirs away, by how far each is. @see Koschmieder 1924 */
export const mist: ContentOperation<MistContent> = (on, content, layer, backdrop, scope) => {
  const plate = plateNow(on.job.records);
  if (!plate) return null;
  const { level, rect } = on.where;
  const scale = 2 ** level;
  const { camera, stands, plateAt, alongRay } = depthsOf(on.job, plate, layer, on.where, content.farM);
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  for (let j = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * scale - 0.5;
    for (let i = 0; i < rect.width; i++) {
      const x = (rect.x + i + 0.5) * scale - 0.5;
      const [rx, ry, rz] = camera.rayOf(x, y);
      const length = Math.sqrt(rx * rx + ry * ry + rz * rz);
      const clearTo = (metres: number) => clearness(content, camera.heightM, rx / length, ry / length, rz / length, metres);
      let left = 1;
      let clear = 0;
      for (const thing of stands) {
        const covers = left * thing.coversAt(x, y);
        if (covers === 0) continue;
        clear += covers * clearTo(alongRay(thing, x, y));
        left -= covers;
      }
      if (left > 0) clear += left * clearTo(plateAt(x, y));
      const k = j * rect.width + i;
      for (let c = 0; c < 3; c++) planes[c][k] = planes[c][k] * clear + content.color[c] * (1 - clear);
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
