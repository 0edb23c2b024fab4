import { invert, multiply, project } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { shareOfPx, type Scenery } from "../../../core/seat/scenery";
import { smear, smearReach } from "../../../core/seat/smear";
import { fresnel, mirroredFar, mirroredIn, ripplePx } from "../../../core/seat/water";
import { sceneryOf, standsAt } from "../../../document/seatGeometry";
import { layerOf, plateOf, seatsOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import { ownLevel, shownBy, toPicturePlace } from "../../../engine/operations/layers/frameLayers";
import { readCutThrough } from "../frame/operation";
import type { ContentOperation } from "../tools";
import type { ReflectionContent } from "./record";

/** Takes the sky out of the water where a thing stands before it, and puts the thing's mirror image there. */
export const reflection: ContentOperation<ReflectionContent> = (on, { layerId, surfaceId, slope, sky }, _layer, backdrop, scope) => {
  const { job, where } = on;
  const [subject, plate, cutter] = [layerOf(job.records, layerId), plateOf(job.records), job.cutouts.get(layerId)];
  const seat = seatsOf(job.records).find((s) => s.layerId === layerId);
  const content = subject?.content;
  if (!subject?.visible || content?.type !== "frame" || !plate || !seat || !cutter) return null;
  const scenery = sceneryOf(plate, job.inputs);
  const water = scenery.stood.find(({ surface }) => surface.id === surfaceId);
  const foot = standsAt(plate, job.inputs, seat);
  const { shown } = shownBy(job, content);
  const own = ownLevel(job, content, where.level);
  // what is in the sky is mirrored by its direction, whatever is under it
  const isFar = seat.on === "sky";
  if (!water || !(foot ? foot[1] >= water.offset : isFar) || !shown || !cutter.shownAt(own)) return null;

  const { rect } = where;
  const scale = 2 ** where.level;
  const { camera } = scenery;
  const mirror = foot ? mirroredIn(camera, foot, water.offset) : mirroredFar(camera);
  // how far on the way to the camera the water of a row lies, under the thing
  const column = project(mirror, seat.foot.x, seat.foot.y)[0];
  const towards = (x: number, y: number): number => {
    const at = scenery.placeOn(water, x, y);
    if (!foot) return 1;
    return at ? 1 - (at[0] * foot[0] + at[2] * foot[2]) / camera.distanceTo(foot) ** 2 : 0;
  };
  const sigmaAt = (row: number): number => ripplePx(camera.stance.focalPx, slope, Math.min(1, towards(column, (row + 0.5) * scale - 0.5))) / scale;
  const reach = smearReach(sigmaAt(rect.y + rect.height - 1));
  const wide: Rectangle = { x: rect.x - reach, y: rect.y - reach, width: rect.width + 2 * reach, height: rect.height + 2 * reach };
  const m = wide.width * wide.height;
  const { kernels } = on.ctx;
  const planes = [0, 1, 2, 3].map(() => scope.floats(Math.ceil(m / 8) * 8 + 16));
  const toOwn = invert(multiply(mirror, toPicturePlace(job, content)));
  readCutThrough(on, shown, cutter, own, toOwn, wide, content.exposureEv, planes, scope);
  const mirrored = planes.map((at) => kernels.f32(at, m));
  const sigma = Float64Array.from({ length: wide.height }, (_, j) => sigmaAt(wide.y + j));
  // seen at a low angle ripples smear less to the sides
  const aside = sigma.map((s, j) => s * sineAt(scenery, column, (wide.y + j + 0.5) * scale - 0.5));
  for (const plane of mirrored) {
    smear(plane, wide.width, wide.height, "down", sigma);
    smear(plane, wide.width, wide.height, "across", aside);
  }

  const isWater = (x: number, y: number) => scenery.at(x, y)?.stood?.surface.id === surfaceId;
  const out = on.own(backdrop, scope);
  const below = each(out).map((at) => kernels.f32(at, on.n));
  for (let j = 0; j < rect.height; j++) {
    for (let i = 0; i < rect.width; i++) {
      const k = (j + reach) * wide.width + i + reach;
      const alpha = Math.min(1, Math.max(0, mirrored[3][k]));
      if (alpha === 0) continue;
      const [x, y] = [(rect.x + i + 0.5) * scale - 0.5, (rect.y + j + 0.5) * scale - 0.5];
      const share = shareOfPx(x, y, scale, isWater) * fresnel(sineAt(scenery, x, y));
      if (share === 0) continue;
      for (let c = 0; c < 3; c++) {
        const at = j * rect.width + i;
        // water cannot lose more light than it shows
        below[c][at] += Math.max(-below[c][at], share * (Math.max(0, mirrored[c][k]) - alpha * sky[c]));
      }
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};

/** Sine of the angle at which the water is seen in a px, which is the cosine of that from straight down. */
function sineAt({ camera }: Scenery, x: number, y: number): number {
  const [dx, dy, dz] = camera.rayOf(x, y);
  return Math.max(0, -dy / Math.hypot(dx, dy, dz));
}
