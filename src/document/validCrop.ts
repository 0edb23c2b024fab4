import { covers, fitRatio, largestCrop } from "../core/geometry/validArea";
import { invert, multiply, project, type Matrix3 } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { inside, pixelOf } from "../core/panorama/camera";
import { coverageOf, inscribedCrop } from "../core/panorama/coverage";
import { viewMap } from "../core/panorama/layout";
import { extentOf, outputToReference, type OutputGeometry } from "./outputGeometry";
import type { Records } from "./records/types";
import { documentSize, mergedFramesOf, panoramaCamerasOf, panoramaOf } from "./selectors";

/** Whether a place of the picture holds something: every frame of a set, or any of a panorama. */
export function coverTest(records: Records): (x: number, y: number) => boolean {
  const panorama = panoramaOf(records);
  if (panorama) {
    const cameras = panoramaCamerasOf(records);
    const { toRay } = viewMap(panorama.view);
    return (x, y) => {
      const ray = toRay(x, y);
      return (
        ray !== null &&
        cameras.some((c) => {
          const p = pixelOf(c, ray);
          return p !== null && inside(c, p);
        })
      );
    };
  }
  const placed = mergedFramesOf(records).map(({ frame, matrix, lens }) => ({ width: frame.width, height: frame.height, matrix, lens }));
  return (x, y) => placed.every((f) => covers(f, x, y));
}

/** How a picture and its camera are turned. */
type Turned = Omit<OutputGeometry, "crop">;

/** Px of the picture turned → px as it lies. */
function turnedBack(records: Records, turned: Turned): Matrix3 {
  const { width, height } = documentSize(records)!;
  return outputToReference({ ...turned, crop: { x: 0, y: 0, width, height } }, { width, height });
}

/** The same for the picture turned, in the turned picture's px. */
export function turnedCoverTest(records: Records, turned: Turned): (x: number, y: number) => boolean {
  const back = turnedBack(records, turned);
  const covered = coverTest(records);
  return (x, y) => covered(...project(back, x, y));
}

/** The largest crop of frames within a part of the turned picture. */
function largestIn(records: Records, part: Rectangle, turn: Matrix3, ratio: number | null): Rectangle | null {
  const shifted = multiply([1, 0, -part.x, 0, 1, -part.y, 0, 0, 1], turn);
  const frames = mergedFramesOf(records).map(({ frame, matrix }) => ({ width: frame.width, height: frame.height, matrix: multiply(shifted, matrix) }));
  const found = largestCrop(part.width, part.height, frames, ratio ?? undefined);
  return found && { ...found, x: found.x + part.x, y: found.y + part.y };
}

/** The largest crop for a picture turned so and a ratio that holds no empty pixel. */
export function validCrop(records: Records, turned: Turned, ratio: number | null): Rectangle {
  const size = documentSize(records)!;
  const back = turnedBack(records, turned);
  const panorama = panoramaOf(records);
  const crop = panorama
    ? inscribedCrop(
        coverageOf(panorama.view, panoramaCamerasOf(records), 500, turned.angleDeg === 0 && !turned.tilt ? undefined : (x, y) => project(back, x, y)),
        panorama.view,
        ratio,
      )
    : largestIn(records, turned.tilt ? extentOf(turned, size) : { x: 0, y: 0, ...size }, invert(back), ratio);
  return crop ?? fitRatio({ x: 0, y: 0, width: size.width, height: size.height }, ratio ?? size.width / size.height);
}
