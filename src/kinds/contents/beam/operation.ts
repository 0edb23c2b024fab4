import { beamAlong, type Beam } from "../../../core/air/beam";
import { lampPlace } from "../../../core/light/lamp";
import { exp2 } from "../../../core/numeric/elementary";
import { unit, type Vector3 } from "../../../core/panorama/camera";
import type { GroundCamera } from "../../../core/seat/groundCamera";
import { lampsOf } from "../../../document/lampEdits";
import type { PlateLamp } from "../../../document/records/plateTypes";
import { plateOf } from "../../../document/selectors";
import { depthsOf, type Stands } from "../../../engine/operations/light/depths";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { BeamContent } from "./record";

/** What stands above the horizon is behind any beam. */
const FAR_M = 10_000;
/** How far a shaft of the sun is seen before it falls on something, metres, at most. */
const SHAFT_M = 60;

/** Adds the light that air throws to the camera out of a beam, as far as nothing stands before it. */
export const beam: ContentOperation<BeamContent> = (on, content, layer, backdrop, scope) => {
  const plate = plateOf(on.job.records);
  const lamp = lampsOf(plate).find((l) => l.id === content.lampId);
  if (!plate || !lamp) return null;
  const { level, rect } = on.where;
  const scale = 2 ** level;
  const { camera, stands, plateAt, alongRay } = depthsOf(on.job, plate, layer, on.where, FAR_M);
  const told = beamOf(camera, lamp, content);
  const open = pastThings(camera, told, stands);
  const eye: Vector3 = [0, camera.heightM, 0];
  const strength = exp2(content.ev);
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  for (let j = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * scale - 0.5;
    for (let i = 0; i < rect.width; i++) {
      const x = (rect.x + i + 0.5) * scale - 0.5;
      const [rx, ry, rz] = camera.rayOf(x, y);
      const length = Math.sqrt(rx * rx + ry * ry + rz * rz);
      const seenTo = (metres: number) => beamAlong(told, eye, rx / length, ry / length, rz / length, metres, open);
      let light = seenTo(plateAt(x, y));
      if (light === 0) continue;
      // what stands in it hides what is behind
      for (let s = stands.length - 1; s >= 0; s--) {
        const covers = stands[s].coversAt(x, y);
        if (covers > 0) light += covers * (seenTo(alongRay(stands[s], x, y)) - light);
      }
      const k = j * rect.width + i;
      for (let c = 0; c < 3; c++) planes[c][k] += strength * light * lamp.color[c];
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};

/** Things so far beside the middle line of a beam, metres, leave it alone. */
const BESIDE_M = 3;

/** How much of a beam's light comes to a place past the things that stand in it: where the way there from its lamp goes through what their upright planes show; null where none stands near it. */
function pastThings(
  camera: GroundCamera,
  { from, along, radiusM, grows, reachM }: Beam,
  stands: readonly Stands[],
): ((x: number, y: number, z: number) => number) | null {
  const near = stands.filter(({ ahead, distanceM }) => {
    const way = [ahead[0] * distanceM - from[0], ahead[2] * distanceM - from[2]];
    const t = Math.min(reachM, Math.max(0, way[0] * along[0] + way[1] * along[2]));
    return Math.hypot(way[0] - t * along[0], way[1] - t * along[2]) < radiusM + grows * t + BESIDE_M;
  });
  if (near.length === 0) return null;
  return (x, y, z) => {
    let left = 1;
    for (const { ahead, distanceM, coversAt } of near) {
      const [a, b] = [from[0] * ahead[0] + from[2] * ahead[2] - distanceM, x * ahead[0] + z * ahead[2] - distanceM];
      // both on the same side: the plane is not passed
      if (a * b >= 0) continue;
      const t = a / (a - b);
      const px = camera.pixelOf([from[0] + t * (x - from[0]), from[1] + t * (y - from[1]), from[2] + t * (z - from[2])]);
      if (px) left *= 1 - coversAt(px[0], px[1]);
    }
    return left;
  };
}

/** A beam in the world: from its lamp to what it falls on, or out of the direction of what is far away. */
function beamOf(camera: GroundCamera, lamp: PlateLamp, { toX, toY, toM, halfDeg, radiusM, soft, dusty, cloudM, seed }: BeamContent): Beam {
  const to = lampPlace(camera, { x: toX, y: toY, distanceM: toM }) ?? [0, 0, toM];
  const at = lampPlace(camera, lamp);
  const air = { soft, dusty, cloudM, seed };
  if (!at) {
    const towards = unit(camera.rayOf(lamp.x, lamp.y));
    const from: Vector3 = [to[0] + SHAFT_M * towards[0], to[1] + SHAFT_M * towards[1], to[2] + SHAFT_M * towards[2]];
    return { ...air, from, along: [-towards[0], -towards[1], -towards[2]], radiusM, grows: 0, reachM: SHAFT_M * 1.02, spreads: false };
  }
  const way: Vector3 = [to[0] - at[0], to[1] - at[1], to[2] - at[2]];
  const reachM = Math.max(0.1, Math.hypot(...way));
  return { ...air, from: at, along: unit(way), radiusM: Math.max(0.01, lamp.wide / 2), grows: Math.tan((halfDeg * Math.PI) / 180), reachM, spreads: true };
}
