import { solveSymmetric } from "../numeric/linearSystem";
import { dot, unit, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";
import { anglesOf, type LightDirection } from "./lightFromShadows";

/** What of a ball's radius is looked at: its rim mixes with what is behind it. */
const WITHIN = 0.94;
/** Places that are looked at, at most along a side, and in all at least. */
const SIDE = 96;
const FEWEST = 120;
/** Parts of which each is left out in turn. */
const PARTS = 10;
/** Light from one side over light from everywhere, below which there is no side. */
const LEAST_STRENGTH = 0.25;
/** A direction that is less sure than that tells nothing; none is surer than the other, degrees. Common practice, no source. */
const MOST_SIGMA = 25;
const NEVER_SURER = 3;
/** Misses beyond this count less, of what is left. */
const HUBER = 1.5;
const PASSES = 12;

/** Normals of places of a ball, in the world, and how bright each is. */
interface Shaded {
  normals: Vector3[];
  light: number[];
  part: number[];
}

/**
 * Towards the light by the shading of a ball: matt, of one colour, lit from one side and evenly. Stains and glints count less.
 * @param middle px of the plate @param radius px @param lightAt linear luminance of a px
 * @returns "even" where no side of it is lit, null where it does not tell
 */
export function ballLight(
  camera: GroundCamera,
  middle: readonly [number, number],
  radius: number,
  lightAt: (x: number, y: number) => number,
): LightDirection | "even" | null {
  const all = shadedOf(camera, middle, radius, lightAt);
  if (all.light.length < FEWEST) return null;
  const whole = fit(all, () => true);
  if (!whole) return null;
  const side = Math.hypot(...whole.side);
  if (side < LEAST_STRENGTH * Math.max(1e-9, whole.even)) return "even";
  const direction = unit(whole.side);
  const others = Array.from({ length: PARTS }, (_, p) => fit(all, (i) => all.part[i] !== p)).flatMap((f) => (f ? [unit(f.side)] : []));
  if (others.length < PARTS) return null;
  const variance = others.reduce((sum, o) => sum + Math.acos(Math.min(1, dot(o, direction))) ** 2, 0) * ((PARTS - 1) / PARTS);
  const sigmaDeg = Math.hypot((Math.sqrt(variance) * 180) / Math.PI, NEVER_SURER);
  const towards = anglesOf(direction);
  return sigmaDeg > MOST_SIGMA || towards.elevationDeg <= 0 ? null : { ...towards, sigmaDeg };
}

function shadedOf(camera: GroundCamera, [cx, cy]: readonly [number, number], radius: number, lightAt: (x: number, y: number) => number): Shaded {
  const out: Shaded = { normals: [], light: [], part: [] };
  // axes of the view of its middle: to the right and down as the picture has them, and towards the camera
  const ahead = unit(camera.rayOf(cx, cy));
  const [beside, under] = [camera.rayOf(cx + 1, cy), camera.rayOf(cx, cy + 1)].map((ray) => unit(ray));
  const right = unit(minus(beside, ahead, dot(beside, ahead)));
  const level = minus(under, ahead, dot(under, ahead));
  const down = unit(minus(level, right, dot(level, right)));
  const step = Math.max(1, (2 * radius) / SIDE);
  for (let y = cy - radius; y <= cy + radius; y += step) {
    for (let x = cx - radius; x <= cx + radius; x += step) {
      const [u, v] = [(x - cx) / radius, (y - cy) / radius];
      const r2 = u * u + v * v;
      if (r2 > WITHIN * WITHIN) continue;
      const w = Math.sqrt(1 - r2);
      out.normals.push([0, 1, 2].map((k) => u * right[k] + v * down[k] - w * ahead[k]) as Vector3);
      out.light.push(lightAt(x, y));
      out.part.push(Math.floor(((Math.atan2(v, u) / Math.PI + 1) / 2) * PARTS) % PARTS);
    }
  }
  return out;
}

const minus = (a: Vector3, b: Vector3, by: number): Vector3 => [a[0] - by * b[0], a[1] - by * b[1], a[2] - by * b[2]];

/** Least squares of light = max(0, normal · side) + even: which places face the side is settled by the fit before. */
function fit({ normals, light }: Shaded, isIn: (i: number) => boolean): { side: Vector3; even: number } | null {
  let weights: number[] = light.map((_, i) => (isIn(i) ? 1 : 0));
  let side: Vector3 | null = null;
  let even = 0;
  for (let pass = 0; pass < PASSES; pass++) {
    const [normal, right] = [new Float64Array(16), new Float64Array(4)];
    for (let i = 0; i < light.length; i++) {
      if (weights[i] === 0) continue;
      const faces = side === null || dot(normals[i], side) > 0;
      const row = faces ? [...normals[i], 1] : [0, 0, 0, 1];
      for (let a = 0; a < 4; a++) {
        right[a] += weights[i] * row[a] * light[i];
        for (let b = 0; b < 4; b++) normal[4 * a + b] += weights[i] * row[a] * row[b];
      }
    }
    const found = solveSymmetric(normal, right);
    if (!found || !found.every(Number.isFinite)) return null;
    side = [found[0], found[1], found[2]];
    even = found[3];
    const towards = side;
    // nothing faces a side that is none
    if (Math.hypot(...towards) < LEAST_STRENGTH * Math.max(0, even)) break;
    const misses = light.map((v, i) => Math.abs(v - Math.max(0, dot(normals[i], towards)) - even));
    const sorted = misses.filter((_, i) => isIn(i)).sort((a, b) => a - b);
    const scale = Math.max(1e-9, 1.4826 * (sorted[sorted.length >> 1] ?? 0));
    weights = misses.map((m, i) => (isIn(i) ? 1 / Math.max(1, m / (HUBER * scale)) : 0));
  }
  return side && { side, even };
}
