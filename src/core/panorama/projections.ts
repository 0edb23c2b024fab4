import type { Vector3 } from "./camera";

export const PROJECTIONS = ["rectilinear", "adaptive", "cylindrical", "equirectangular", "mercator", "stereographic"] as const;
export type ProjectionName = (typeof PROJECTIONS)[number];

/**
 * A map of directions onto a plane; scale 1 in the middle, where a radian is 1 and a focal length too. Directions: x right, y down,
 * z to the middle of the picture.
 */
export interface Projection {
  /** null where the projection does not show a direction */
  toPlane(ray: readonly number[]): [number, number] | null;
  toRay(x: number, y: number): Vector3 | null;
}

const RAD = Math.PI / 180;
/** Beyond these a projection stretches without end. */
const LIMITS = {
  rectilinear: Math.cos(75 * RAD),
  cylinder: Math.tan(70 * RAD),
  mercator: Math.sinh(Math.log(Math.tan(82.5 * RAD))),
  stereographic: Math.cos(150 * RAD),
};
/** The adaptive projection turns by no more than this of the angle a rectilinear one would, at the sides: a quarter of stretch. */
const ADAPTED = 37 * RAD;

const fromAngles = (theta: number, tangent: number): Vector3 => {
  const c = 1 / Math.hypot(1, tangent);
  return [Math.sin(theta) * c, tangent * c, Math.cos(theta) * c];
};
/** Longitude, and latitude as its tangent. */
const anglesOf = (r: readonly number[]): [number, number] => [Math.atan2(r[0], r[2]), r[1] / Math.max(1e-12, Math.hypot(r[0], r[2]))];

/**
 * How much of a rectilinear projection an adaptive one is: 1 wholly, towards 0 a cylindrical one.
 * @param halfWidth longitude of the sides, radians
 */
export const adaptionFor = (halfWidth: number): number => Math.max(0.05, Math.min(1, ADAPTED / Math.max(1e-6, halfWidth)));

/**
 * @param adaption for the adaptive projection, see adaptionFor
 * @see Snyder 1987, "Map projections: a working manual", for all but the adaptive one, which is x = tan(kθ)/k, y = tan φ / cos(kθ):
 * rectilinear at k = 1, cylindrical at k → 0, with verticals straight for every k
 */
export function projectionOf(name: ProjectionName, adaption = 1): Projection {
  switch (name) {
    case "rectilinear":
      return {
        toPlane: (r) => (r[2] > LIMITS.rectilinear * Math.hypot(r[0], r[1], r[2]) ? [r[0] / r[2], r[1] / r[2]] : null),
        toRay: (x, y) => {
          const c = 1 / Math.hypot(1, x, y);
          return [x * c, y * c, c];
        },
      };
    case "adaptive": {
      const k = adaption;
      const most = Math.min(Math.PI, (88 * RAD) / k);
      return {
        toPlane: (r) => {
          const [theta, tangent] = anglesOf(r);
          return Math.abs(theta) > most || Math.abs(tangent) > LIMITS.cylinder ? null : [Math.tan(k * theta) / k, tangent / Math.cos(k * theta)];
        },
        toRay: (x, y) => {
          const theta = Math.atan(k * x) / k;
          return Math.abs(theta) > Math.PI ? null : fromAngles(theta, y * Math.cos(k * theta));
        },
      };
    }
    case "cylindrical":
      return {
        toPlane: (r) => {
          const [theta, tangent] = anglesOf(r);
          return Math.abs(tangent) > LIMITS.cylinder ? null : [theta, tangent];
        },
        toRay: (x, y) => (Math.abs(x) > Math.PI ? null : fromAngles(x, y)),
      };
    case "equirectangular":
      return {
        toPlane: (r) => {
          const [theta, tangent] = anglesOf(r);
          return [theta, Math.atan(tangent)];
        },
        toRay: (x, y) => (Math.abs(x) > Math.PI || Math.abs(y) >= Math.PI / 2 ? null : fromAngles(x, Math.tan(y))),
      };
    case "mercator":
      return {
        toPlane: (r) => {
          const [theta, tangent] = anglesOf(r);
          return Math.abs(tangent) > LIMITS.mercator ? null : [theta, Math.asinh(tangent)];
        },
        toRay: (x, y) => (Math.abs(x) > Math.PI ? null : fromAngles(x, Math.sinh(y))),
      };
    case "stereographic":
      return {
        toPlane: (r) => {
          const length = Math.hypot(r[0], r[1], r[2]);
          return r[2] < LIMITS.stereographic * length ? null : [(2 * r[0]) / (length + r[2]), (2 * r[1]) / (length + r[2])];
        },
        toRay: (x, y) => {
          const q = (x * x + y * y) / 4;
          return [x / (1 + q), y / (1 + q), (1 - q) / (1 + q)];
        },
      };
  }
}
