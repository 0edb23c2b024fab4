import type { Size } from "../geometry/lens";
import type { Matrix3 } from "../geometry/matrix3";
import { dot, type Vector3 } from "../panorama/camera";
import { worldAxes, type Stance } from "./upright";

/**
 * The camera of a plate over level ground. World: x right, y up, z level ahead, metres; the ground is y = 0, the camera stands at (0, height, 0). Px of the plate, pixel centres at integers.
 */
export class GroundCamera {
  /** the axes of the world in those of the camera */
  readonly axesInCamera: { right: Vector3; up: Vector3; ahead: Vector3 };

  constructor(
    readonly size: Size,
    readonly stance: Stance,
    /** metres above the ground */
    readonly heightM: number,
  ) {
    this.axesInCamera = worldAxes(stance);
  }

  /** Direction, in the world, of what a px shows; not of unit length. */
  rayOf(x: number, y: number): Vector3 {
    const { right, up, ahead } = this.axesInCamera;
    const local: Vector3 = [x - (this.size.width - 1) / 2, y - (this.size.height - 1) / 2, this.stance.focalPx];
    return [dot(right, local), dot(up, local), dot(ahead, local)];
  }

  /** Px that shows a place of the world; null behind the camera. */
  pixelOf([x, y, z]: Vector3): [number, number] | null {
    const { right, up, ahead } = this.axesInCamera;
    const at = (k: number) => x * right[k] + (y - this.heightM) * up[k] + z * ahead[k];
    const depth = at(2);
    if (depth <= 1e-9) return null;
    const { focalPx } = this.stance;
    return [(at(0) / depth) * focalPx + (this.size.width - 1) / 2, (at(1) / depth) * focalPx + (this.size.height - 1) / 2];
  }

  /** Place on the ground, or at a height over it, that a px shows; null at the horizon and on its other side. */
  placeAt(x: number, y: number, heightM = 0): Vector3 | null {
    const ray = this.rayOf(x, y);
    const t = (heightM - this.heightM) / ray[1];
    return t > 0 && Number.isFinite(t) ? [t * ray[0], heightM, t * ray[2]] : null;
  }

  /** The height over a place on the ground at which a px is passed closest, metres: that of what stands there and ends in that px. */
  heightOver(foot: Vector3, x: number, y: number): number | null {
    const ray = this.rayOf(x, y);
    const level = ray[0] * ray[0] + ray[2] * ray[2];
    if (level <= 0) return null;
    const t = (ray[0] * foot[0] + ray[2] * foot[2]) / level;
    return t > 0 ? this.heightM + t * ray[1] : null;
  }

  /** Places of a plane, along two directions from one of its own → px. */
  planeMatrix(origin: Vector3, across: Vector3, up: Vector3): Matrix3 {
    const { right, up: over, ahead } = this.axesInCamera;
    const [ox, oy, oz] = [origin[0], origin[1] - this.heightM, origin[2]];
    const row = (k: number) => [across, up, [ox, oy, oz]].map((v) => v[0] * right[k] + v[1] * over[k] + v[2] * ahead[k]);
    const [x, y, depth] = [row(0), row(1), row(2)];
    const { focalPx } = this.stance;
    const [cx, cy] = [(this.size.width - 1) / 2, (this.size.height - 1) / 2];
    return [...x.map((v, i) => focalPx * v + cx * depth[i]), ...y.map((v, i) => focalPx * v + cy * depth[i]), ...depth];
  }

  /** Distance over the ground, metres. */
  distanceTo([x, , z]: Vector3): number {
    return Math.hypot(x, z);
  }

  /** Height of the camera over what a foot stands on, by something upright there whose height is known. @returns metres, null where the marks contradict the horizon */
  static heightBy(size: Size, stance: Stance, foot: readonly [number, number], top: readonly [number, number], metres: number): number | null {
    const one = new GroundCamera(size, stance, 1);
    const place = one.placeAt(...foot);
    const height = place && one.heightOver(place, ...top);
    return height && height > 0 ? metres / height : null;
  }

  /** Height of the camera by a length along the ground that is known. @returns metres, null where an end does not lie on the ground */
  static heightByLength(size: Size, stance: Stance, from: readonly [number, number], to: readonly [number, number], metres: number): number | null {
    const one = new GroundCamera(size, stance, 1);
    const [p, q] = [one.placeAt(...from), one.placeAt(...to)];
    const length = p && q ? Math.hypot(p[0] - q[0], p[2] - q[2]) : 0;
    return length > 0 ? metres / length : null;
  }
}
