import { distort, undistort } from "../geometry/lens";
import { atLevel, multiply, project, type Matrix3 } from "../geometry/matrix3";
import { localZScore, otherShifts, sampleInto } from "./coarseSearch";
import { coarsestLevel, levelOf } from "./greyPyramid";
import { agrees, displacementPx } from "./judgeFit";
import type { LocalShift } from "./localShifts";
import { countingAt, isGood, judgeAt, middleLevel, plausible, type Pair, type Start } from "./pair";
import { refine } from "./refine";
import { GROWING } from "./starts";

/** Longest side at which other shifts are looked for: a period of a hundredth of the frame can still be seen. */
const SEARCH_SIDE = 512;
/** Other shifts are followed from this share of the correlation on; photographs that do not repeat themselves hardly reach a third. Common practice, no source. */
const ALIKE = 0.5;
/** How many are followed: those that correlate best, and the nearest to where the frames stood. */
const MOST = { best: 6, nearest: 2 };
/** px at the search level within which two shifts are one. */
const SAME_PX = 3;
/** Share of the places that the best explains from which another explains the frames as well. */
const AS_WELL = 0.85;
/** What more than the best a solution may leave at its own places, and still be one. */
const INEXACT = { times: 2, px: 0.25 };
/** Share of the frame beyond which a solution that was found on the way is searched about in turn. */
const FAR = 0.3;
/** Searches about solutions that were found on the way. */
const ROUNDS = 2;
/** By how much a patch correlates better where it belongs than a period beside it; less is noise and resampling. */
const BETTER = 0.03;
/** Places that must speak for a solution alone, and by how many standard deviations of their number more than for another. */
const DECIDED = { places: 4, sigmas: 3 };

/**
 * Looks for other solutions that explain two frames as well as the one that was found, as where tiles, railings or windows repeat themselves. What is shown only once
 * decides; where nothing does, the solution nearest to where the frames stood is taken, and the others are told.
 */
export function decide(pair: Pair, found: Start): { start: Start; otherPx: number[] } {
  const solutions = [found];
  const { width, height } = pair.fixed;
  for (let about = found, round = 0; ; round++) {
    // a solution far off does not see those on the other side of where the frames stood
    const far = displacementPx(about.matrix, width, height) > FAR * Math.max(width, height);
    for (const matrix of [...otherMaps(pair, about), ...(far ? otherMaps(pair, { ...about, matrix: unshifted(pair, about.matrix) }) : [])]) {
      const other = follow(pair, matrix, found);
      if (other && solutions.every((s) => apart(pair, s.matrix, other.matrix) > sameWithin(pair))) solutions.push(other);
    }
    if (solutions.length === 1) return { start: found, otherPx: [] };
    // one that fits nowhere exactly, as half a period off, says nothing against another
    const exact = Math.min(...solutions.filter(isGood).map((s) => s.agreement.residualPx));
    const sound = solutions.filter((s) => isGood(s) && s.agreement.residualPx <= INEXACT.times * exact + INEXACT.px);
    const explains = Math.max(...sound.map((s) => s.agreement.agreeing));
    const support = supportOf(sound.map((s) => s.shifts));
    const most = support.indexOf(Math.max(...support));
    const decided = (i: number) => support[most] >= DECIDED.places && support[most] - support[i] > DECIDED.sigmas * Math.sqrt(support[most] + support[i]);
    const [start, ...others] = sound
      .filter((s, i) => i === most || (!decided(i) && s.agreement.agreeing >= AS_WELL * explains))
      .sort((p, q) => displacementPx(p.matrix, width, height) - displacementPx(q.matrix, width, height));
    // from far off not every shift can be seen
    if (apart(pair, start.matrix, about.matrix) < FAR * Math.max(width, height) || round === ROUNDS)
      return { start, otherPx: others.map((s) => apart(pair, start.matrix, s.matrix)).sort((p, q) => p - q) };
    about = start;
  }
}

/**
 * How many places speak for each solution alone: they agree under it, and under no other under which they can be seen nearly as well.
 * @param shifts what is left under each solution; places are those of the fixed frame, the same for all
 */
export function supportOf(shifts: LocalShift[][]): number[] {
  const places = new Map<string, (LocalShift | undefined)[]>();
  shifts.forEach((list, i) => {
    for (const s of list) {
      const key = `${s.x},${s.y}`;
      const seen = places.get(key) ?? [];
      seen[i] = s;
      places.set(key, seen);
    }
  });
  const support = shifts.map(() => 0);
  for (const seen of places.values()) {
    const scores = shifts.map((_, i) => (seen[i] ? (agrees(seen[i]) ? seen[i].correlation : 0) : -1));
    const best = Math.max(...scores);
    const others = scores.filter((v) => v >= 0 && v <= best - BETTER).length;
    // alone, and not only because nothing else can be seen there
    if (others > 0 && others === scores.filter((v) => v >= 0).length - 1) support[scores.indexOf(best)]++;
  }
  return support;
}

/** The same turn and scale, with the middle of one frame on that of the other. */
function unshifted({ fixed, moving }: Pair, matrix: Matrix3): Matrix3 {
  const [u, v] = project(matrix, (fixed.width - 1) / 2, (fixed.height - 1) / 2);
  return multiply([1, 0, (moving.width - 1) / 2 - u, 0, 1, (moving.height - 1) / 2 - v, 0, 0, 1], matrix);
}

/** RMS distance between two maps over the fixed frame, px at full size. */
function apart({ fixed }: Pair, a: Matrix3, b: Matrix3): number {
  let [sum, n] = [0, 0];
  for (let j = 0; j <= 4; j++) {
    for (let i = 0; i <= 4; i++) {
      const [x, y] = [(i * (fixed.width - 1)) / 4, (j * (fixed.height - 1)) / 4];
      const [[p, q], [u, v]] = [project(a, x, y), project(b, x, y)];
      sum += (p - u) ** 2 + (q - v) ** 2;
      n++;
    }
  }
  return Math.sqrt(sum / n);
}

function searchLevel({ fixed, moving }: Pair): number {
  const side = Math.max(fixed.width, fixed.height);
  return Math.min(coarsestLevel(fixed), coarsestLevel(moving), Math.max(0, Math.ceil(Math.log2(side / SEARCH_SIDE))));
}

const sameWithin = (pair: Pair) => (SAME_PX - 0.5) * 2 ** searchLevel(pair);

/** Maps at full size that differ from the one found by a shift under which the frames correlate nearly as well. */
function otherMaps(pair: Pair, { matrix, lens }: Start): Matrix3[] {
  const { fixed, moving, options } = pair;
  const level = searchLevel(pair);
  const there = atLevel(matrix, level);
  const f = levelOf(fixed, level);
  const a = masked(localZScore(f), pair, level);
  const m = levelOf(moving, level);
  const shown = sampleInto(localZScore(m), f.width, f.height, (x, y) => distort(lens, m, ...project(there, ...undistort(options.fixedLens, f, x, y))));
  const peaks = otherShifts(a, shown.plane, shown.mask, SAME_PX, ALIKE);
  const back = (dx: number, dy: number) => multiply(matrix, [1, 0, -dx * 2 ** level, 0, 1, -dy * 2 ** level, 0, 0, 1]);
  const maps = peaks.map(({ dx, dy }) => back(dx, dy));
  const near = [...maps].sort((p, q) => displacementPx(p, fixed.width, fixed.height) - displacementPx(q, fixed.width, fixed.height));
  return [...new Set([...maps.slice(0, MOST.best), ...near.slice(0, MOST.nearest)])];
}

/** What does not count is flat. */
function masked(plane: { width: number; height: number; data: Float32Array }, pair: Pair, level: number) {
  const selection = countingAt(pair, level);
  if (!selection) return plane;
  return { ...plane, data: plane.data.map((v, i) => (selection.counts(i % plane.width, Math.floor(i / plane.width)) ? v : 0)) };
}

/** Another map followed from the level at which it was found, not from a coarser one, from which it would come back to the one it differs from. */
function follow(pair: Pair, start: Matrix3, { lens }: Start): Start | null {
  const { fixed, moving, photometry, top, options } = pair;
  const middle = middleLevel(fixed, top);
  const from = Math.max(middle, searchLevel(pair));
  let matrix: Matrix3 = atLevel(start, from);
  for (let level = from; level >= middle; level--) {
    const model = GROWING[Math.min(GROWING.length - 1, from - level)];
    const more = { budget: 8000, iterations: 20, selection: countingAt(pair, level), lens, fixedLens: options.fixedLens };
    matrix = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, { model, ...more }).matrix;
    if (level > middle) matrix = atLevel(matrix, -1);
  }
  return plausible(matrix, levelOf(fixed, middle)) ? judgeAt(pair, matrix, lens) : null;
}
