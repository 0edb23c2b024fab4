import { covers, fitRatio, largestCrop } from "../core/geometry/validArea";
import { invert, multiply, project, type Matrix3 } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { inside, pixelOf } from "../core/panorama/camera";
import { coverageOf, inscribedCrop } from "../core/panorama/coverage";
import { viewMap } from "../core/panorama/layout";
import { outputToReference } from "./outputGeometry";
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

/** Px of the picture turned by an angle → px as it lies. */
function turnedBack(records: Records, angleDeg: number): Matrix3 {
  const { width, height } = documentSize(records)!;
  return outputToReference({ angleDeg, crop: { x: 0, y: 0, width, height } }, { width, height });
}

/** The same for the picture turned by an angle, in the turned picture's px. */
export function turnedCoverTest(records: Records, angleDeg: number): (x: number, y: number) => boolean {
  const back = turnedBack(records, angleDeg);
  const covered = coverTest(records);
  return (x, y) => covered(...project(back, x, y));
}

/** The largest crop for an angle and a ratio that holds no empty pixel. */
export function validCrop(records: Records, angleDeg: number, ratio: number | null): Rectangle {
  const size = documentSize(records)!;
  const back = turnedBack(records, angleDeg);
  const panorama = panoramaOf(records);
  const crop = panorama
    ? inscribedCrop(
        coverageOf(panorama.view, panoramaCamerasOf(records), 500, angleDeg === 0 ? undefined : (x, y) => project(back, x, y)),
        panorama.view,
        ratio,
      )
    : largestCrop(
        size.width,
        size.height,
        mergedFramesOf(records).map(({ frame, matrix }) => ({ width: frame.width, height: frame.height, matrix: multiply(invert(back), matrix) })),
        ratio ?? undefined,
      );
  return crop ?? fitRatio({ x: 0, y: 0, width: size.width, height: size.height }, ratio ?? size.width / size.height);
}
