import type { Size } from "../geometry/lens";
import type { Vector3 } from "../panorama/camera";
import type { Segment } from "./findSegments";
import { fitStance, pointDirection, type FittedStance, type KnownFocal, type Point } from "./fitStance";
import { baselineOf, linesOf, voteOf, type Line } from "./lines";
import { searchStances, unlikely } from "./searchStances";
import { horizonEnds, horizonsApartDeg, type Stance } from "./upright";

/** Where parallel lines meet, and how many lead there. */
export interface Vanishing extends Point {
  lines: number;
}

export interface FoundHorizon {
  stance: Stance;
  /** whether lines told the focal length, or it was known, or is a guess */
  focalFrom: "known" | "directions" | "guess";
  vanishing: Vanishing[];
  /** standard deviation of where the horizon lies within the picture, degrees, and of the focal length, a share */
  horizonSigmaDeg: number;
  focalSigma: number;
  /** the segments that led there, each by the index of its point in `vanishing`; −1: none */
  belongs: Int8Array;
}

const RAD = Math.PI / 180;
const FEWEST_LINES = 12;
/** Coarse stances that are fitted in full. */
const MOST_REFINED = 4;
/** Azimuths that are tried, degrees apart. */
const STEP = 0.5;
/** What lines that meet have to tell more than lines anywhere would, natural logarithm of odds. */
const TELLS = 26;
/** By how much a horizon has to be told better than any other, natural logarithm of odds. */
const AHEAD = 10;
/** How far two halves of the lines may disagree, degrees. */
const HALVES_AGREE = 1.2;
/** How far their lenses may, a share (1 standard deviation). */
const HALF_SIGMA = 0.1;
/** A horizon that is told worse is none, degrees, and so is a lens, a share. */
const MOST_SIGMA = 0.6;
const MOST_FOCAL_SIGMA = 0.04;
/** What the weaker of two directions has to tell for their right angle to tell the lens. */
const SQUARE_TELLS = 20;
/** Shares by which other lenses are begun from, and those that are the same. */
const OTHER_LENSES = [0.62, 0.8, 1.25, 1.6];
const SAME_LENS = 0.06;
/** Guess of a lens, in widths of the picture. Common practice, no source. */
const GUESS = 1;

/**
 * The horizon of a picture by what is straight in it: it is where level lines of the world meet, whatever their azimuth, and lies square to where upright ones meet. Heights and
 * rolls of it are tried first; under each, segments vote for the azimuths that they lead to, and count as what they tell more than the directions that the picture has anyway.
 * @param segments px of a picture of `size` @param known of the focal length
 * @returns null where lines do not tell, or not well enough
 * @see Simon, Fond and Berger 2018, "A-contrario horizon-first vanishing point detection using second-order grouping laws"
 */
export function findHorizon(segments: readonly Segment[], size: Size, known: KnownFocal | null): FoundHorizon | null {
  const lines = linesOf(segments, size);
  if (lines.length < FEWEST_LINES) return null;
  const focal = known ?? { px: GUESS * Math.max(size.width, size.height), sigma: Infinity };
  const rough = searchStances(lines, focal, size).flatMap((start) => refine(lines, start, focal, size, [0.4, 0.2, 0.1]) ?? []);
  rough.sort((a, b) => b.tells - a.tells);
  const starts = rough.slice(0, MOST_REFINED).map((s) => s.stance);
  // a lens that nothing is known of is begun from several, the horizon where it was
  if (!known) starts.push(...starts.slice(0, 2).flatMap((stance) => OTHER_LENSES.map((by) => withLens(stance, by))));
  const solutions = starts.flatMap((stance) => refine(lines, stance, focal, size, [0.05, 0, 0, 0]) ?? []);
  solutions.sort((a, b) => b.tells - a.tells);
  const best = solutions.at(0);
  if (!best || !isTold(best) || best.horizonSigmaDeg > MOST_SIGMA) return null;
  const at = horizonEnds(best.stance, size);
  // as good elsewhere: nothing is told
  const isElsewhere = (s: Solution) => horizonsApartDeg(horizonEnds(s.stance, size), at, best.stance.focalPx) > HALVES_AGREE;
  if (solutions.some((s) => s.tells > best.tells - AHEAD && isElsewhere(s))) return null;
  // what lines tell each half of them tells: noise agrees with nothing
  const ends = [0, 1].map((half) => {
    const part = refine(
      lines.filter((_, i) => i % 2 === half),
      best.stance,
      known ?? { px: best.stance.focalPx, sigma: HALF_SIGMA },
      size,
      [0.1, 0],
    );
    return part && horizonEnds(part.stance, size);
  });
  if (!ends[0] || !ends[1] || horizonsApartDeg(ends[0], ends[1], best.stance.focalPx) > HALVES_AGREE) return null;
  const { stance, points, horizonSigmaDeg } = best;
  // other lenses that lines tell nearly as well
  const rivals = solutions.filter((s) => s.tells > best.tells - AHEAD).map((s) => Math.abs(Math.log(s.stance.focalPx / stance.focalPx)));
  const focalSigma = Math.max(best.focalSigma, ...rivals.filter((by) => by > SAME_LENS));
  const belongs = new Int8Array(segments.length).fill(-1);
  best.belongs.forEach((k, i) => (belongs[lines[i].index] = k));
  const vanishing = points.map(({ of, azimuthDeg }, k) => ({ of, azimuthDeg, lines: best.belongs.filter((b) => b === k).length }));
  const focalFrom = known && known.sigma <= focalSigma * 1.2 ? "known" : focalSigma < MOST_FOCAL_SIGMA ? "directions" : "guess";
  return { stance, focalFrom, vanishing, horizonSigmaDeg, focalSigma, belongs };
}

/** The same horizon in the picture, under a lens that many times as long. */
function withLens({ pitchDeg, rollDeg, focalPx }: Stance, by: number): Stance {
  return { pitchDeg: Math.atan(Math.tan(pitchDeg * RAD) / by) / RAD, rollDeg, focalPx: focalPx * by };
}

/** A point with what it tells more than chance, natural logarithm of odds. */
interface Meeting extends Point {
  tells: number;
}

interface Solution extends FittedStance<Meeting> {
  /** for each line the point it leads to, or −1 */
  belongs: Int8Array;
  tells: number;
}

/** Whether level lines tell the horizon: in two directions, or in one that upright lines stand square to. */
function isTold({ points }: Solution): boolean {
  const level = points.filter((p) => p.of === "level").map((p) => p.tells);
  const upright = points.find((p) => p.of === "upright")?.tells ?? 0;
  const [first = 0, second = 0] = level.sort((a, b) => b - a);
  return first >= TELLS && (upright >= TELLS / 2 || second >= TELLS);
}

/** From a coarse stance: which lines lead where, and the stance that fits them best, in turns. */
function refine(lines: readonly Line[], start: Stance, focal: KnownFocal, size: Size, blursDeg: readonly number[]): Solution | null {
  let stance = start;
  let solution: Solution | null = null;
  for (const blurDeg of blursDeg) {
    const blur = blurDeg * RAD;
    const { points, belongs } = meet(lines, stance, blur, solution?.points ?? null);
    if (!points.some((p) => p.of === "level")) return null;
    const square = rightAngle(points, stance, focal, solution?.focalSigma ?? Infinity, size);
    const fitted = fitStance(lines, stance, points, belongs, focal, square, blur, size);
    if (!fitted) return null;
    stance = fitted.stance;
    if (Math.abs(stance.pitchDeg) > 60 || Math.abs(stance.rollDeg) > 30) return null;
    const tells = points.reduce((sum, p) => sum + p.tells, -unlikely(stance));
    solution = { ...fitted, belongs, tells };
  }
  return solution;
}

/** The azimuths on the horizon, and straight up, that lines lead to: greedily those that tell most. @param known where they lay before; null: they may lie anywhere */
function meet(lines: readonly Line[], stance: Stance, blur: number, known: readonly Point[] | null): { points: Meeting[]; belongs: Int8Array } {
  const belongs = new Int8Array(lines.length).fill(-1);
  const gains = new Float64Array(lines.length);
  const votes = lines.map((line) => voteOf(line, blur));
  const baseline = baselineOf(lines);
  const points: Meeting[] = [];
  const gain = (i: number, direction: Vector3): number => {
    const { most, reach, sigma } = votes[i];
    const { x, y, cosine, sine } = lines[i];
    const [u, v] = [direction[0] * stance.focalPx - x * direction[2], direction[1] * stance.focalPx - y * direction[2]];
    const across = u * sine - v * cosine;
    return most * Math.max(0, 1 - (across * across) / ((u * u + v * v) * (sigma * reach) ** 2));
  };
  const add = (of: Point["of"], azimuthDeg: number): void => {
    const direction = pointDirection(stance, { of, azimuthDeg });
    let tells = -baseline;
    for (let i = 0; i < lines.length; i++) tells += Math.max(0, gain(i, direction) - gains[i]);
    if (tells < TELLS / 3) return;
    for (let i = 0; i < lines.length; i++) {
      const g = gain(i, direction);
      if (g <= gains[i]) continue;
      gains[i] = g;
      belongs[i] = points.length;
    }
    points.push({ of, azimuthDeg, tells });
  };
  add("upright", 0);
  for (let k = 0; k < 4; k++) {
    let [best, most] = [0, 0];
    const rate = (deg: number): void => {
      const direction = pointDirection(stance, { of: "level", azimuthDeg: deg });
      let sum = 0;
      for (let i = 0; i < lines.length; i++) sum += Math.max(0, gain(i, direction) - gains[i]);
      if (sum > most) [best, most] = [deg, sum];
    };
    if (known) for (const p of known.filter(({ of }) => of === "level")) rate(p.azimuthDeg);
    else for (let deg = -90; deg < 90; deg += STEP) rate(deg);
    const middle = best;
    for (let by = -0.8 * STEP; by < 0.9 * STEP; by += 0.2 * STEP) rate(middle + by);
    const count = points.length;
    add("level", best);
    if (points.length === count) break;
  }
  return { points, belongs };
}

/** Two level directions that can be taken as square to each other, by their index, where the lens is not known better; null where none can, or some would tell different lenses. */
function rightAngle(
  points: readonly Meeting[],
  { pitchDeg, focalPx }: Stance,
  focal: KnownFocal,
  focalSigma: number,
  { width, height }: Size,
): [number, number] | null {
  if (focal.sigma < 0.1) return null;
  const level = points.flatMap((p, index) => (p.of === "level" && p.tells >= TELLS / 2 ? [{ ...p, index }] : []));
  const far = focalPx / Math.cos(pitchDeg * RAD);
  const lift = focalPx * Math.tan(pitchDeg * RAD);
  const side = Math.max(width, height);
  const pairs = level.flatMap((p, i) =>
    level.slice(i + 1).flatMap((q) => {
      const px = Math.sqrt(Math.max(0, -far * far * Math.tan(p.azimuthDeg * RAD) * Math.tan(q.azimuthDeg * RAD) - lift * lift));
      const isNear = Math.abs(Math.log(px / focalPx)) < 3 * Math.max(0.03, Math.min(1, focalSigma));
      // azimuths near straight ahead or abeam leave it open
      return px > 0.5 * side && px < 3 * side && isNear ? [{ px, tells: Math.min(p.tells, q.tells), pair: [p.index, q.index] as [number, number] }] : [];
    }),
  );
  const best = pairs.sort((a, b) => b.tells - a.tells).at(0);
  if (!best || best.tells < SQUARE_TELLS) return null;
  return pairs.every((p) => Math.abs(Math.log(p.px / best.px)) < SAME_LENS || p.tells < best.tells / 2) ? best.pair : null;
}
