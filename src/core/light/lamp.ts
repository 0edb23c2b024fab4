import { exp2 } from "../numeric/elementary";
import { dot, unit, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "../seat/groundCamera";

export const LAMP_KINDS = ["lamp", "window", "screen", "fire", "moon", "sun"] as const;
export type LampKind = (typeof LAMP_KINDS)[number];

/** Something that shines: in a plate, or beside it. */
export interface Lamp {
  id: string;
  is: LampKind;
  /** its middle, px of the plate; it may lie outside */
  x: number;
  y: number;
  /** over the ground to it, metres; null: as far away as sun and moon are */
  distanceM: number | null;
  /** how wide it is: metres, or degrees of what is as far away as that */
  wide: number;
  /** light of a white surface that faces it a metre away, or anywhere where it is far, EV over the white of the picture */
  ev: number;
  /** of its light: red, green, blue, linear, of luminance 1 */
  color: number[];
}

/** Where a lamp stands in the world, metres; null where it is as far away as sun and moon, or straight over or under the camera. */
export function lampPlace(camera: GroundCamera, { x, y, distanceM }: Pick<Lamp, "x" | "y" | "distanceM">): Vector3 | null {
  if (distanceM === null) return null;
  const ray = camera.rayOf(x, y);
  const level = Math.hypot(ray[0], ray[2]);
  if (!(level > 1e-6)) return null;
  const t = distanceM / level;
  return [t * ray[0], camera.heightM + t * ray[1], t * ray[2]];
}

/** A lamp as it lights a place. */
export interface Shine {
  /** towards it, of unit length */
  towards: Vector3;
  /** light of a white surface that faces it, over white */
  light: number;
  /** sine of half of its width as seen from there */
  sine: number;
}

/** How a lamp lights places of the world. Nothing gets more of it than where it touches it. */
export function shineOf(camera: GroundCamera, lamp: Lamp): (place: Vector3) => Shine {
  const at = lampPlace(camera, lamp);
  const strong = exp2(lamp.ev);
  if (!at) {
    const far: Shine = { towards: unit(camera.rayOf(lamp.x, lamp.y)), light: strong, sine: Math.sin((Math.min(180, lamp.wide) * Math.PI) / 360) };
    return () => far;
  }
  const radius = lamp.wide / 2;
  return (place) => {
    const way: Vector3 = [at[0] - place[0], at[1] - place[1], at[2] - place[2]];
    const distance = Math.max(radius, 1e-3, Math.sqrt(dot(way, way)));
    return { towards: unit(way), light: strong / (distance * distance), sine: Math.min(1, radius / distance) };
  };
}

/** What a matt surface takes of a light that is as wide as a disc, against facing it: its cosine, rounded off where part of the disc is below its horizon. */
export function facing(cosine: number, sine: number): number {
  if (cosine >= sine) return cosine;
  return cosine <= -sine ? 0 : (cosine + sine) ** 2 / (4 * sine);
}

/** How large a lamp is seen, px of the plate from its middle to its rim; a lens draws what lies aside apart. */
export function lampRadiusPx(camera: GroundCamera, lamp: Pick<Lamp, "x" | "y" | "distanceM" | "wide">): number {
  const { width, height } = camera.size;
  const { focalPx } = camera.stance;
  const off = Math.hypot(lamp.x - (width - 1) / 2, lamp.y - (height - 1) / 2) / focalPx;
  const at = lampPlace(camera, lamp);
  const tangent = at ? lamp.wide / 2 / Math.max(1e-6, Math.hypot(at[0], at[1] - camera.heightM, at[2])) : Math.tan((Math.min(170, lamp.wide) * Math.PI) / 360);
  return Math.max(0.5, tangent * focalPx * (1 + off * off) ** 0.75);
}
