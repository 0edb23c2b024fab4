import { clearness, unevenness } from "../../../core/air/mist";
import { pow } from "../../../core/numeric/elementary";
import { between } from "../../../core/raster/between";
import { unit } from "../../../core/panorama/camera";
import { plateNow } from "../../../document/seatEdits";
import { depthsOf } from "../../../engine/operations/light/depths";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { MistContent } from "./record";

/** Samples between places whose clouds are looked at. */
const APART = 4;

/** Lays the light of air over all that lies below, and takes theirs away, by how far each is. @see Koschmieder 1924 */
export const mist: ContentOperation<MistContent> = (on, content, layer, backdrop, scope) => {
  const plate = plateNow(on.job.records);
  if (!plate) return null;
  const { level, rect } = on.where;
  const scale = 2 ** level;
  const { camera, stands, plateAt, alongRay } = depthsOf(on.job, plate, layer, on.where, content.farM);
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  const px = (v: number) => (v + 0.5) * scale - 0.5;
  // clouds are large beside a sample: what lies between places is as they are
  const thickness = between(APART, (i, j) => {
    const [x, y] = [px(i), px(j)];
    const [dx, dy, dz] = unit(camera.rayOf(x, y));
    return unevenness(content, camera.heightM, dx, dy, dz, plateAt(x, y));
  });
  const hides = content.hides ?? [1, 1, 1];
  const clear = new Float64Array(3);
  /** A part of a px shows something with so much air before it. */
  const add = (covers: number, through: number) => {
    for (let c = 0; c < 3; c++) clear[c] += covers * (hides[c] === 1 ? through : pow(through, hides[c]));
  };
  for (let j = 0; j < rect.height; j++) {
    const y = px(rect.y + j);
    for (let i = 0; i < rect.width; i++) {
      const x = px(rect.x + i);
      const thicker = content.patchy === 0 ? 1 : thickness(rect.x + i, rect.y + j);
      const [rx, ry, rz] = camera.rayOf(x, y);
      const rises = ry / Math.sqrt(rx * rx + ry * ry + rz * rz);
      let left = 1;
      clear.fill(0);
      for (const thing of stands) {
        const covers = left * thing.coversAt(x, y);
        if (covers === 0) continue;
        add(covers, clearness(content, camera.heightM, rises, alongRay(thing, x, y), thicker));
        left -= covers;
      }
      if (left > 0) add(left, clearness(content, camera.heightM, rises, plateAt(x, y), thicker));
      const k = j * rect.width + i;
      for (let c = 0; c < 3; c++) planes[c][k] = planes[c][k] * clear[c] + content.color[c] * (1 - clear[c]);
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
