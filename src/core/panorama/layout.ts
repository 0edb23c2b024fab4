import { bendMap, type Bend } from "./bend";
import { transform } from "../geometry/matrix3";
import { rayOf, rotationOf, transpose, type Attitude, type Camera, type Vector3 } from "./camera";
import { adaptionFor, projectionOf, type ProjectionName } from "./projections";

/** How the sphere of directions is shown: the direction of the middle, the projection, and the px it is drawn on. */
export interface PanoramaView extends Attitude {
  projection: ProjectionName;
  /** of the adaptive projection */
  adaption: number;
  /** px a radian in the middle */
  scalePx: number;
  /** plane × scalePx − origin = px of the picture */
  originX: number;
  originY: number;
  width: number;
  height: number;
  /** how its border is bent outwards; null: not at all */
  bend: Bend | null;
}

/** Maps between px of the picture and directions of the world. */
export interface ViewMap {
  toRay(x: number, y: number): Vector3 | null;
  toPixel(ray: readonly number[]): [number, number] | null;
}

export function viewMap(view: PanoramaView): ViewMap {
  const turn = rotationOf(view);
  const back = transpose(turn);
  const plane = projectionOf(view.projection, view.adaption);
  const bend = view.bend && view.bend.amount > 0 ? bendMap(view.bend, view.width, view.height) : null;
  return {
    toRay: (bentX, bentY) => {
      const [x, y] = bend ? bend.toFlat(bentX, bentY) : [bentX, bentY];
      const ray = plane.toRay((x + view.originX) / view.scalePx, (y + view.originY) / view.scalePx);
      return ray && transform(turn, ray);
    },
    toPixel: (ray) => {
      const p = plane.toPlane(transform(back, ray));
      if (!p) return null;
      const [x, y] = [p[0] * view.scalePx - view.originX, p[1] * view.scalePx - view.originY];
      return bend ? bend.toBent(x, y) : [x, y];
    },
  };
}

const RAD = Math.PI / 180;

/** Directions along the borders of all frames. */
export function outlines(cameras: Camera[], samples: number): Vector3[] {
  return cameras.flatMap((c) =>
    Array.from({ length: samples * 4 }, (_, i) => {
      const [side, t] = [i % 4, Math.floor(i / 4) / samples];
      const [x, y] = [
        [t, 0],
        [1, t],
        [1 - t, 1],
        [0, 1 - t],
      ][side];
      return rayOf(c, x * (c.width - 1), y * (c.height - 1));
    }),
  );
}

/** Largest side and number of px of a panorama. */
export const MOST_SIDE = 60_000;
export const MOST_PIXELS = 250_000_000;

/** Projections that show a full circle from end to end. */
const ROUND: ProjectionName[] = ["cylindrical", "equirectangular", "mercator"];

/** Lays out the picture that shows all frames; null where the projection cannot show them. */
export function layOut(cameras: Camera[], attitude: Attitude, projection: ProjectionName): PanoramaView | null {
  const back = transpose(rotationOf(attitude));
  const rays = [...outlines(cameras, 40), ...cameras.flatMap((c) => inner(c))].map((ray) => transform(back, ray));
  const halfWidth = Math.max(...rays.map((r) => Math.abs(Math.atan2(r[0], r[2]))));
  const adaption = projection === "adaptive" ? adaptionFor(halfWidth) : 1;
  const plane = projectionOf(projection, adaption);
  const shown = rays.flatMap((r) => {
    const p = plane.toPlane(r);
    return p ? [p] : [];
  });
  // what little a projection cannot show is left out; a picture of what is left would be another picture
  if (shown.length < 0.97 * rays.length) return null;
  const scale = cameras.reduce((sum, c) => sum + c.focalPx, 0) / cameras.length;
  let [x0, x1] = [Math.min(...shown.map((p) => p[0])), Math.max(...shown.map((p) => p[0]))];
  // a full circle is seen in steps; its ends meet
  if (ROUND.includes(projection) && halfWidth > 175 * RAD) [x0, x1] = [-Math.PI, Math.PI - 1e-9];
  const [y0, y1] = [Math.min(...shown.map((p) => p[1])), Math.max(...shown.map((p) => p[1]))];
  const fits = Math.min(1, MOST_SIDE / (scale * Math.max(x1 - x0, y1 - y0)), Math.sqrt(MOST_PIXELS / (scale * scale * (x1 - x0) * (y1 - y0))));
  const scalePx = scale * fits;
  const originX = Math.floor(x0 * scalePx);
  const originY = Math.floor(y0 * scalePx);
  const width = Math.ceil(x1 * scalePx) - originX + 1;
  const height = Math.ceil(y1 * scalePx) - originY + 1;
  return { ...attitude, projection, adaption, scalePx, originX, originY, width, height, bend: null };
}

function inner(c: Camera): Vector3[] {
  return Array.from({ length: 25 }, (_, i) => rayOf(c, ((i % 5) / 4) * (c.width - 1), (Math.floor(i / 5) / 4) * (c.height - 1)));
}

/** Width and height of what the frames show, degrees. */
export function fieldOf(cameras: Camera[], attitude: Attitude): { widthDeg: number; heightDeg: number } {
  const back = transpose(rotationOf(attitude));
  const angles = [...outlines(cameras, 20), ...cameras.flatMap(inner)].map((ray) => {
    const [x, y, z] = transform(back, ray);
    return [Math.atan2(x, z) / RAD, Math.asin(Math.max(-1, Math.min(1, y))) / RAD];
  });
  const span = (k: number) => Math.max(...angles.map((a) => a[k])) - Math.min(...angles.map((a) => a[k]));
  return { widthDeg: span(0), heightDeg: span(1) };
}
