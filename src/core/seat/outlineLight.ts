import { gaussianBlur } from "../raster/blur";
import { solveSymmetric } from "../numeric/linearSystem";
import { anglesOf, directionOf, type LightDirection } from "./lightFromShadows";
import { dot, type Vector3 } from "../panorama/camera";

/** The light on a thing as its outline shows it, in the plane of the picture. */
export interface OutlineLight {
  /** where it comes from: 0 from the right, 90 from above, −180..180 */
  angleDeg: number;
  /** standard deviation of that */
  sigmaDeg: number;
  /** light that comes from there over light from everywhere, along the outline */
  strength: number;
}

/** Blur that smooths an outline before its normals are taken, and how far inside it light is read, samples. */
const SMOOTH = 2.2;
const INSIDE = [2.5, 4];
/** Places of an outline, at least; and parts of it of which each is left out in turn. */
const FEWEST = 60;
const PARTS = 10;
/** A light from one side that is weaker than this, or less sure, tells none. */
const LEAST_STRENGTH = 0.12;
const MOST_SIGMA = 35;
/** Misses beyond this count less, of what is left. */
const HUBER = 1.5;
const RAD = Math.PI / 180;

/**
 * The light on something, by how bright it is just inside its outline: there its surface faces away from the camera at a right angle, towards where the outline does.
 * @param alpha 0..1, what covers each sample @param light linear luminance, samples of the same size
 * @returns "even" where it is as bright all around, null where the outline does not tell
 * @see Johnson and Farid 2007, "Exposing digital forgeries in complex lighting environments"
 */
export function outlineLight(alpha: Float32Array, light: ArrayLike<number>, width: number, height: number): OutlineLight | "even" | null {
  const smooth = gaussianBlur({ data: alpha, width, height }, SMOOTH);
  const [nx, ny, value, part]: number[][] = [[], [], [], []];
  const [cx, cy] = centreOf(alpha, width, height);
  for (let y = 3; y + 3 < height; y++) {
    for (let x = 3; x + 3 < width; x++) {
      const i = y * width + x;
      // the border runs between this sample and the next to its right or below
      if (smooth[i] < 0.5 === smooth[i + 1] < 0.5 && smooth[i] < 0.5 === smooth[i + width] < 0.5) continue;
      const [gx, gy] = [smooth[i + 1] - smooth[i - 1], smooth[i + width] - smooth[i - width]];
      const g = Math.hypot(gx, gy);
      if (g < 0.05) continue;
      const [ox, oy] = [-gx / g, -gy / g];
      let [sum, count] = [0, 0];
      for (const d of INSIDE) {
        const k = Math.round(y - d * oy) * width + Math.round(x - d * ox);
        if (k < 0 || k >= alpha.length || alpha[k] < 0.98) continue;
        sum += light[k];
        count++;
      }
      if (count === 0) continue;
      nx.push(ox);
      ny.push(-oy);
      value.push(sum / count);
      part.push(Math.floor(((Math.atan2(y - cy, x - cx) / Math.PI + 1) / 2) * PARTS) % PARTS);
    }
  }
  if (value.length < FEWEST) return null;
  const whole = fit(nx, ny, value, () => true);
  if (!whole) return null;
  const strength = Math.hypot(whole[0], whole[1]) / Math.max(1e-9, whole[2]);
  if (strength < LEAST_STRENGTH) return "even";
  const angleOf = ([x, y]: readonly number[]) => Math.atan2(y, x) / RAD;
  const angleDeg = angleOf(whole);
  const others = Array.from({ length: PARTS }, (_, p) => fit(nx, ny, value, (i) => part[i] !== p)).flatMap((f) => (f ? [f] : []));
  if (others.length < PARTS) return null;
  // the jackknife over parts, which materials and shadows of its own spoil as a whole
  const variance = others.reduce((s, o) => s + turn(angleOf(o), angleDeg) ** 2, 0) * ((PARTS - 1) / PARTS);
  const sigmaDeg = Math.hypot(Math.sqrt(variance), NEVER_SURER);
  return sigmaDeg > MOST_SIGMA ? null : { angleDeg, sigmaDeg, strength };
}

/** No outline tells it better, degrees. Measured on rendered things. */
const NEVER_SURER = 8;

/** How much brighter the side of an outline is that faces the light than the other, EV. @param strength of its light from one side over light from everywhere */
export const sidesEv = (strength: number): number => Math.log2((1 + strength) / Math.max(DARKEST_SIDE, 1 - strength));

/** The dark side of a thing gets at least that share of what the mean of its sides gets. Common practice, no source. */
const DARKEST_SIDE = 0.15;
/** Light from everywhere on what is upright, of that on the ground under an open sky: half of it, and as much again thrown back by the ground. Common practice, no source. */
const UPRIGHT = 0.7;

/**
 * How strong the light from one side would be along the outline of something matt where it stands: that of a plate whose light and shade on the ground are so far apart.
 * @returns light from one side over light from everywhere, as `outlineLight` tells it
 */
export function strengthThere(foot: Vector3, light: Pick<LightDirection, "azimuthDeg" | "elevationDeg">, ratioEv: number): number {
  const [x, y] = inPicture(foot, light);
  // on an outline that goes all around, what faces away gets nothing: the wave has half of the height, and a mean of a pi-th
  const direct = ((2 ** ratioEv - 1) / Math.max(0.05, Math.sin(light.elevationDeg * RAD))) * (Math.hypot(x, y) / UPRIGHT);
  return direct / 2 / (1 + direct / Math.PI);
}

/** Where the light of a plate comes from in the plane of the picture, as a thing that stands at a foot is seen; null where it comes along the view. */
export function lightInPicture(foot: Vector3, light: Pick<LightDirection, "azimuthDeg" | "elevationDeg">): number | null {
  const [x, y] = inPicture(foot, light);
  return Math.hypot(x, y) < ALONG_VIEW ? null : Math.atan2(y, x) / RAD;
}

/** What of a direction towards the light lies to the right and up, as a thing that stands at a foot is seen. */
function inPicture(foot: Vector3, { azimuthDeg, elevationDeg }: Pick<LightDirection, "azimuthDeg" | "elevationDeg">): [number, number] {
  const towards = directionOf(azimuthDeg, elevationDeg);
  const length = Math.hypot(foot[0], foot[2]);
  return [dot(towards, [foot[2] / length, 0, -foot[0] / length]), towards[1]];
}

/** How far a light that is seen from the side is taken to stand towards the camera as well, degrees. Common practice, no source. */
const TOWARDS_DEG = 25;

/** A light on the outline of a thing that stands at a foot as a direction in the world, as far as an outline tells it: what it cannot tell is taken to come from the camera's side. */
export function lightFromOutline(foot: Vector3, { angleDeg }: Pick<OutlineLight, "angleDeg">): { azimuthDeg: number; elevationDeg: number } {
  const [aside, near] = [Math.cos(TOWARDS_DEG * RAD), Math.sin(TOWARDS_DEG * RAD)];
  const [right, up] = [aside * Math.cos(angleDeg * RAD), aside * Math.sin(angleDeg * RAD)];
  const length = Math.hypot(foot[0], foot[2]) || 1;
  const [ax, az] = [foot[0] / length, foot[2] / length];
  return anglesOf([right * az - near * ax, up, -right * ax - near * az]);
}

/** Light of which so little lies in the plane of the picture tells no direction there. */
const ALONG_VIEW = 0.35;

/** The smaller turn from one direction to another, −180..180 degrees. */
export const turn = (from: number, to: number): number => ((((to - from) % 360) + 540) % 360) - 180;

/** Least squares of light = x·right + y·up + even light, with less weight for what misses; null where it cannot be solved. */
function fit(nx: readonly number[], ny: readonly number[], value: readonly number[], isIn: (i: number) => boolean): [number, number, number] | null {
  let weights: number[] = value.map((_, i) => (isIn(i) ? 1 : 0));
  let found: Float64Array | null = null;
  for (let step = 0; step < 4; step++) {
    const normal = new Float64Array(9);
    const right = new Float64Array(3);
    for (let i = 0; i < value.length; i++) {
      if (weights[i] === 0) continue;
      const row = [nx[i], ny[i], 1];
      for (let a = 0; a < 3; a++) {
        right[a] += weights[i] * row[a] * value[i];
        for (let b = 0; b < 3; b++) normal[3 * a + b] += weights[i] * row[a] * row[b];
      }
    }
    found = solveSymmetric(normal, right);
    if (!found || !found.every(Number.isFinite)) return null;
    const [x, y, even] = found;
    const misses = value.map((v, i) => Math.abs(v - x * nx[i] - y * ny[i] - even));
    const sorted = misses.filter((_, i) => isIn(i)).sort((a, b) => a - b);
    const scale = Math.max(1e-9, 1.4826 * (sorted[sorted.length >> 1] ?? 0));
    weights = misses.map((m, i) => (isIn(i) ? 1 / Math.max(1, m / (HUBER * scale)) : 0));
  }
  return found && [found[0], found[1], found[2]];
}

function centreOf(alpha: Float32Array, width: number, height: number): [number, number] {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const a = alpha[y * width + x];
      sum += a;
      sx += a * x;
      sy += a * y;
    }
  }
  return sum > 0 ? [sx / sum, sy / sum] : [0, 0];
}
