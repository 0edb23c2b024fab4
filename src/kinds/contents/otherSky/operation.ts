import { atLevel, invert } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { exp2, pow } from "../../../core/numeric/elementary";
import { skyToPlate } from "../../../core/light/skyView";
import { plateOf } from "../../../document/selectors";
import { cameraOf, sceneryOf } from "../../../document/seatGeometry";
import { allocatePlanes, each, type Planes } from "../../../engine/operations/frames/frameSamples";
import { resample } from "../../../engine/operations/frames/resample";
import { levelAt } from "../../../engine/operations/layers/frameLayers";
import { layerKey } from "../../../engine/operations/layers/stackKeys";
import type { StackSite } from "../../../engine/operations/layers/StackSite";
import { mirroredSkies, type MirroredSkies } from "../../../engine/operations/light/mirroredSkies";
import { eachInFront } from "../../../engine/operations/matte/LevelMatte";
import { readLayer, type ShownFrame } from "../../../engine/operations/merge/readLayer";
import type { GroundCamera } from "../../../core/seat/groundCamera";
import type { Scope } from "../../../kernels/Kernels";
import type { ContentOperation } from "../tools";
import type { OtherSkyContent } from "./record";

/** Light below this has no share that could be told. */
const DARKEST = 1e-7;

/** Takes the old sky out of every px, as much of it as shows there, and puts another one behind; the land is lit by that, and water mirrors it. */
export const otherSky: ContentOperation<OtherSkyContent> = (on, content, layer, backdrop, scope) => {
  const { job } = on;
  const { kernels } = on.ctx;
  const { level, rect } = on.where;
  const plate = plateOf(job.records);
  const [cutter, shown] = [job.cutouts.get(layer.id), shownAs(on, content.frameId)];
  if (!plate || !cutter?.shownAt(level) || !shown) return null;
  const camera = cameraOf(plate, job.inputs);
  const sky = each(readSky(on, content, shown, camera, level, rect, scope)).map((at) => kernels.f32(at, on.n));
  hazeOver(sky, content, camera, level, rect);

  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => kernels.f32(at, on.n));
  const matte = cutter.at(level);
  const lit = content.land.map((gain) => pow(gain, content.landAmount));
  // what is in front: how much of the light of each px is its own
  const behind = new Float32Array(on.n).fill(1);
  const land = readLandFrame(on, content, scope);
  const frame = land && each(land).map((at) => kernels.f32(at, on.n));
  const shares = [0, 1, 2].map(() => new Float32Array(on.n));
  eachInFront(matte, rect, (i, alpha, k) => {
    behind[i] = 1 - alpha;
    for (let c = 0; c < 3; c++) {
      const own = k < 0 || !frame ? alpha : (alpha * matte.front[3 * k + c]) / Math.max(DARKEST, frame[c][i]);
      shares[c][i] = Math.min(1, own);
    }
  });
  const skies = (): MirroredSkies =>
    on.ctx.cache.take(
      `mirroredSkies/${layerKey(job, layer)}`,
      () =>
        mirroredSkies(on.ctx, job, layer.id, content.land, (at, area, within) => {
          const read = each(readSky(on, content, shown, camera, at, area, within)).map((plane) => kernels.f32(plane, area.width * area.height));
          hazeOver(read, content, camera, at, area);
          return read;
        }),
      (made) => made.bytes,
    );
  const water = content.water > 0 ? waterOf(on, camera, skies) : null;
  for (let c = 0; c < 3; c++) {
    const [plane, newSky, share] = [planes[c], sky[c], shares[c]];
    for (let i = 0; i < on.n; i++) {
      const lightOn = water && water.is[i] ? 1 + content.water * (water.ratio[c][i] - 1) : lit[c];
      plane[i] = plane[i] * share[i] * lightOn + behind[i] * newSky[i];
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};

const shownAs = ({ job }: StackSite, id: string): ShownFrame | undefined => job.inputs.frames.find((f) => f.frame.id === id) ?? job.pictures.get(id);

/** The frame by which land and sky were told apart, as it was shot. */
function readLandFrame(on: StackSite, { landId }: OtherSkyContent, scope: Scope): Planes | null {
  const shown = shownAs(on, landId);
  return shown ? readLayer(scope, shown, on.where.level, on.where.rect, 0) : null;
}

/** The other sky where the plate shows that direction; beyond its border as at it, and under its last row of sky as over that. */
function readSky(on: StackSite, content: OtherSkyContent, shown: ShownFrame, camera: GroundCamera, level: number, rect: Rectangle, scope: Scope): Planes {
  const { spec } = shown.file;
  const toOwn = invert(skyToPlate(content, spec, camera.stance, camera.size));
  // one level for all of it, for a wide lens shows it larger at its sides
  const own = levelAt(toOwn, [camera.size.width / 2, camera.size.height / 2], level, spec.levels);
  const bounds = sizeAtLevel(spec.width, spec.height, own);
  const bottom = Math.max(0, Math.min(bounds.height - 1, Math.floor((content.bottomY + 0.5) / 2 ** own - 0.5)));
  return resample(scope, atLevel(toOwn, level, own), rect, bounds, (window) => readAbove(on, shown, own, window, bottom, content.exposureEv, scope));
}

/** A window of a sky's own picture in which all that lies below its last row of sky is that turned upside down. */
function readAbove(on: StackSite, shown: ShownFrame, own: number, window: Rectangle, bottom: number, exposureEv: number, scope: Scope): Planes {
  const { y, width, height } = window;
  if (y + height <= bottom + 1) return readLayer(scope, shown, own, window, exposureEv);
  const { kernels } = on.ctx;
  const from = Math.max(0, Math.min(y, 2 * bottom - (y + height - 1)));
  const rows = bottom + 1 - from;
  const sky = readLayer(scope, shown, own, { ...window, y: from, height: rows }, exposureEv);
  const out = allocatePlanes(scope, width * height);
  each(out).forEach((at, c) => {
    const [plane, above] = [kernels.f32(at, width * height), kernels.f32(each(sky)[c], width * rows)];
    for (let j = 0; j < height; j++) {
      const row = Math.max(from, y + j <= bottom ? y + j : 2 * bottom - y - j) - from;
      plane.set(above.subarray(row * width, (row + 1) * width), j * width);
    }
  });
  return out;
}

/** Mixes air over a sky, the more the nearer to the horizon. */
function hazeOver(sky: Float32Array[], { haze, hazeDeg, hazeColor, exposureEv }: OtherSkyContent, camera: GroundCamera, level: number, rect: Rectangle): void {
  if (haze === 0) return;
  const scale = 2 ** level;
  const gain = exp2(exposureEv);
  // over small angles the sine of a height is the height
  const deep = Math.sin((hazeDeg * Math.PI) / 180);
  for (let j = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * scale - 0.5;
    for (let i = 0; i < rect.width; i++) {
      const [dx, dy, dz] = camera.rayOf((rect.x + i + 0.5) * scale - 0.5, y);
      const high = Math.max(0, dy) / Math.sqrt(dx * dx + dy * dy + dz * dz);
      const share = haze * exp2(-high / deep / Math.LN2);
      for (let c = 0; c < 3; c++) sky[c][j * rect.width + i] += share * (gain * hazeColor[c] - sky[c][j * rect.width + i]);
    }
  }
}

/** Where water shows, and by what the light that it mirrors is multiplied; null where none is marked. */
function waterOf(on: StackSite, camera: GroundCamera, skies: () => MirroredSkies): { is: Uint8Array; ratio: Float32Array[] } | null {
  const plate = plateOf(on.job.records)!;
  const scenery = sceneryOf(plate, on.job.inputs);
  if (!scenery.stood.some(({ surface }) => surface.is === "water")) return null;
  const { level, rect } = on.where;
  const scale = 2 ** level;
  const is = new Uint8Array(on.n);
  const ratio = [0, 1, 2].map(() => new Float32Array(on.n));
  const told = new Float64Array(3);
  for (let j = 0; j < rect.height; j++) {
    for (let i = 0; i < rect.width; i++) {
      const [x, y] = [(rect.x + i + 0.5) * scale - 0.5, (rect.y + j + 0.5) * scale - 0.5];
      if (scenery.at(x, y)?.stood?.surface.is !== "water") continue;
      const [dx, dy, dz] = camera.rayOf(x, y);
      const above = camera.pixelOf([dx, camera.heightM - dy, dz]);
      if (!above) continue;
      const k = j * rect.width + i;
      is[k] = 1;
      skies().ratioAt(above[0], above[1], told);
      for (let c = 0; c < 3; c++) ratio[c][k] = told[c];
    }
  }
  return { is, ratio };
}
