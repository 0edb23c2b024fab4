import { project, type Matrix3 } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Scope } from "../../../kernels/Kernels";
import { allocatePlanes, each, type Planes } from "./frameSamples";
import { warpParameters } from "./placeFrame";

interface Size {
  width: number;
  height: number;
}

/**
 * A rectangle of a picture seen through a map, by Catmull-Rom interpolation.
 * @param matrix place asked for → place in the picture, both at one level @param bounds size of the picture at that level
 * @param read gives planes of a rectangle of the picture
 */
export function resample(scope: Scope, matrix: Matrix3, rect: Rectangle, bounds: Size, read: (window: Rectangle) => Planes): Planes {
  const out = allocatePlanes(scope, rect.width * rect.height);
  resampleInto(scope, matrix, rect, bounds, each(out), (window) => each(read(window)));
  return out;
}

/** The same of any number of planes. @param out where each goes, of the rectangle's size */
export function resampleInto(scope: Scope, matrix: Matrix3, rect: Rectangle, bounds: Size, out: number[], read: (window: Rectangle) => number[]): void {
  const corners = [
    [0, 0],
    [rect.width - 1, 0],
    [0, rect.height - 1],
    [rect.width - 1, rect.height - 1],
  ].map(([x, y]) => project(matrix, rect.x + x, rect.y + y));
  const clamp = (v: number, top: number) => Math.max(0, Math.min(top, v));
  const x0 = clamp(Math.floor(Math.min(...corners.map((c) => c[0]))) - 2, bounds.width - 4);
  const y0 = clamp(Math.floor(Math.min(...corners.map((c) => c[1]))) - 2, bounds.height - 4);
  const x1 = clamp(Math.ceil(Math.max(...corners.map((c) => c[0]))) + 4, bounds.width);
  const y1 = clamp(Math.ceil(Math.max(...corners.map((c) => c[1]))) + 4, bounds.height);
  const window = { x: x0, y: y0, width: Math.max(4, x1 - x0), height: Math.max(4, y1 - y0) };
  const source = read(window);
  const at = scope.doubles(warpParameters(matrix, null, bounds));
  out.forEach((plane, c) => {
    scope.kernels.run(
      "warpFloatRows",
      [source[c], window.width, window.height, x0, y0, at, plane, rect.x, rect.width, rect.y],
      rect.y,
      rect.y + rect.height,
      32,
    );
  });
}
