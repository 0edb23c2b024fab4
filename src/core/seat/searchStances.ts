import type { Size } from "../geometry/lens";
import { HELD, type KnownFocal } from "./fitStance";
import { baselineOf, halfTurn, modulo, voteOf, type Line } from "./lines";
import type { Stance } from "./upright";

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
/** Lines that vote: the longest. */
const MOST_VOTING = 350;
/** Stances given back. */
const MOST_STARTS = 16;
/** How far they lie apart at least, in pitch or in roll, degrees. */
const APART = 1.6;

/** By how much a camera is held less likely than level, natural logarithm. */
export const unlikely = ({ pitchDeg, rollDeg }: Pick<Stance, "pitchDeg" | "rollDeg">): number =>
  ((pitchDeg / HELD.pitch) ** 2 + (rollDeg / HELD.roll) ** 2) / 2;

/** The stances under which lines meet best, coarsely: a few that lie apart. */
export function searchStances(all: readonly Line[], focal: KnownFocal, size: Size): Stance[] {
  const lines = all.slice(0, MOST_VOTING);
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
    if (starts.every((s) => Math.abs(s.pitchDeg - stance.pitchDeg) > APART || Math.abs(s.rollDeg - stance.rollDeg) > APART)) starts.push(stance);
    if (starts.length === MOST_STARTS) break;
  }
  return starts;
}

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
