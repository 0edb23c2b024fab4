import type { Rectangle } from "../geometry/rectangle";
import { dot, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";

/** Level and over the ground, as a table or a step is; upright on the ground; or level and of water. */
export const SURFACE_KINDS = ["raised", "wall", "water"] as const;
export type SurfaceKind = (typeof SURFACE_KINDS)[number];

/** Something of a plate that is not its ground, px of the plate. */
export interface Surface {
  id: string;
  is: SurfaceKind;
  /** what is level: its corners; a wall: the two ends of its foot on the ground */
  places: (readonly [number, number])[];
  /** what is level: over the ground, metres; a wall: how high it is */
  heightM: number;
}

/** A surface where it stands in the world. */
interface Stood {
  surface: Surface;
  /** as the plate shows it */
  outline: (readonly [number, number])[];
  normal: Vector3;
  /** normal · place of all its places */
  offset: number;
}

/** A place of the plate that a px shows. */
export interface Shown {
  place: Vector3;
  /** null: the ground */
  stood: Stood | null;
}

/** The ground of a plate, and the surfaces that stand on it: what each px shows of them. */
export class Scenery {
  /** the surfaces that can be where they are said to be */
  readonly stood: readonly Stood[];

  constructor(
    readonly camera: GroundCamera,
    surfaces: readonly Surface[] = [],
  ) {
    this.stood = surfaces.flatMap((s) => stoodOf(camera, s) ?? []);
  }

  /** What of a px is nearest: a surface that was marked there, else the ground; null in the sky. */
  at(x: number, y: number): Shown | null {
    let nearest: { t: number; stood: Stood } | null = null;
    for (const stood of this.stood) {
      if (!isInside(stood.outline, x, y)) continue;
      const t = this.along(stood, x, y);
      if (t > 0 && (!nearest || t < nearest.t)) nearest = { t, stood };
    }
    if (nearest) return { place: this.placeOn(nearest.stood, x, y)!, stood: nearest.stood };
    const place = this.camera.placeAt(x, y);
    return place && { place, stood: null };
  }

  /** Where something with its foot in a px stands: on what is level there, else on the ground; null in the sky. */
  footAt(x: number, y: number): Vector3 | null {
    const shown = this.at(x, y);
    return shown?.stood?.surface.is === "wall" ? this.camera.placeAt(x, y) : (shown?.place ?? null);
  }

  /** The place of a surface, however far that reaches, that a px shows; null: none. */
  placeOn(stood: Stood, x: number, y: number): Vector3 | null {
    const t = this.along(stood, x, y);
    const [dx, dy, dz] = this.camera.rayOf(x, y);
    return t > 0 && Number.isFinite(t) ? [t * dx, this.camera.heightM + t * dy, t * dz] : null;
  }

  private along({ normal, offset }: Stood, x: number, y: number): number {
    return (offset - normal[1] * this.camera.heightM) / dot(normal, this.camera.rayOf(x, y));
  }
}

/** A surface as it is seen; null where it cannot be seen so: its places lie in the sky, or it is level over the camera. */
function stoodOf(camera: GroundCamera, surface: Surface): Stood | null {
  const { is, places, heightM } = surface;
  if (is !== "wall") {
    if (places.length < 3 || heightM >= camera.heightM) return null;
    const isSeen = places.every(([x, y]) => camera.placeAt(x, y, heightM) !== null);
    return isSeen ? { surface, outline: places, normal: [0, 1, 0], offset: heightM } : null;
  }
  const [a, b] = places.map(([x, y]) => camera.placeAt(x, y));
  if (!a || !b) return null;
  const length = Math.hypot(b[0] - a[0], b[2] - a[2]);
  if (!(length > 0)) return null;
  const side: Vector3 = [(b[2] - a[2]) / length, 0, (a[0] - b[0]) / length];
  // towards the camera, which stands over the origin
  const sign = dot(side, a) > 0 ? -1 : 1;
  const normal: Vector3 = [sign * side[0], 0, sign * side[2]];
  const tops = [b, a].map(([x, , z]) => camera.pixelOf([x, heightM, z]));
  if (tops.includes(null)) return null;
  return { surface, outline: [...places.slice(0, 2), ...(tops as [number, number][])], normal, offset: dot(normal, a) };
}

/** Whether a place lies within a polygon: a line from there crosses its border an odd number of times. */
function isInside(outline: Stood["outline"], x: number, y: number): boolean {
  let isIn = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const a = outline[i];
    const b = outline[j];
    if (a[1] > y !== b[1] > y && x < a[0] + ((y - a[1]) / (b[1] - a[1])) * (b[0] - a[0])) isIn = !isIn;
  }
  return isIn;
}

/** Px around an outline. */
export function boundsOf({ outline }: Pick<Stood, "outline">): Rectangle {
  const [xs, ys] = [outline.map((p) => p[0]), outline.map((p) => p[1])];
  const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
  return { x, y, width: Math.ceil(Math.max(...xs)) - x + 1, height: Math.ceil(Math.max(...ys)) - y + 1 };
}

/** Places of a px that are asked. */
const WITHIN = [-0.25, 0.25];

/** How much of a px of a level something holds for, 0..1. @param scale px of the full size in one of its px */
export function shareOfPx(x: number, y: number, scale: number, holds: (x: number, y: number) => boolean): number {
  let sum = 0;
  for (const u of WITHIN) for (const v of WITHIN) if (holds(x + u * scale, y + v * scale)) sum++;
  return sum / (WITHIN.length * WITHIN.length);
}
