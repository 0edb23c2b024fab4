import { project, type Matrix3 } from "../../geometry/matrix3";
import { distort, type Lens, type Size } from "../../geometry/lens";
import { fitModel, type Correspondence, type MotionModel } from "../models";
import type { Match } from "./matchFeatures";

export interface MatchedMap {
  /** a → undistorted b */
  matrix: Matrix3;
  /** lens of b where the matches say that it differs */
  lens: Lens | null;
  /** matches that agree with it */
  support: number;
}

/**
 * Maps that many matches agree on. Each match knows place, scale and direction on both sides, so one match is a guess of a whole
 * similarity; a guess many others follow loosely is widened to affine and homography with ever tighter limits.
 * The same matches always give the same maps. @see Fischler and Bolles 1981 (consensus); Chum, Matas, Kittler 2003 (local optimisation)
 */
export function findHomographies(matches: Match[], a: Size, b: Size, withLens: boolean, keep = 3): MatchedMap[] {
  const tries = matches.slice(0, 400);
  const loose = 0.03 * Math.max(b.width, b.height);
  const guesses = tries.map((m) => ({ matrix: similarityOf(m), votes: 0 }));
  for (const g of guesses) {
    for (const m of matches) if (distance(g.matrix, null, b, m) < loose) g.votes += 1 - m.ratio * 0.8;
  }
  guesses.sort((p, q) => q.votes - p.votes);
  const found: MatchedMap[] = [];
  for (const guess of guesses.slice(0, 12)) {
    const map = widen(guess.matrix, matches, a, b, loose, withLens);
    if (!map || found.some((f) => alike(f.matrix, map.matrix, a))) continue;
    found.push(map);
    if (found.length >= keep) break;
  }
  return found.sort((p, q) => q.support - p.support);
}

function similarityOf({ a, b }: Match): Matrix3 {
  const scale = b.sigma / a.sigma;
  const turn = b.angle - a.angle;
  const [c, s] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  return [c, -s, b.x - c * a.x + s * a.y, s, c, b.y - s * a.x - c * a.y, 0, 0, 1];
}

function distance(matrix: Matrix3, lens: Lens | null, b: Size, m: Match): number {
  const [u, v] = distort(lens, b, ...project(matrix, m.a.x, m.a.y));
  return Math.hypot(u - m.b.x, v - m.b.y);
}

type Round = [model: MotionModel, limit: number];

function widen(start: Matrix3, matches: Match[], a: Size, b: Size, loose: number, withLens: boolean): MatchedMap | null {
  const tight = Math.max(2.5, loose * 0.12);
  const opening: Round[] = [
    ["similarity", loose],
    ["affine", loose],
    ["affine", loose * 0.7],
  ];
  const closing = (model: MotionModel): Round[] => [loose * 0.7, loose * 0.4, loose * 0.25, tight, tight].map((limit): Round => [model, limit]);
  const opened = follow(start, matches, a, b, opening);
  const flat = opened && follow(opened.matrix, matches, a, b, closing("homography"));
  const bent = withLens && opened ? follow(opened.matrix, matches, a, b, closing("radial")) : null;
  // one more parameter always gains a few matches
  return bent && bent.support > 1.15 * (flat?.support ?? 0) + 4 ? bent : flat;
}

function follow(start: Matrix3, matches: Match[], a: Size, b: Size, rounds: Round[]): MatchedMap | null {
  let map: MatchedMap = { matrix: start, lens: null, support: 0 };
  for (const [model, limit] of rounds) {
    const near: Correspondence[] = [];
    for (const m of matches) {
      const d = distance(map.matrix, map.lens, b, m);
      if (d < limit) near.push({ x: m.a.x, y: m.a.y, u: m.b.x, v: m.b.y, weight: (1 - (d / limit) ** 2) ** 2 });
    }
    if (near.length < 6) return null;
    const fit = fitModel(model, near, a, b, map.matrix, map.lens);
    if (!fit) return null;
    map = { matrix: fit.matrix, lens: fit.lens, support: near.length };
  }
  return map;
}

function alike(p: Matrix3, q: Matrix3, size: Size): boolean {
  return [
    [0, 0],
    [size.width, 0],
    [0, size.height],
    [size.width, size.height],
  ].every(([x, y]) => {
    const [u, v] = project(p, x, y);
    const [s, t] = project(q, x, y);
    return Math.hypot(u - s, v - t) < 0.02 * size.width;
  });
}
