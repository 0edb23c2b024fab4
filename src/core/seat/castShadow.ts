import { atLevel, invert, multiply, project, type Matrix3 } from "../geometry/matrix3";
import { intersect, type Rectangle } from "../geometry/rectangle";
import { cross, unit, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";
import type { Volume } from "./volume";

/** What stands on the ground and takes light away: how much of each px it covers, 0..1, as it is seen in the plate. */
export interface Body {
  alpha: Float32Array;
  width: number;
  height: number;
  /** the samples in which something is; null: none */
  extent: Rectangle | null;
  /** what of it goes back from there; see `volumeOf` */
  volume: Volume;
  /** px of the plate → samples of alpha */
  toSamples: Matrix3;
  /** how deep it is, as a share of how wide each limb of it is: 1 is round */
  depth: number;
}

/** Directions that stand for a source: rows and columns of them. */
const SIDE = 8;
/** Directions of it that a coarse level takes, at least. */
const FEWEST = 16;
/** Of these the first are asked alone: where they agree the others do. */
const FIRST = 12;
/** Light lower than this throws no shadow that ends, radians. */
const LOWEST = 0.01;

/** Directions spread evenly over the disc of a source, those that lie far apart first. @param widthDeg as seen from the ground @see Shirley and Chiu 1997, the concentric map */
export function discDirections(towards: Vector3, widthDeg: number): Vector3[] {
  const radius = Math.tan((widthDeg * Math.PI) / 360);
  const across = unit(cross(towards, Math.abs(towards[1]) < 0.99 ? [0, 1, 0] : [1, 0, 0]));
  const up = cross(across, towards);
  return spread((r, angle) => {
    const [a, b] = [radius * r * Math.cos(angle), radius * r * Math.sin(angle)];
    return unit([0, 1, 2].map((k) => towards[k] + a * across[k] + b * up[k]) as Vector3);
  });
}

/** Directions of an even sky, as often as it lights level ground from there. */
export const skyDirections = (): Vector3[] => spread((r, angle) => [r * Math.cos(angle), Math.sqrt(1 - r * r), r * Math.sin(angle)]);

/** Places of a disc of radius 1 in equal areas, shuffled so that a few of the first lie all over it. */
function spread(at: (r: number, angle: number) => Vector3): Vector3[] {
  const count = SIDE * SIDE;
  return Array.from({ length: count }, (_, i) => {
    // 29 and 64 have no common factor
    const k = (i * 29) % count;
    const [a, b] = [(2 * ((k % SIDE) + 0.5)) / SIDE - 1, (2 * (Math.floor(k / SIDE) + 0.5)) / SIDE - 1];
    const [r, angle] = Math.abs(a) > Math.abs(b) ? [a, (Math.PI / 4) * (b / a)] : [b, Math.PI / 2 - (Math.PI / 4) * (a / b)];
    return at(Math.abs(r), r < 0 ? angle + Math.PI : angle);
  });
}

/**
 * How much of a source something hides from each px of the ground, 0..1; 0 where there is no ground. The thing is upright, faces the camera, and each of its limbs has an elliptic
 * section; it stands on the ground with its front at its foot.
 * @param foot where it stands @param all directions towards the source, which share it evenly, those that lie far apart first @param level display level @param rect at that level
 */
export function castShadow(camera: GroundCamera, foot: Vector3, body: Body, all: readonly Vector3[], level: number, rect: Rectangle): Float32Array {
  // a sample of a coarse level is as smooth by fewer
  const directions = all.slice(0, Math.max(FEWEST, all.length >> level));
  const out = new Float32Array(rect.width * rect.height);
  const stood = standing(camera, foot, body);
  const rays = stood ? directions.flatMap((d, k) => rayOf(stood, d, k) ?? []) : [];
  if (!stood || rays.length === 0) return out;
  const scale = 2 ** level;
  const within = boundsOf(camera, stood, rays, level, rect);
  if (within.width === 0) return out;
  // rays of px are linear in them
  const [first, beside, below] = [camera.rayOf(0, 0), camera.rayOf(1, 0), camera.rayOf(0, 1)];
  const [ix, iy, iz] = [0, 1, 2].map((k) => beside[k] - first[k]);
  const [jx, jy, jz] = [0, 1, 2].map((k) => below[k] - first[k]);
  const groundAt = (levelX: number, levelY: number): [number, number] | null => {
    const [px, py] = [(levelX + 0.5) * scale - 0.5, (levelY + 0.5) * scale - 0.5];
    const t = -camera.heightM / (first[1] + px * iy + py * jy);
    if (!(t > 0)) return null;
    const [dx, dz] = [t * (first[0] + px * ix + py * jx) - stood.base[0], t * (first[2] + px * iz + py * jz) - stood.base[2]];
    return [dx * stood.across[0] + dz * stood.across[2], dx * stood.away[0] + dz * stood.away[2]];
  };
  const hidden = (levelX: number, levelY: number): number => {
    const [at, beside, below] = [groundAt(levelX, levelY), groundAt(levelX + 0.5, levelY), groundAt(levelX, levelY + 0.5)];
    if (!at || !beside || !below) return 0;
    let sum = 0;
    let k = 0;
    for (; k < rays.length; k++) {
      if (k === FIRST && (sum === 0 || sum === FIRST)) break;
      // each direction from another place of the px: its border is as smooth as the px is large
      const right = 2 * rays[k].within[0];
      const down = 2 * rays[k].within[1];
      const u = at[0] + right * (beside[0] - at[0]) + down * (below[0] - at[0]);
      const n = at[1] + right * (beside[1] - at[1]) + down * (below[1] - at[1]);
      sum += stood.hides(rays[k], u, n);
    }
    // directions under the ground hide nothing
    return (sum / k) * (rays.length / directions.length);
  };

  const sun = isDisc(directions) ? middleOf(stood, directions) : null;
  // the sky's shade has no borders: what lies between places is as they are
  const apart = sun ? Math.max(1, Math.min(MOST_APART, Math.floor(stood.thinPx / scale))) : Math.max(SKY_APART / 2, Math.floor(SKY_APART / scale));
  const even = sun ? EVEN : SKY_EVEN;
  const grid = new Map<number, number>();
  const columns = Math.ceil((rect.x + rect.width) / apart) + 2;
  const corner = (i: number, j: number): number => {
    const key = j * columns + i;
    const known = grid.get(key);
    if (known !== undefined) return known;
    const made = hidden(i * apart, j * apart);
    grid.set(key, made);
    return made;
  };
  const [right, bottom] = [rect.x + within.x + within.width, rect.y + within.y + within.height];
  for (let y0 = Math.floor((rect.y + within.y) / CELL) * CELL; y0 < bottom; y0 += CELL) {
    for (let x0 = Math.floor((rect.x + within.x) / CELL) * CELL; x0 < right; x0 += CELL) {
      if (sun && isClear(x0, y0)) continue;
      for (let y = Math.max(y0, rect.y + within.y); y < Math.min(y0 + CELL, bottom); y++) {
        const j = Math.floor(y / apart);
        const v = y / apart - j;
        for (let x = Math.max(x0, rect.x + within.x); x < Math.min(x0 + CELL, right); x++) {
          const i = Math.floor(x / apart);
          const u = x / apart - i;
          const a = corner(i, j);
          const b = corner(i + 1, j);
          const c = corner(i, j + 1);
          const d = corner(i + 1, j + 1);
          const isEven = Math.max(a, b, c, d) - Math.min(a, b, c, d) < even;
          out[(y - rect.y) * rect.width + x - rect.x] = isEven ? (a * (1 - u) + b * u) * (1 - v) + (c * (1 - u) + d * u) * v : hidden(x, y);
        }
      }
    }
  }
  return out;

  /** Whether nothing stands between any place of a cell and any of the source. */
  function isClear(x0: number, y0: number): boolean {
    const middle = groundAt(x0 + CELL / 2, y0 + CELL / 2);
    const ends = [groundAt(x0 - 1, y0 - 1), groundAt(x0 + CELL + 1, y0 - 1), groundAt(x0 - 1, y0 + CELL + 1), groundAt(x0 + CELL + 1, y0 + CELL + 1)];
    if (!middle || !sun || ends.some((e) => e === null)) return false;
    const reach = ends.reduce((most, e) => Math.max(most, Math.hypot(e![0] - middle[0], e![1] - middle[1])), 0);
    return stood!.clears(sun.ray, middle[0], middle[1], reach, sun.spread);
  }
}

/** Px between places that are looked at first, at most, and the difference up to which what lies between them is taken from them; the same for the sky's shade. */
const [MOST_APART, EVEN] = [4, 0.12];
const [SKY_APART, SKY_EVEN] = [16, 0.15];
/** Side of the cells that are looked at as one, px of a level. */
const CELL = 8;
/** Directions within that of each other, cosine, are those of a disc. */
const DISC = Math.cos(Math.PI / 5);

const isDisc = (directions: readonly Vector3[]): boolean =>
  directions.every((d) => d[0] * directions[0][0] + d[1] * directions[0][1] + d[2] * directions[0][2] > DISC);

/** The direction in the middle of a source, and how far others stray from it on each metre that it rises; null where it does not rise. */
function middleOf(stood: Standing, directions: readonly Vector3[]): { ray: Ray; spread: number } | null {
  const middle = unit([0, 1, 2].map((k) => directions.reduce((s, d) => s + d[k], 0)) as Vector3);
  const ray = rayOf(stood, middle, 0);
  const others = directions.map((d, k) => rayOf(stood, d, k));
  if (!ray || others.includes(null)) return null;
  return { ray, spread: others.reduce((most, o) => Math.max(most, Math.hypot(o!.cu - ray.cu, o!.cn - ray.cn)), 0) };
}

/** What of a rectangle a shadow can reach, counted from its corner: where each direction throws the corners of what is there. */
function boundsOf(camera: GroundCamera, stood: Standing, rays: readonly Ray[], level: number, rect: Rectangle): Rectangle {
  const none = { x: 0, y: 0, width: 0, height: 0 };
  const { base, across, away, box, deepM } = stood;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { cu, cn } of rays) {
    for (const u of [box.left, box.right]) {
      for (const y of [0, box.top]) {
        for (const z of [-deepM, deepM]) {
          const [du, dn] = [u - y * cu, z - y * cn];
          const at = camera.pixelOf([base[0] + du * across[0] + dn * away[0], 0, base[2] + du * across[2] + dn * away[2]]);
          // what falls behind the camera may pass anywhere
          if (!at) return { x: 0, y: 0, width: rect.width, height: rect.height };
          [left, top] = [Math.min(left, at[0]), Math.min(top, at[1])];
          [right, bottom] = [Math.max(right, at[0]), Math.max(bottom, at[1])];
        }
      }
    }
  }
  const s = 2 ** level;
  const reached = {
    x: Math.floor(left / s) - 1,
    y: Math.floor(top / s) - 1,
    width: Math.ceil((right - left) / s) + 3,
    height: Math.ceil((bottom - top) / s) + 3,
  };
  const { x, y, width: w, height: h } = intersect(reached, rect);
  return w > 0 && h > 0 ? { x: x - rect.x, y: y - rect.y, width: w, height: h } : none;
}

/** A direction of light: how far it goes across the body and away from the camera on each metre that it rises. */
interface Ray {
  cu: number;
  cn: number;
  /** where in a px it is followed from, −½..½ */
  within: [number, number];
}

/** Shares of the golden ratio's plane sibling, which spread evenly however many are taken. @see Roberts 2018, "The unreasonable effectiveness of quasirandom sequences" */
const SPREAD = [0.7548776662466927, 0.5698402909980532];

function rayOf({ across, away }: Standing, [x, y, z]: Vector3, k: number): Ray | null {
  if (y <= LOWEST) return null;
  const within = SPREAD.map((by) => ((0.5 + by * (k + 1)) % 1) - 0.5) as [number, number];
  return { cu: (x * across[0] + z * across[2]) / y, cn: (x * away[0] + z * away[2]) / y, within };
}

/** A body where it stands: its plane faces the camera, half of its depth behind its foot. Metres. */
interface Standing {
  /** where its plane meets the ground, under the foot */
  base: Vector3;
  /** level, to the right and away from the camera */
  across: Vector3;
  away: Vector3;
  /** what of its plane something is in, from the base */
  box: { left: number; right: number; top: number };
  /** half of its greatest depth; and of the width of its thin limbs, as px of the ground show it */
  deepM: number;
  thinPx: number;
  /** how much of a ray from a place on the ground it takes, 0..1 @param u across @param back away from the base */
  hides: (ray: Ray, u: number, back: number) => number;
  /** whether a cone about a ray passes it: as wide as `reach` on the ground, and that much wider on each metre that it rises */
  clears: (ray: Ray, u: number, back: number, reach: number, spread: number) => boolean;
}

function standing(camera: GroundCamera, foot: Vector3, body: Body): Standing | null {
  const { extent, volume, width, height, alpha, depth } = body;
  if (!extent) return null;
  const across = acrossOf(foot);
  const away: Vector3 = [-across[2], 0, across[0]];
  const distance = Math.hypot(foot[0], foot[2]);
  // samples of the plane through the foot: a little behind it they are hardly smaller
  const plane = bodyPlane(camera, foot, across, body);
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = plane;
  const perSample = 0.01 / Math.max(1e-9, Math.hypot(...sub(project(plane, 0.01, 0), project(plane, 0, 0))));
  const inverse = invert(plane);
  const ends = [extent.x - 1, extent.x + extent.width].flatMap((x) => [extent.y - 1, extent.y + extent.height].map((y) => project(inverse, x, y)));
  const box = { left: Math.min(...ends.map((p) => p[0])), right: Math.max(...ends.map((p) => p[0])), top: Math.max(...ends.map((p) => p[1])) };
  const deepM = Math.max(perSample / 2, volume.deepest * perSample * depth);
  const back = volume.standsDeep * perSample * depth;
  const base: Vector3 = [foot[0] + back * away[0], 0, foot[2] + back * away[2]];
  const hides = ({ cu, cn }: Ray, u0: number, n0: number): number => {
    // no pairs in here: it is called millions of times before it is compiled well
    let low = 0;
    let high = box.top;
    // where the ray is within the depth, and within the width, of the whole
    if (Math.abs(cn) > 1e-9) {
      const a = (-deepM - n0) / cn;
      const b = (deepM - n0) / cn;
      low = Math.max(low, Math.min(a, b));
      high = Math.min(high, Math.max(a, b));
    } else if (Math.abs(n0) > deepM) return 0;
    if (Math.abs(cu) > 1e-9) {
      const a = (box.left - u0) / cu;
      const b = (box.right - u0) / cu;
      low = Math.max(low, Math.min(a, b));
      high = Math.min(high, Math.max(a, b));
    } else if (u0 < box.left || u0 > box.right) return 0;
    // most that is hit is hit in the middle of its depth
    const through = Math.abs(cn) > 1e-9 ? -n0 / cn : -1;
    if (through >= low && through <= high) {
      const u = u0 + cu * through;
      const w = m6 * u + m7 * through + m8;
      const i = Math.round((m0 * u + m1 * through + m2) / w);
      const j = Math.round((m3 * u + m4 * through + m5) / w);
      if (i > 0 && j > 0 && i < width - 1 && j < height - 1) {
        const k = j * width + i;
        if (alpha[k] > SOLID && alpha[k - 1] > SOLID && alpha[k + 1] > SOLID && alpha[k - width] > SOLID && alpha[k + width] > SOLID) return 1;
      }
    }
    const least = perSample / Math.hypot(1, cu);
    let most = 0;
    for (let y = low; y < high;) {
      const u = u0 + cu * y;
      const w = m6 * u + m7 * y + m8;
      const px = (m0 * u + m1 * y + m2) / w;
      const py = (m3 * u + m4 * y + m5) / w;
      const i = Math.round(px);
      const j = Math.round(py);
      if (i < 0 || j < 0 || i >= width || j >= height) {
        y += least;
        continue;
      }
      const half = volume.half[j * width + i];
      if (half < 0) {
        y += least * Math.max(1, -half - 1);
        continue;
      }
      const beyond = Math.abs(n0 + cn * y) - Math.max(0.5, half) * perSample * depth;
      if (beyond <= 0) {
        // between samples linear, so that borders are
        const x1 = Math.min(width - 2, Math.max(0, Math.floor(px)));
        const y1 = Math.min(height - 2, Math.max(0, Math.floor(py)));
        const s = Math.min(1, Math.max(0, px - x1));
        const t = Math.min(1, Math.max(0, py - y1));
        const k = y1 * width + x1;
        most = Math.max(most, (alpha[k] * (1 - s) + alpha[k + 1] * s) * (1 - t) + (alpha[k + width] * (1 - s) + alpha[k + width + 1] * s) * t);
        if (most > SOLID) return 1;
        y += least;
      } else y += Math.max(least, (0.5 * beyond) / Math.max(1e-6, Math.abs(cn) + Math.abs(cu)));
    }
    return most;
  };
  const clears = ({ cu, cn }: Ray, u0: number, n0: number, reach: number, spread: number): boolean => {
    const speed = Math.hypot(1, cu, cn) + spread;
    for (let y = 0; y < box.top;) {
      const wide = reach + spread * y;
      const u = u0 + cu * y;
      const n = n0 + cn * y;
      // how far the ray is from all of it, at least
      const off = Math.max(Math.abs(n) - deepM, box.left - u, u - box.right);
      if (off > wide) {
        y += Math.max(perSample, off - wide) / speed;
        continue;
      }
      const w = m6 * u + m7 * y + m8;
      const i = Math.round((m0 * u + m1 * y + m2) / w);
      const j = Math.round((m3 * u + m4 * y + m5) / w);
      const half = i < 0 || j < 0 || i >= width || j >= height ? 0 : volume.half[j * width + i];
      const free = half < 0 ? (-half - 1) * perSample * NEARER : 0;
      if (free <= wide) return false;
      y += (free - wide + perSample) / speed;
    }
    return true;
  };
  // the ground is seen from above, and shorter than what stands on it
  const perMetre = (camera.stance.focalPx / distance) * Math.min(1, camera.heightM / distance);
  return { base, across, away, box, deepM, thinPx: volume.thin * perSample * Math.min(1, depth) * perMetre, hides, clears };
}

/** Alpha of what lets nothing through. */
const SOLID = 0.995;
/** A thing that leans back is nearer than it looks across its plane, at most by that share. */
const NEARER = 0.9;

const sub = (a: readonly number[], b: readonly number[]): [number, number] => [a[0] - b[0], a[1] - b[1]];

/** Level, to the right of the camera's view of a foot. */
function acrossOf([x, , z]: Vector3): Vector3 {
  const length = Math.hypot(x, z) || 1;
  return [z / length, 0, -x / length];
}

/** Places of the upright plane of a thing, metres to the right of its foot and over the ground → samples of what is there. */
function bodyPlane(camera: GroundCamera, foot: Vector3, across: Vector3, { toSamples }: Body): Matrix3 {
  const { stance, size, axesInCamera: axes } = camera;
  const local = (v: Vector3): Vector3 => [0, 1, 2].map((k) => v[0] * axes.right[k] + v[1] * axes.up[k] + v[2] * axes.ahead[k]) as Vector3;
  const [a, b, c] = [local(across), local([0, 1, 0]), local([foot[0], -camera.heightM, foot[2]])];
  const f = stance.focalPx;
  const intrinsic = [f, 0, (size.width - 1) / 2, 0, f, (size.height - 1) / 2, 0, 0, 1];
  return multiply(toSamples, multiply(intrinsic, [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]]));
}

/** Px of a plate → samples of a rectangle of a level of something that is placed on it. @param toPlate px of the thing → px of the plate, at full size */
export function samplesOf(toPlate: Matrix3, level: number, rect: Rectangle): Matrix3 {
  const toLevel = atLevel(invert(toPlate), 0, level);
  return multiply([1, 0, -rect.x, 0, 1, -rect.y, 0, 0, 1], toLevel);
}
