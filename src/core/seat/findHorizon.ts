import type { Size } from "../geometry/lens";
import type { Vector3 } from "../panorama/camera";
import { solveSymmetric } from "../numeric/linearSystem";
import type { Segment } from "./findSegments";
import { horizonEnds, horizonsApartDeg, worldAxes, type Stance } from "./upright";

/** Where lines that are parallel in the world meet. */
export interface Vanishing {
  /** level: on the horizon, by its azimuth; upright: straight up and down */
  of: "level" | "upright";
  /** degrees clockwise from straight ahead; 0 of what is upright */
  azimuthDeg: number;
  /** lines that lead to it */
  lines: number;
}

/** What is known of the lens before: its focal length, and how sure that is as a share (1 standard deviation); null: nothing. */
export interface KnownFocal {
  px: number;
  sigma: number;
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
/** Steps of what is tried, degrees. */
const ROLL_STEP = 0.75;
const MOST_ROLL = 9;
const LIFT_STEP = 0.75;
const MOST_LIFT = 42;
/** How exactly lines are asked to meet while steps are that wide, radians. */
const COARSE = 0.6 * RAD;
/** Bins of half a turn. */
const BINS = 360;
/** Segments looked at: the longest. */
const MOST_SEGMENTS = 700;
const MOST_SEARCHED = 350;
/** Coarse stances that are followed, and those of them that are fitted in full. */
const MOST_STARTS = 16;
const MOST_REFINED = 4;
/** Lines within that share of the picture's longer side of each other, alike to this, radians, count together as no more than so many. */
const SAME_PLACE = 0.03;
const SAME_DIRECTION = 3 * RAD;
const ONE_THING = 5;
/** Share of the lines that a point where they meet is asked to explain. */
const SHARE = 0.05;
/** What lines that meet have to tell more than lines anywhere would, natural logarithm of odds. */
const TELLS = 26;
/** How people hold cameras, degrees (1 standard deviation). Common practice, no source. */
const HELD = { pitch: 14, roll: 3 };
/** Half a width of what counts as the usual directions of a picture, radians. */
const USUAL = 8 * RAD;
/** How far two halves of the lines may disagree, degrees. */
const HALVES_AGREE = 1.2;
const MOST_SIGMA = 0.5;
const MOST_FOCAL_SIGMA = 0.12;
/** What is built square is square to this, degrees; and no horizon is surer than that. Common practice, no source. */
const SQUARE_SIGMA = 0.3;
const NEVER_SURER = 0.05;
/** Guess of a lens, in widths of the picture. Common practice, no source. */
const GUESS = 1;

/** A segment about the picture's centre, px. */
interface Line {
  /** among the segments given */
  index: number;
  x: number;
  y: number;
  /** direction, 0..π */
  angle: number;
  cosine: number;
  sine: number;
  sigma: number;
  length: number;
  /** density of directions like its own among all, per radian */
  usual: number;
  /** what it counts: many of one direction in one place are one thing */
  weight: number;
}

/**
 * The horizon of a picture by what is straight in it: it is where level lines of the world meet, whatever their azimuth, and lies square to where upright ones meet. Heights and
 * rolls of it are tried first; under each, segments vote for the azimuths that they lead to, and count as what they tell more than the directions that the picture has anyway.
 * @param segments px of a picture of `size` @param known of the focal length
 * @returns null where lines do not tell, or not well enough
 * @see Simon, Fond and Berger 2018, "A-contrario horizon-first vanishing point detection using second-order grouping laws"
 */
export function findHorizon(segments: readonly Segment[], size: Size, known: KnownFocal | null): FoundHorizon | null {
  const lines = linesOf(segments, size);
  if (lines.length < 12) return null;
  const focal = known ?? { px: GUESS * Math.max(size.width, size.height), sigma: Infinity };
  const rough = search(lines.slice(0, MOST_SEARCHED), focal, size).flatMap((start) => refine(lines, start, focal, size, [0.4, 0.2, 0.1]) ?? []);
  rough.sort((a, b) => b.tells - a.tells);
  const solutions = rough.slice(0, MOST_REFINED).flatMap(({ stance }) => refine(lines, stance, focal, size, [0.05, 0, 0, 0]) ?? []);
  solutions.sort((a, b) => b.tells - a.tells);
  if (process.env.DBG2) for (const s of solutions) console.log("   cand", s.tells.toFixed(1), s.stance.pitchDeg.toFixed(2), s.stance.rollDeg.toFixed(2), s.stance.focalPx.toFixed(0), s.points.map((p) => p.of[0] + p.azimuthDeg.toFixed(1) + ":" + p.tells.toFixed(0)).join(" "));
  const best = solutions.at(0);
  if (best && process.env.DBG) console.log("  dbg", best.stance, best.horizonSigmaDeg, best.focalSigma, best.points.map((p) => p.of[0] + p.azimuthDeg.toFixed(1) + ":" + p.tells.toFixed(0)).join(" "), JSON.stringify(horizonEnds(best.stance, size)));
  if (!best || !isTold(best) || best.horizonSigmaDeg > MOST_SIGMA) return null;
  // what lines tell each half of them tells: noise agrees with nothing
  const ends = [0, 1].map((half) => {
    const part = refine(
      lines.filter((_, i) => i % 2 === half),
      best.stance,
      { px: best.stance.focalPx, sigma: Math.min(focal.sigma, best.focalSigma) },
      size,
      [0.1, 0],
    );
    return part && horizonEnds(part.stance, size);
  });
  if (!ends[0] || !ends[1] || horizonsApartDeg(ends[0], ends[1], best.stance.focalPx) > HALVES_AGREE) return null;
  const { stance, points, horizonSigmaDeg, focalSigma } = best;
  const belongs = new Int8Array(segments.length).fill(-1);
  best.belongs.forEach((k, i) => (belongs[lines[i].index] = k));
  const vanishing = points.map(({ of, azimuthDeg }, k) => ({ of, azimuthDeg, lines: best.belongs.filter((b) => b === k).length }));
  const focalFrom = known && known.sigma <= focalSigma * 1.2 ? "known" : focalSigma < MOST_FOCAL_SIGMA ? "directions" : "guess";
  return { stance, focalFrom, vanishing, horizonSigmaDeg, focalSigma, belongs };
}

function linesOf(segments: readonly Segment[], { width, height }: Size): Line[] {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const lines = segments.map(({ x0, y0, x1, y1, sigma }, index) => {
    const angle = modulo(Math.atan2(y1 - y0, x1 - x0));
    const middle = { x: (x0 + x1) / 2 - cx, y: (y0 + y1) / 2 - cy };
    return { index, ...middle, angle, cosine: Math.cos(angle), sine: Math.sin(angle), sigma, length: Math.hypot(x1 - x0, y1 - y0), usual: 0, weight: 1 };
  });
  lines.sort((a, b) => b.length - a.length);
  lines.splice(MOST_SEGMENTS);
  const around = SAME_PLACE * Math.max(width, height);
  for (const line of lines) {
    let same = 0;
    for (const other of lines) {
      if (Math.abs(halfTurn(other.angle - line.angle)) < SAME_DIRECTION && (other.x - line.x) ** 2 + (other.y - line.y) ** 2 < around ** 2) same++;
    }
    line.weight = Math.min(1, ONE_THING / same);
  }
  const all = lines.reduce((sum, l) => sum + l.weight, 0);
  for (const line of lines) {
    let near = 0;
    for (const other of lines) if (Math.abs(halfTurn(other.angle - line.angle)) < USUAL) near += other.weight;
    line.usual = near / all / (2 * USUAL);
  }
  return lines;
}

/** What a line tells that leads to a point within its own uncertainty, at most, and out to how many deviations it tells something. */
function voteOf({ usual, weight, ...line }: Line, blur: number): { most: number; reach: number; sigma: number } {
  const sigma = Math.hypot(line.sigma, blur);
  const c = Math.log(1 / (Math.sqrt(2 * Math.PI) * sigma * usual));
  return c > 0 ? { most: weight * Math.log(1 - SHARE + SHARE * Math.exp(c)), reach: Math.sqrt(2 * c), sigma } : { most: 0, reach: 1, sigma };
}

/** What lines tell by chance about any point. */
const baselineOf = (lines: readonly Line[]): number => SHARE * lines.reduce((sum, l) => sum + l.weight, 0);

interface Solution {
  stance: Stance;
  points: Point[];
  /** for each line the point it leads to, or −1 */
  belongs: Int8Array;
  tells: number;
  horizonSigmaDeg: number;
  focalSigma: number;
}

interface Point {
  of: "level" | "upright";
  azimuthDeg: number;
  tells: number;
}

/** Whether level lines tell the horizon: in two directions, or in one that upright lines stand square to. */
function isTold({ points }: Solution): boolean {
  const level = points.filter((p) => p.of === "level").map((p) => p.tells);
  const upright = points.find((p) => p.of === "upright")?.tells ?? 0;
  const [first = 0, second = 0] = level.sort((a, b) => b - a);
  return first >= TELLS && (upright >= TELLS / 2 || second >= TELLS);
}

/** The stances under which lines meet best, coarsely: a few that lie apart. */
function search(lines: readonly Line[], focal: KnownFocal, size: Size): Stance[] {
  const isKnown = focal.sigma < 0.2;
  const found: { stance: Stance; tells: number }[] = [];
  const votes = lines.map((line) => voteOf(line, COARSE));
  const level = new Float64Array(BINS);
  const upright = new Float64Array(BINS);
  const baseline = baselineOf(lines);
  const side = Math.max(size.width, size.height);
  for (let rollDeg = -MOST_ROLL; rollDeg <= MOST_ROLL; rollDeg += ROLL_STEP) {
    const [c, s] = [Math.cos(rollDeg * RAD), Math.sin(rollDeg * RAD)];
    const turned = lines.map((l) => {
      const angle = modulo(l.angle - rollDeg * RAD);
      return { t: l.x * c + l.y * s, o: -l.x * s + l.y * c, angle, sine: Math.sin(angle), cosine: Math.cos(angle), sigma: Math.hypot(l.sigma, COARSE) };
    });
    // upright lines, by the tilt under which they would meet where they do: bins of atan(focal / height of the point)
    upright.fill(0);
    turned.forEach(({ t, o, angle, sine, cosine, sigma }, i) => {
      if (Math.abs(angle - Math.PI / 2) > Math.PI / 4) return;
      const k = cosine / sine;
      // the line meets the plumb line at o − t / k; near parallel ones far away
      const tilt = Math.atan2(focal.px * k, o * k - t);
      const spread = (sigma * Math.abs(t) * focal.px) / Math.max(1, sine * sine * ((o * k - t) ** 2 + (focal.px * k) ** 2));
      vote(upright, modulo(tilt), Math.max(spread, sigma * 0.2), votes[i]);
    });
    for (let lift = -MOST_LIFT; lift <= MOST_LIFT; lift += LIFT_STEP) {
      const height = focal.px * Math.tan(lift * RAD);
      const far = Math.hypot(focal.px, height);
      level.fill(0);
      turned.forEach(({ t, o, sine, cosine, sigma }, i) => {
        const off = height - o;
        // what lies along the horizon leads everywhere
        if (Math.abs(sine) < 0.02 && Math.abs(off) < 0.02 * far) return;
        const x = t * sine + off * cosine;
        const azimuth = Math.atan2(x, far * sine);
        const spread = (sigma * Math.abs(off) * far) / Math.max(1e-9, (far * sine) ** 2 + x ** 2);
        vote(level, modulo(azimuth), Math.max(spread, sigma * 0.2), votes[i]);
      });
      const peaks = peaksOf(level, 3).map((p) => Math.max(0, p - baseline));
      let plumb = 0;
      for (let b = 0; b < BINS; b++) {
        const tilt = halfTurn((b / BINS) * Math.PI) / RAD;
        const fits = isKnown ? Math.abs(tilt + lift) < 1 : isLens((-height * focal.px) / Math.tan(tilt * RAD), side, tilt, lift);
        if (fits && upright[b] > plumb) plumb = upright[b];
      }
      const tells = peaks[0] + peaks[1] + 0.5 * peaks[2] + Math.max(0, plumb - baseline) - unlikely({ pitchDeg: lift, rollDeg });
      found.push({ stance: { pitchDeg: lift, rollDeg, focalPx: focal.px }, tells });
    }
  }
  found.sort((a, b) => b.tells - a.tells);
  const starts: Stance[] = [];
  for (const { stance } of found) {
    if (starts.every((s) => Math.abs(s.pitchDeg - stance.pitchDeg) > 1.6 || Math.abs(s.rollDeg - stance.rollDeg) > 1.6)) starts.push(stance);
    if (starts.length === MOST_STARTS) break;
  }
  return starts;
}

/** By how much a camera is held less likely than level, natural logarithm. */
const unlikely = ({ pitchDeg, rollDeg }: Pick<Stance, "pitchDeg" | "rollDeg">): number => ((pitchDeg / HELD.pitch) ** 2 + (rollDeg / HELD.roll) ** 2) / 2;

/** Whether a horizon and a point of upright lines belong to a lens: of their square of the focal length, px². */
function isLens(square: number, side: number, tiltDeg: number, liftDeg: number): boolean {
  if (Math.abs(tiltDeg) < 1.5 && Math.abs(liftDeg) < 4) return true;
  return square > (0.45 * side) ** 2 && square < (4 * side) ** 2;
}

/** Adds what a line tells about a direction to bins of half a turn. @param at 0..π @param spread radians */
function vote(bins: Float64Array, at: number, spread: number, { most, reach }: { most: number; reach: number }): void {
  if (most <= 0) return;
  const wide = (Math.min(spread, 6 * RAD) * BINS) / Math.PI;
  const middle = (at * BINS) / Math.PI;
  const [from, to] = [Math.ceil(middle - reach * wide), Math.floor(middle + reach * wide)];
  if (to < from) bins[Math.round(middle) % BINS] += most / 2;
  for (let b = from; b <= to; b++) {
    const k = (b - middle) / (wide * reach);
    bins[((b % BINS) + BINS) % BINS] += most * (1 - k * k);
  }
}

/** The highest values of bins that lie at least 8° apart. */
function peaksOf(bins: Float64Array, count: number): number[] {
  const apart = Math.round((8 / 180) * BINS);
  const places: number[] = [];
  const out: number[] = [];
  for (let k = 0; k < count; k++) {
    let best = -1;
    for (let b = 0; b < BINS; b++) {
      if (best >= 0 && bins[b] <= bins[best]) continue;
      if (places.every((p) => Math.min((b - p + BINS) % BINS, (p - b + BINS) % BINS) >= apart)) best = b;
    }
    places.push(best);
    out.push(best < 0 ? 0 : bins[best]);
  }
  return out;
}

/** From a coarse stance: which lines lead where, and the stance that fits them best, in turns. */
function refine(lines: readonly Line[], start: Stance, focal: KnownFocal, size: Size, blursDeg: readonly number[]): Solution | null {
  let stance = start;
  let solution: Solution | null = null;
  for (const blurDeg of blursDeg) {
    const blur = blurDeg * RAD;
    const { points, belongs } = meet(lines, stance, blur);
    if (!points.some((p) => p.of === "level")) return null;
    const square = rightAngle(points, stance, focal, solution?.focalSigma ?? Infinity, size);
    const fitted = fit(lines, stance, points, belongs, focal, square, blur, size);
    if (!fitted) return null;
    stance = fitted.stance;
    if (Math.abs(stance.pitchDeg) > 60 || Math.abs(stance.rollDeg) > 30) return null;
    const tells = points.reduce((sum, p) => sum + p.tells, -unlikely(stance));
    solution = { ...fitted, belongs, tells };
  }
  return solution;
}

/** The azimuths on the horizon, and straight up, that lines lead to: greedily those that tell most. */
function meet(lines: readonly Line[], stance: Stance, blur: number): { points: Point[]; belongs: Int8Array } {
  const belongs = new Int8Array(lines.length).fill(-1);
  const gains = new Float64Array(lines.length);
  const votes = lines.map((line) => voteOf(line, blur));
  const baseline = baselineOf(lines);
  const { right, up, ahead } = worldAxes(stance);
  const points: Point[] = [];
  const gain = (i: number, direction: Vector3): number => {
    const { most, reach, sigma } = votes[i];
    const { x, y, cosine, sine } = lines[i];
    const [u, v] = [direction[0] * stance.focalPx - x * direction[2], direction[1] * stance.focalPx - y * direction[2]];
    const across = u * sine - v * cosine;
    return most * Math.max(0, 1 - (across * across) / ((u * u + v * v) * (sigma * reach) ** 2));
  };
  const add = (of: Point["of"], azimuthDeg: number, direction: Vector3): void => {
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
  add("upright", 0, up);
  const directionOf = (deg: number): Vector3 => {
    const [s, c] = [Math.sin(deg * RAD), Math.cos(deg * RAD)];
    return [s * right[0] + c * ahead[0], s * right[1] + c * ahead[1], s * right[2] + c * ahead[2]];
  };
  for (let k = 0; k < 4; k++) {
    let [best, most] = [0, 0];
    const rate = (deg: number): void => {
      const direction = directionOf(deg);
      let sum = 0;
      for (let i = 0; i < lines.length; i++) sum += Math.max(0, gain(i, direction) - gains[i]);
      if (sum > most) [best, most] = [deg, sum];
    };
    for (let deg = -90; deg < 90; deg += 0.5) rate(deg);
    const middle = best;
    for (let by = -0.4; by <= 0.4; by += 0.1) rate(middle + by);
    const count = points.length;
    add("level", best, directionOf(best));
    if (points.length === count) break;
  }
  return { points, belongs };
}

/** By how much a line misses a direction, radians. */
function offBy(line: Line, [x, y, z]: Vector3, focalPx: number): number {
  const [u, v] = [x * focalPx - line.x * z, y * focalPx - line.y * z];
  return halfTurn(Math.atan2(v, u) - line.angle);
}

/** Two level directions that can be taken as square to each other, by their index, where the lens is not known better; null: none. */
function rightAngle(points: readonly Point[], { pitchDeg, focalPx }: Stance, focal: KnownFocal, focalSigma: number, { width, height }: Size): [number, number] | null {
  if (focal.sigma < 0.1) return null;
  const level = points
    .map((p, index) => ({ ...p, index }))
    .filter((p) => p.of === "level" && p.tells >= TELLS / 2)
    .sort((a, b) => b.tells - a.tells);
  const far = focalPx / Math.cos(pitchDeg * RAD);
  const height0 = focalPx * Math.tan(pitchDeg * RAD);
  for (let i = 0; i < level.length; i++) {
    for (let j = i + 1; j < level.length; j++) {
      const square = -far * far * Math.tan(level[i].azimuthDeg * RAD) * Math.tan(level[j].azimuthDeg * RAD) - height0 * height0;
      if (!(square > 0)) continue;
      const px = Math.sqrt(square);
      const side = Math.max(width, height);
      // azimuths near straight ahead or abeam leave it open
      if (px < 0.5 * side || px > 3 * side) continue;
      if (Math.abs(Math.log(px / focalPx)) < 3 * Math.max(0.03, Math.min(1, focalSigma))) return [level[i].index, level[j].index];
    }
  }
  return null;
}

/** Least squares of pitch, roll, focal length and azimuths, by what lines miss in multiples of their own uncertainty. */
function fit(
  lines: readonly Line[],
  start: Stance,
  points: readonly Point[],
  belongs: Int8Array,
  focal: KnownFocal,
  square: [number, number] | null,
  blur: number,
  size: Size,
): Pick<Solution, "stance" | "points" | "horizonSigmaDeg" | "focalSigma"> | null {
  const guess = focal.sigma === Infinity ? { px: focal.px, sigma: 0.4 } : focal;
  const count = 3 + points.length;
  let values = [start.pitchDeg, start.rollDeg, Math.log(start.focalPx), ...points.map((p) => p.azimuthDeg)];
  const used = [...belongs.keys()].filter((i) => belongs[i] >= 0);
  const rows = used.length + 2;
  const misses = (v: number[]): Float64Array => {
    const stance = { pitchDeg: v[0], rollDeg: v[1], focalPx: Math.exp(v[2]) };
    const { right, up, ahead } = worldAxes(stance);
    const directions = points.map((p, k): Vector3 => {
      if (p.of === "upright") return up;
      const [s, c] = [Math.sin(v[3 + k] * RAD), Math.cos(v[3 + k] * RAD)];
      return [s * right[0] + c * ahead[0], s * right[1] + c * ahead[1], s * right[2] + c * ahead[2]];
    });
    const out = new Float64Array(rows);
    used.forEach((i, row) => (out[row] = offBy(lines[i], directions[belongs[i]], stance.focalPx) / Math.hypot(lines[i].sigma, blur)));
    out[rows - 2] = (v[2] - Math.log(guess.px)) / guess.sigma;
    out[rows - 1] = square ? (Math.abs(v[3 + square[0]] - v[3 + square[1]]) - 90) / SQUARE_SIGMA : 0;
    return out;
  };
  let normal = new Float64Array(0);
  let spread = 1;
  for (let step = 0; step < 6; step++) {
    const at = misses(values);
    const columns = values.map((value, k) => {
      const h = 1e-4;
      const moved = misses(values.with(k, value + h));
      return moved.map((m, i) => (m - at[i]) / h);
    });
    normal = new Float64Array(count * count);
    const right = new Float64Array(count);
    let [sum, weights] = [0, 0];
    for (let i = 0; i < rows; i++) {
      const w = i < used.length ? lines[used[i]].weight / Math.max(1, Math.abs(at[i]) / 1.5) : 1;
      if (i < used.length) [sum, weights] = [sum + w * at[i] * at[i], weights + w];
      for (let a = 0; a < count; a++) {
        right[a] -= w * columns[a][i] * at[i];
        for (let b = 0; b < count; b++) normal[a * count + b] += w * columns[a][i] * columns[b][i];
      }
    }
    spread = Math.max(1, sum / Math.max(1, weights - count));
    // an azimuth of what is upright stands for nothing
    points.forEach((p, k) => p.of === "upright" && (normal[(3 + k) * count + 3 + k] += 1));
    const change = solveSymmetric(normal, right);
    if (!change || !change.every(Number.isFinite)) return null;
    values = values.map((v, k) => v + change[k]);
  }
  const variance = (k: number): number => {
    const e = new Float64Array(count);
    e[k] = 1;
    return (solveSymmetric(normal, e)?.[k] ?? Infinity) * spread;
  };
  const stance = { pitchDeg: values[0], rollDeg: values[1], focalPx: Math.exp(values[2]) };
  // where the horizon lies: pitch times the lens is one figure, which the pixels tell whatever the lens
  const share = size.width / 2 / stance.focalPx;
  const lift = liftVariance(normal, count, stance) * spread;
  const horizonSigmaDeg = Math.hypot(Math.sqrt(lift), Math.sqrt(variance(1)) * Math.min(1, share), NEVER_SURER);
  const moved = points.map((p, k) => ({ ...p, azimuthDeg: p.of === "upright" ? 0 : values[3 + k] }));
  return { stance, points: moved, horizonSigmaDeg, focalSigma: Math.sqrt(variance(2)) };
}

/** Variance of the height of the horizon in the middle of the picture, degrees²: of pitch and focal length together. */
function liftVariance(normal: Float64Array, count: number, { pitchDeg }: Stance): number {
  const [s, c] = [Math.sin(pitchDeg * RAD), Math.cos(pitchDeg * RAD)];
  // height / focal = tan(pitch); its change, seen from the camera: d pitch / cos² + tan · d log focal, times cos²
  const g = new Float64Array(count);
  g[0] = 1;
  g[2] = (s * c) / RAD;
  const x = solveSymmetric(normal, g);
  return x ? g.reduce((sum, v, k) => sum + v * x[k], 0) : Infinity;
}

/** An angle to 0..π. */
function modulo(angle: number): number {
  const a = angle % Math.PI;
  return a < 0 ? a + Math.PI : a;
}

/** The smaller turn of a line, −π/2..π/2. */
function halfTurn(angle: number): number {
  const a = modulo(angle);
  return a > Math.PI / 2 ? a - Math.PI : a;
}
