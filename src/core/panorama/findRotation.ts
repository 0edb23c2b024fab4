import { multiply, type Matrix3 } from "../geometry/matrix3";
import type { Size } from "../geometry/lens";
import type { Match } from "../register/features/matchFeatures";
import { solveSymmetric } from "../numeric/linearSystem";
import { cross, localRay, orthonormal, pixelOf, rotationAbout, transpose, unit, type Camera, type Vector3 } from "./camera";

/** A turn from one frame to another that many matches agree on. */
export interface Turn {
  /** axes of b → axes of a */
  rotation: Matrix3;
  /** indices of the matches that agree */
  agreeing: number[];
}

/** What a lens is taken to be while nothing is known: square px, centred. */
export const plainCamera = (size: Size, focalPx: number, k1 = 0): Camera => ({
  width: size.width,
  height: size.height,
  rotation: [1, 0, 0, 0, 1, 0, 0, 0, 1],
  focalPx,
  k1,
  k2: 0,
  shiftX: 0,
  shiftY: 0,
});

/** Three axes from a place and a direction in the picture. */
function axesAt(c: Camera, x: number, y: number, angle: number): Matrix3 {
  const z = localRay(c, x, y);
  const step = c.focalPx * 0.01;
  const ahead = localRay(c, x + step * Math.cos(angle), y + step * Math.sin(angle));
  const along = ahead[0] * z[0] + ahead[1] * z[1] + ahead[2] * z[2];
  const u = unit([ahead[0] - along * z[0], ahead[1] - along * z[1], ahead[2] - along * z[2]]);
  const v = cross(z, u);
  return [u[0], v[0], z[0], u[1], v[1], z[1], u[2], v[2], z[2]];
}

/**
 * The rotation that brings unit vectors b onto a, least squares, by Gauss-Newton from a start that is some degrees off at most.
 * @param of the pairs that count
 */
export function alignVectors(rays: Rays[], of: number[], start: Matrix3): Matrix3 {
  let rotation = start;
  for (let pass = 0; pass < 3; pass++) {
    const m = rotation;
    let [xx, xy, xz, yy, yz, zz] = [1e-12, 0, 0, 1e-12, 0, 1e-12];
    let [rx, ry, rz] = [0, 0, 0];
    for (const i of of) {
      const { a, b } = rays[i];
      const x = m[0] * b[0] + m[1] * b[1] + m[2] * b[2];
      const y = m[3] * b[0] + m[4] * b[1] + m[5] * b[2];
      const z = m[6] * b[0] + m[7] * b[1] + m[8] * b[2];
      xx += y * y + z * z;
      yy += x * x + z * z;
      zz += x * x + y * y;
      xy -= x * y;
      xz -= x * z;
      yz -= y * z;
      rx += y * a[2] - z * a[1];
      ry += z * a[0] - x * a[2];
      rz += x * a[1] - y * a[0];
    }
    const step = solveSymmetric([xx, xy, xz, xy, yy, yz, xz, yz, zz], [rx, ry, rz]);
    if (!step) break;
    rotation = multiply(rotationAbout(step[0], step[1], step[2]), rotation);
  }
  return orthonormal(rotation);
}

const TRIES = 60;

/**
 * The turn that most matches agree on. A match knows place and direction on both sides, so each is a guess of the whole turn.
 * The same matches always give the same turn. @param limitPx of frame b at which a match agrees
 * @see Fischler and Bolles 1981 (consensus)
 */
export function findTurn(matches: Match[], a: Camera, b: Camera, limitPx: number): Turn | null {
  if (matches.length < 4) return null;
  const rays = matches.map((m) => ({ a: localRay(a, m.a.x, m.a.y), b: localRay(b, m.b.x, m.b.y) }));
  // chords between unit vectors, for the loose test
  const loose = ((4 * limitPx) / b.focalPx) ** 2;
  let best: Matrix3 | null = null;
  let top = 3;
  for (const m of matches.slice(0, TRIES)) {
    const guess = multiply(axesAt(a, m.a.x, m.a.y, m.a.angle), transpose(axesAt(b, m.b.x, m.b.y, m.b.angle)));
    // a direction is known to some degrees only, so two looser rounds
    const refined = widen(guess, rays, loose * 36) ?? guess;
    const close = widen(refined, rays, loose * 4) ?? refined;
    const votes = near(close, rays, loose).length;
    if (votes > top) {
      top = votes;
      best = close;
    }
  }
  if (!best) return null;
  let rotation = best;
  let agreeing: number[] = [];
  for (const factor of [4, 2, 1, 1, 1]) {
    agreeing = agreeingWith(rotation, matches, rays, b, limitPx * factor);
    if (agreeing.length < 4) return null;
    rotation = alignVectors(rays, agreeing, rotation);
  }
  return { rotation, agreeing };
}

/** The turn that places seen in both frames say, axes of b → axes of a; null where two of them lie in one direction. */
export function turnOfTies(ties: { x: number; y: number; u: number; v: number }[], a: Camera, b: Camera): Matrix3 | null {
  const rays = ties.map((t) => ({ a: localRay(a, t.x, t.y), b: localRay(b, t.u, t.v) }));
  // axes from the two places that are farthest apart
  let [p, q, most] = [0, 0, 0];
  rays.forEach((r, i) =>
    rays.slice(0, i).forEach((s, j) => {
      const apart = Math.hypot(...cross(r.a, s.a));
      if (apart > most) [p, q, most] = [i, j, apart];
    }),
  );
  if (most < 0.01) return null;
  const axes = (first: Vector3, second: Vector3): Matrix3 => {
    const n = unit(cross(first, second));
    const m = cross(n, first);
    return [first[0], n[0], m[0], first[1], n[1], m[1], first[2], n[2], m[2]];
  };
  const start = multiply(axes(rays[p].a, rays[q].a), transpose(axes(rays[p].b, rays[q].b)));
  return alignVectors(
    rays,
    rays.map((_, i) => i),
    start,
  );
}

interface Rays {
  a: Vector3;
  b: Vector3;
}

function near(m: Matrix3, rays: Rays[], limit2: number): number[] {
  const found: number[] = [];
  for (let i = 0; i < rays.length; i++) {
    const { a, b } = rays[i];
    const x = m[0] * b[0] + m[1] * b[1] + m[2] * b[2] - a[0];
    const y = m[3] * b[0] + m[4] * b[1] + m[5] * b[2] - a[1];
    const z = m[6] * b[0] + m[7] * b[1] + m[8] * b[2] - a[2];
    if (x * x + y * y + z * z < limit2) found.push(i);
  }
  return found;
}

function widen(m: Matrix3, rays: Rays[], limit2: number): Matrix3 | null {
  const of = near(m, rays, limit2);
  return of.length < 4 ? null : alignVectors(rays, of, m);
}

/** Matches whose place in b is where the turn says, px. */
function agreeingWith(rotation: Matrix3, matches: Match[], rays: Rays[], b: Camera, limitPx: number): number[] {
  // the world is the axes of a
  const turned = { ...b, rotation };
  const found: number[] = [];
  matches.forEach((m, i) => {
    const p = pixelOf(turned, rays[i].a);
    if (p && Math.hypot(p[0] - m.b.x, p[1] - m.b.y) < limitPx) found.push(i);
  });
  return found;
}
