import { solveSymmetric } from "../numeric/linearSystem";
import type { Vector3 } from "../panorama/camera";
import { GroundCamera } from "./groundCamera";

type Place = readonly [number, number];

/** A thing and its shadow, px of the plate. The foot stands on the ground; null where it is hidden. */
export interface ShadowMark {
  foot: Place | null;
  top: Place;
  tip: Place;
}

/** Towards the light: azimuth 0 straight ahead, clockwise seen from above; elevation above level; 1 standard deviation of the direction. */
export interface LightDirection {
  azimuthDeg: number;
  elevationDeg: number;
  sigmaDeg: number;
}

/** Why marks tell no light: one without a foot tells nothing; a tip stands beyond the horizon; a top under its foot; what they say contradicts itself or lies under the ground. */
export type NoLight = "tooFew" | "tipOffGround" | "topUnderFoot" | "contradict";

const RAD = Math.PI / 180;
/** How exactly a place is marked, px (1 standard deviation). */
const MARKED_PX = 1;
/** Marks that disagree by more than so many standard deviations contradict each other. */
const CONTRADICT = 6;

export const directionOf = (azimuthDeg: number, elevationDeg: number): Vector3 => [
  Math.sin(azimuthDeg * RAD) * Math.cos(elevationDeg * RAD),
  Math.sin(elevationDeg * RAD),
  Math.cos(azimuthDeg * RAD) * Math.cos(elevationDeg * RAD),
];

export const anglesOf = ([x, y, z]: Vector3): { azimuthDeg: number; elevationDeg: number } => ({
  azimuthDeg: Math.atan2(x, z) / RAD,
  elevationDeg: Math.atan2(y, Math.hypot(x, z)) / RAD,
});

/** The angle between two directions towards lights, degrees. */
export function lightsApartDeg(a: Pick<LightDirection, "azimuthDeg" | "elevationDeg">, b: Pick<LightDirection, "azimuthDeg" | "elevationDeg">): number {
  const [p, q] = [directionOf(a.azimuthDeg, a.elevationDeg), directionOf(b.azimuthDeg, b.elevationDeg)];
  return Math.acos(Math.max(-1, Math.min(1, p[0] * q[0] + p[1] * q[1] + p[2] * q[2]))) / RAD;
}

/**
 * The direction of the light by cast shadows. A foot, a top and the tip of their shadow tell it; top and tip alone tell a wedge that it lies in, and two wedges cross in it.
 * @param unsure standard deviations of the camera's horizon, degrees, and of its focal length, a share
 * @see Kee, O'Brien and Farid 2013, "Exposing photo manipulation with inconsistent shadows"
 */
export function lightFromShadows(
  camera: GroundCamera,
  marks: readonly ShadowMark[],
  unsure: { horizonDeg: number; focalShare: number } = { horizonDeg: 0, focalShare: 0 },
): LightDirection | NoLight {
  const told = solve(camera, marks);
  if (typeof told === "string") return told;
  let variance = told.sigmaDeg ** 2;
  const { pitchDeg, rollDeg, focalPx } = camera.stance;
  for (const stance of [
    { pitchDeg: pitchDeg + unsure.horizonDeg, rollDeg, focalPx },
    { pitchDeg, rollDeg: rollDeg + unsure.horizonDeg, focalPx },
    { pitchDeg, rollDeg, focalPx: focalPx * (1 + unsure.focalShare) },
  ]) {
    const other = solve(new GroundCamera(camera.size, stance, camera.heightM), marks);
    if (typeof other !== "string") variance += lightsApartDeg(told, other) ** 2;
  }
  return { ...told, sigmaDeg: Math.sqrt(variance) };
}

function solve(camera: GroundCamera, marks: readonly ShadowMark[]): LightDirection | NoLight {
  const starts: Vector3[] = [];
  for (const { foot, top, tip } of marks) {
    if (!foot) continue;
    const [base, end] = [camera.placeAt(...foot), camera.placeAt(...tip)];
    if (!base || !end) return "tipOffGround";
    const height = camera.heightOver(base, ...top);
    if (height === null || height <= 0) return "topUnderFoot";
    starts.push([base[0] - end[0], height, base[2] - end[2]]);
  }
  const wedges = marks.filter((m) => !m.foot);
  if (starts.length === 0) {
    if (wedges.length < 2) return "tooFew";
    for (let i = 0; i < wedges.length; i++) for (let j = 0; j < i; j++) starts.push(crossOf(camera, wedges[i], wedges[j]));
  }
  const solutions = starts.flatMap((start) => fit(camera, marks, anglesOf(start)) ?? []).sort((a, b) => a.worst - b.worst);
  const best = solutions.at(0);
  if (!best || best.worst > CONTRADICT || best.elevationDeg <= 0) return "contradict";
  return { azimuthDeg: best.azimuthDeg, elevationDeg: best.elevationDeg, sigmaDeg: best.sigmaDeg };
}

/** Where the planes of two wedges, each through the camera, a top and its tip, cross: upwards. */
function crossOf(camera: GroundCamera, a: ShadowMark, b: ShadowMark): Vector3 {
  const [n, m] = [a, b].map(({ top, tip }) => cross(camera.rayOf(...top), camera.rayOf(...tip)));
  const d = cross(n, m);
  return d[1] < 0 ? [-d[0], -d[1], -d[2]] : d;
}

const cross = (a: Vector3, b: Vector3): Vector3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];

/** By how many standard deviations marks miss a light: two figures of a mark with a foot, one of a wedge. */
function misses(camera: GroundCamera, marks: readonly ShadowMark[], azimuthDeg: number, elevationDeg: number): number[] | null {
  const light = directionOf(azimuthDeg, elevationDeg);
  const out: number[] = [];
  for (const { foot, top, tip } of marks) {
    if (!foot) {
      const off = wedgeOff(camera, light, top, tip);
      if (off === null) return null;
      out.push(off / (MARKED_PX * Math.SQRT2));
      continue;
    }
    const at = tipOff(camera, light, foot, top, tip);
    if (!at) return null;
    // what ±1 px of foot, top and tip make of the miss
    let [xx, xy, yy] = [1, 0, 1];
    for (const k of [0, 1, 2, 3]) {
      const moved = [...foot, ...top];
      moved[k] += 0.5;
      const other = tipOff(camera, light, [moved[0], moved[1]], [moved[2], moved[3]], tip);
      if (!other) return null;
      const [dx, dy] = [2 * (other[0] - at[0]), 2 * (other[1] - at[1])];
      xx += dx * dx;
      xy += dx * dy;
      yy += dy * dy;
    }
    // whitened by the Cholesky factor of their covariance
    const a = Math.sqrt(xx) * MARKED_PX;
    const b = (xy / Math.sqrt(xx)) * MARKED_PX;
    const c = Math.sqrt(Math.max(1e-9, yy - (xy * xy) / xx)) * MARKED_PX;
    const u = at[0] / a;
    out.push(u, (at[1] - b * u) / c);
  }
  return out;
}

/** By how much the tip of a shadow misses where a light throws it, px. */
function tipOff(camera: GroundCamera, light: Vector3, foot: Place, top: Place, tip: Place): [number, number] | null {
  const base = camera.placeAt(...foot);
  const height = base && camera.heightOver(base, ...top);
  if (!base || height === null || height <= 0 || light[1] <= 0) return null;
  const s = height / light[1];
  const px = camera.pixelOf([base[0] - s * light[0], 0, base[2] - s * light[2]]);
  return px && [px[0] - tip[0], px[1] - tip[1]];
}

/** By how much a tip lies beside the line through its top and the point that shows the light, px. */
function wedgeOff(camera: GroundCamera, light: Vector3, top: Place, tip: Place): number | null {
  const n = cross(camera.rayOf(...top), light);
  const length = Math.hypot(...n);
  if (length < 1e-12) return null;
  // the same plane as a line of the picture: its value at the tip over its slope there
  const value = (x: number, y: number) => {
    const r = camera.rayOf(x, y);
    return r[0] * n[0] + r[1] * n[1] + r[2] * n[2];
  };
  const at = value(...tip);
  const slope = Math.hypot(value(tip[0] + 1, tip[1]) - at, value(tip[0], tip[1] + 1) - at);
  return slope > 0 ? at / slope : null;
}

function fit(
  camera: GroundCamera,
  marks: readonly ShadowMark[],
  start: { azimuthDeg: number; elevationDeg: number },
): (LightDirection & { worst: number }) | null {
  let { azimuthDeg, elevationDeg } = start;
  elevationDeg = Math.max(0.5, Math.min(89.5, elevationDeg));
  let normal = new Float64Array(4);
  let at = misses(camera, marks, azimuthDeg, elevationDeg);
  for (let pass = 0; pass < 20 && at; pass++) {
    const h = 1e-3;
    const side = misses(camera, marks, azimuthDeg + h, elevationDeg);
    const higher = misses(camera, marks, azimuthDeg, elevationDeg + h);
    if (!side || !higher) return null;
    normal = new Float64Array(4);
    const right = new Float64Array(2);
    at.forEach((m, i) => {
      const [a, b] = [(side[i] - m) / h, (higher[i] - m) / h];
      normal[0] += a * a;
      normal[1] += a * b;
      normal[3] += b * b;
      right[0] -= a * m;
      right[1] -= b * m;
    });
    normal[2] = normal[1];
    const change = solveSymmetric(normal, right);
    if (!change) return null;
    azimuthDeg += Math.max(-20, Math.min(20, change[0]));
    elevationDeg = Math.max(0.2, Math.min(89.8, elevationDeg + Math.max(-10, Math.min(10, change[1]))));
    at = misses(camera, marks, azimuthDeg, elevationDeg);
    if (Math.hypot(change[0], change[1]) < 1e-6) break;
  }
  if (!at) return null;
  const determinant = normal[0] * normal[3] - normal[1] * normal[1];
  if (!(determinant > 0)) return null;
  const degrees = at.length - 2;
  const spread = degrees > 0 ? Math.max(1, at.reduce((s, m) => s + m * m, 0) / degrees) : 1;
  const c = Math.cos(elevationDeg * RAD);
  const variance = ((normal[3] / determinant) * c * c + normal[0] / determinant) * spread;
  return { ...anglesOf(directionOf(azimuthDeg, elevationDeg)), sigmaDeg: Math.sqrt(variance), worst: Math.max(...at.map(Math.abs)) };
}
