import { atLevel, invert, multiply, type Matrix3 } from "../geometry/matrix3";
import { intersect, type Rectangle } from "../geometry/rectangle";
import { cross, dot, unit, type Vector3 } from "../panorama/camera";
import { boundsOf as boundsOfSurface, type Scenery, type Shown } from "./scenery";
import { rayOf, standing, withinPx, type Body, type Ray, type Standing } from "./standing";

/** Directions that stand for a source: rows and columns of them. */
const SIDE = 8;
/** Directions of it that a coarse level takes, at least. */
const FEWEST = 16;
/** Of these the first are asked alone: where they agree the others do. */
const FIRST = 12;

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

/** What is near enough to be in another direction from each place: places spread evenly over it, metres. */
export interface NearSource {
  places: readonly Vector3[];
}

/** Places of a lamp as something sees it. @param at its middle @param radius of it, metres @param from where that stands */
export function lampPlaces(at: Vector3, radius: number, from: Vector3): NearSource {
  const towards = unit([at[0] - from[0], at[1] - from[1], at[2] - from[2]]);
  const across = unit(cross(towards, Math.abs(towards[1]) < 0.99 ? [0, 1, 0] : [1, 0, 0]));
  const up = cross(across, towards);
  return {
    places: spread((r, angle) => {
      const [a, b] = [radius * r * Math.cos(angle), radius * r * Math.sin(angle)];
      return [0, 1, 2].map((k) => at[k] + a * across[k] + b * up[k]) as Vector3;
    }),
  };
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
 * How much of a source something hides from each px of the ground and of the surfaces on it, 0..1; 0 in the sky. The thing is upright, faces the camera, and each of its limbs has an
 * elliptic section; it stands with its front at its foot. A surface that faces away from a direction gets none of it anyway.
 * @param foot where it stands, on whatever is level there @param source directions towards it, which share it evenly, those that lie far apart first; or its places, where it is near @param level display level @param rect at that level
 */
export function castShadow(scenery: Scenery, foot: Vector3, body: Body, source: readonly Vector3[] | NearSource, level: number, rect: Rectangle): Float32Array {
  const near = "places" in source;
  const all = near ? source.places : source;
  // a sample of a coarse level is as smooth by fewer
  const directions = all.slice(0, Math.max(FEWEST, all.length >> level));
  const out = new Float32Array(rect.width * rect.height);
  const { camera } = scenery;
  const stood = standing(camera, foot, body);
  const rays = !stood ? [] : near ? directions.map((place, k) => raysFrom(stood, place, k)) : directions.flatMap((d, k) => rayOf(stood, d, k) ?? []);
  if (!stood || rays.length === 0) return out;
  const scale = 2 ** level;
  const within = boundsOf(scenery, stood, rays, level, rect);
  if (within.width === 0) return out;
  const hasSurfaces = scenery.stood.length > 0;
  // rays of px are linear in them
  const [first, beside, below] = [camera.rayOf(0, 0), camera.rayOf(1, 0), camera.rayOf(0, 1)];
  const [ix, iy, iz] = [0, 1, 2].map((k) => beside[k] - first[k]);
  const [jx, jy, jz] = [0, 1, 2].map((k) => below[k] - first[k]);
  const pxOf = (levelAt: number) => (levelAt + 0.5) * scale - 0.5;
  /** The surface at a place of a level; null: the ground. */
  const surfaceAt = (levelX: number, levelY: number): Shown["stood"] => (hasSurfaces ? (scenery.at(pxOf(levelX), pxOf(levelY))?.stood ?? null) : null);
  /** Across, away and up from the base, where a px shows the ground, or a surface as far as that reaches. */
  const groundAt = (levelX: number, levelY: number, on: Shown["stood"]): [number, number, number] | null => {
    const [px, py] = [pxOf(levelX), pxOf(levelY)];
    const [rx, ry, rz] = [first[0] + px * ix + py * jx, first[1] + px * iy + py * jy, first[2] + px * iz + py * jz];
    const t = on ? (on.offset - on.normal[1] * camera.heightM) / (on.normal[0] * rx + on.normal[1] * ry + on.normal[2] * rz) : -camera.heightM / ry;
    if (!(t > 0)) return null;
    const [dx, dz] = [t * rx - stood.base[0], t * rz - stood.base[2]];
    return [dx * stood.across[0] + dz * stood.across[2], dx * stood.away[0] + dz * stood.away[2], (on ? camera.heightM + t * ry : 0) - stood.base[1]];
  };
  const hidden = (levelX: number, levelY: number): number => {
    const on = surfaceAt(levelX, levelY);
    const [at, beside, below] = [groundAt(levelX, levelY, on), groundAt(levelX + 0.5, levelY, on), groundAt(levelX, levelY + 0.5, on)];
    if (!at || !beside || !below) return 0;
    let sum = 0;
    let k = 0;
    for (; k < rays.length; k++) {
      if (k === FIRST && (sum === 0 || sum === FIRST)) break;
      const ray = rays[k];
      // what faces away gets nothing of it that could be taken
      if (on && !near && dot(on.normal, ray.towards) <= 0) continue;
      // each direction from another place of the px: its border is as smooth as the px is large
      const right = 2 * ray.within[0];
      const down = 2 * ray.within[1];
      const u = at[0] + right * (beside[0] - at[0]) + down * (below[0] - at[0]);
      const n = at[1] + right * (beside[1] - at[1]) + down * (below[1] - at[1]);
      const y = at[2] + right * (beside[2] - at[2]) + down * (below[2] - at[2]);
      if (near && !aim(ray, u, n, y)) continue;
      sum += stood.hides(ray, u - ray.cu * y, n - ray.cn * y, y);
    }
    // directions under the ground hide nothing
    return (sum / k) * (rays.length / directions.length);
  };

  const sun = !near && isDisc(directions) ? middleOf(stood, directions) : null;
  // the sky's shade has no borders: what lies between places is as they are
  const apart = sun || near ? Math.max(1, Math.min(MOST_APART, Math.floor(stood.thinPx / scale))) : Math.max(SKY_APART / 2, Math.floor(SKY_APART / scale));
  const even = sun || near ? EVEN : SKY_EVEN;
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
    if (!sun) return false;
    const levelled = [
      [x0 + CELL / 2, y0 + CELL / 2],
      [x0 - 1, y0 - 1],
      [x0 + CELL + 1, y0 - 1],
      [x0 - 1, y0 + CELL + 1],
      [x0 + CELL + 1, y0 + CELL + 1],
    ].map(([x, y]) => groundAt(x, y, surfaceAt(x, y)));
    if (levelled.includes(null)) return false;
    // each where the ray through it is level with the foot
    const { cu, cn } = sun.ray;
    const at = levelled.map((p) => [p![0] - cu * p![2], p![1] - cn * p![2], p![2]]);
    const from = Math.min(...at.map((p) => p[2]));
    const reach = at.reduce((most, p) => Math.max(most, Math.hypot(p[0] - at[0][0], p[1] - at[0][1])), 0);
    return stood!.clears(sun.ray, at[0][0], at[0][1], from, reach, sun.spread);
  }
}

/** A ray to a place of a lamp, which is aimed from each place of the ground; it ends there. Across, away and up from the base. */
function raysFrom(stood: Standing, place: Vector3, k: number): Ray {
  const [dx, dy, dz] = [place[0] - stood.base[0], place[1] - stood.base[1], place[2] - stood.base[2]];
  const across = dx * stood.across[0] + dz * stood.across[2];
  const away = dx * stood.away[0] + dz * stood.away[2];
  return { towards: [across, dy, away], cu: 0, cn: 0, within: withinPx(k), to: dy };
}

/** Aims a ray at its end. @returns false where that lies no higher than the place, and so throws no shadow there */
function aim(ray: Ray, u: number, n: number, y: number): boolean {
  const rise = ray.towards[1] - y;
  if (rise <= 1e-3) return false;
  ray.cu = (ray.towards[0] - u) / rise;
  ray.cn = (ray.towards[2] - n) / rise;
  return true;
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

/** What of a rectangle a shadow can reach, counted from its corner: where each direction throws the corners of what is there, and all surfaces. */
function boundsOf(scenery: Scenery, stood: Standing, rays: readonly Ray[], level: number, rect: Rectangle): Rectangle {
  const none = { x: 0, y: 0, width: 0, height: 0 };
  const { base, across, away, box, deepM } = stood;
  const surfaces = scenery.stood.map(boundsOfSurface);
  let [left, top] = [Math.min(Infinity, ...surfaces.map((r) => r.x)), Math.min(Infinity, ...surfaces.map((r) => r.y))];
  let [right, bottom] = [Math.max(-Infinity, ...surfaces.map((r) => r.x + r.width)), Math.max(-Infinity, ...surfaces.map((r) => r.y + r.height))];
  for (const ray of rays) {
    for (const u of [box.left, box.right]) {
      for (const y of [0, box.top]) {
        for (const z of [-deepM, deepM]) {
          // from under a lamp, shadows may fall anywhere
          if (ray.to !== undefined && !aim(ray, u, z, y)) return { x: 0, y: 0, width: rect.width, height: rect.height };
          // onto the ground, which may lie under what it stands on
          const fall = y + base[1];
          const [du, dn] = [u - fall * ray.cu, z - fall * ray.cn];
          const at = scenery.camera.pixelOf([base[0] + du * across[0] + dn * away[0], 0, base[2] + du * across[2] + dn * away[2]]);
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

/** Px of a plate → samples of a rectangle of a level of something that is placed on it. @param toPlate px of the thing → px of the plate, at full size */
export function samplesOf(toPlate: Matrix3, level: number, rect: Rectangle): Matrix3 {
  const toLevel = atLevel(invert(toPlate), 0, level);
  return multiply([1, 0, -rect.x, 0, 1, -rect.y, 0, 0, 1], toLevel);
}
