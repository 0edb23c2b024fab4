import { project } from "../geometry/matrix3";
import { exp2 } from "../numeric/elementary";
import { unit } from "../panorama/camera";
import type { GroundCamera } from "../seat/groundCamera";
import { fresnel, mirroredFar, ripplePx } from "../seat/water";
import { lampPlace, lampRadiusPx, type Lamp } from "./lamp";

/** A disc spread evenly has that deviation along each axis, of its radius. */
const OF_DISC = 0.5;

/** Light of what shines itself, over white: what it gives a surface by how large it is seen from there. */
export function lightOfLamp({ ev, wide, distanceM }: Pick<Lamp, "ev" | "wide" | "distanceM">): number {
  const sine = distanceM === null ? Math.sin((Math.min(180, wide) * Math.PI) / 360) : wide / 2;
  return exp2(ev) / Math.max(1e-8, sine * sine);
}

/** No more of it shows in a picture, EV over white; a moon is as bright as white paper in the sun. Common practice, no source. */
const [MOST_EV, MOON_EV] = [5, 0];

/** How bright something that shines is taken to be itself, EV over white: by what it gives, where that is not more than a picture shows. */
export const shinesEv = (lamp: Pick<Lamp, "is" | "ev" | "wide" | "distanceM">): number =>
  Math.min(lamp.is === "moon" ? MOON_EV : MOST_EV, Math.log2(lightOfLamp(lamp)));

/**
 * The road of light that a lamp throws on level water, px by px of the plate: its mirror image, drawn out towards the camera by ripples; null where the water cannot mirror it.
 * @param levelM height of the water over the ground @param slope of its ripples, RMS @param ev how bright it is itself, over white @returns light over white at a px of the water
 */
export function lampInWater(camera: GroundCamera, lamp: Lamp, levelM: number, slope: number, ev: number): ((x: number, y: number) => number) | null {
  const at = lampPlace(camera, lamp);
  if (at && at[1] <= levelM) return null;
  const mirrored = at ? camera.pixelOf([at[0], 2 * levelM - at[1], at[2]]) : farBelow(camera, lamp);
  if (!mirrored) return null;
  const radius = lampRadiusPx(camera, lamp);
  const shines = exp2(ev) * Math.PI * radius * radius;
  const away = at ? camera.distanceTo(at) : Infinity;
  const [mx, my] = mirrored;
  return (x, y) => {
    const place = camera.placeAt(x, y, levelM);
    if (!place) return 0;
    // what lies behind the lamp does not mirror it to the camera
    const share = at ? 1 - camera.distanceTo(place) / away : 1;
    if (share <= 0) return 0;
    const sine = -unit(camera.rayOf(x, y))[1];
    const down = Math.hypot(OF_DISC * radius, ripplePx(camera.stance.focalPx, slope, share));
    const across = Math.hypot(OF_DISC * radius, ripplePx(camera.stance.focalPx, slope, share) * sine);
    const off = ((x - mx) / across) ** 2 + ((y - my) / down) ** 2;
    return off > 60 ? 0 : (fresnel(sine) * shines * Math.exp(-off / 2)) / (2 * Math.PI * across * down);
  };
}

/** Where level water mirrors what is as far away as the sky. */
function farBelow(camera: GroundCamera, { x, y }: Pick<Lamp, "x" | "y">): [number, number] | null {
  if (camera.rayOf(x, y)[1] <= 0) return null;
  const [u, v] = project(mirroredFar(camera), x, y);
  return Number.isFinite(u) && Number.isFinite(v) ? [u, v] : null;
}
