import { cutGrid } from "../numeric/gridCut";
import { boxMean } from "../raster/boxMean";
import { quantile } from "../numeric/statistics";
import { connectedCells } from "./components";
import { fitColours, unlikeliness } from "./colourModel";

/** A picture at a coarse level: Oklab, and the log light whose fine detail tells texture. */
export interface AreaField {
  width: number;
  height: number;
  lab: readonly [Float32Array, Float32Array, Float32Array];
}

/** An area with how sure it is, 0..1. */
export interface FoundArea {
  mask: Uint8Array;
  confidence: number;
}

const [UNKNOWN, IN, OUT] = [0, 1, 2];
const ROUNDS = 4;
/** Strength of the wish for short borders along edges: as Rother et al. 2004 have it, and less for subjects with thin limbs. */
const SMOOTHNESS = 50;
const SMOOTHNESS_OF_LIMBS = 12;
const SURE = 1e6;

/**
 * Parts what is wanted from the rest by colour: models of both are fitted, the cheapest border is cut, and both are fitted anew.
 * @param known IN, OUT or UNKNOWN for each sample @param lean by how much more likely than by its colour each sample is wanted, as a logarithm
 * @see Rother, Kolmogorov, Blake 2004, "GrabCut: interactive foreground extraction using iterated graph cuts"
 */
function partByColour(
  { width, height, lab }: AreaField,
  known: Uint8Array,
  start: Uint8Array,
  smoothness = SMOOTHNESS,
  lean: Float32Array | null = null,
): FoundArea | null {
  const n = width * height;
  const [L, a, b] = lab;
  const step = (i: number, j: number) => (L[i] - L[j]) ** 2 + (a[i] - a[j]) ** 2 + (b[i] - b[j]) ** 2;
  let [sum, count] = [0, 0];
  for (let i = 0; i < n; i++) {
    if ((i % width) + 1 < width) [sum, count] = [sum + step(i, i + 1), count + 1];
    if (i + width < n) [sum, count] = [sum + step(i, i + width), count + 1];
  }
  const beta = count / (2 * Math.max(1e-9, sum));
  const right = new Float32Array(n);
  const down = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    if ((i % width) + 1 < width) right[i] = smoothness * Math.exp(-beta * step(i, i + 1));
    if (i + width < n) down[i] = smoothness * Math.exp(-beta * step(i, i + width));
  }
  let mask: Uint8Array = start.slice();
  const apart = new Float32Array(n);
  for (let round = 0; round < ROUNDS; round++) {
    const inside = fitColours(lab, mask);
    const outside = fitColours(
      lab,
      mask.map((v) => 1 - v),
    );
    if (!inside || !outside) return null;
    for (let i = 0; i < n; i++) apart[i] = unlikeliness(outside, L[i], a[i], b[i]) - unlikeliness(inside, L[i], a[i], b[i]) + (lean ? lean[i] : 0);
    const terminal = Float32Array.from(apart, (v, i) => (known[i] === IN ? SURE : known[i] === OUT ? -SURE : v));
    const next = cutGrid({ width, height, terminal, right, down });
    const same = next.every((v, i) => v === mask[i]);
    mask = next;
    if (same) break;
  }
  return { mask, confidence: confidenceOf(mask, apart, known) };
}

/** Share of the samples that were free to go either way and that their own colours put on the side they are on. */
function confidenceOf(mask: Uint8Array, apart: Float32Array, known: Uint8Array): number {
  let [agree, free] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (known[i] !== UNKNOWN) continue;
    free++;
    if (apart[i] > 0 === (mask[i] === 1)) agree++;
  }
  return free ? agree / free : 1;
}

/** Detail below this is even, by lightness; a step above this ends the seed of a sky. Common practice, no source. */
const EVEN = 0.012;
const STEP = 0.03;
/** A sky shows along at least this share of the upper border or of the picture. */
const LEAST_TOP = 0.1;
const LEAST_SHARE = 0.01;
/** No sky reaches further down than this share of the height from where its seed ends. */
const BELOW_SEED = 0.12;

/** Rms of lightness about its mean within a sample, a measure of texture. */
function texture({ width, height, lab: [L] }: AreaField): Float32Array {
  const mean = boxMean({ width, height, data: L.slice() }, 1);
  const power = boxMean({ width, height, data: L.map((v, i) => (v - mean[i]) ** 2) }, 2);
  return power.map((v) => Math.sqrt(Math.max(0, v)));
}

/** Samples that can be reached from some over even ground without a step. @param from on where it begins @returns the same array, filled */
function reach({ width, lab: [L, a, b] }: AreaField, rough: Float32Array, from: Uint8Array): Uint8Array {
  const n = from.length;
  const queue: number[] = [];
  for (let i = 0; i < n; i++) if (from[i]) queue.push(i);
  for (const i of queue) {
    const x = i % width;
    for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= n || from[j] || rough[j] > EVEN) continue;
      if (Math.sqrt((L[i] - L[j]) ** 2 + (a[i] - a[j]) ** 2 + (b[i] - b[j]) ** 2) > STEP) continue;
      from[j] = 1;
      queue.push(j);
    }
  }
  return from;
}

/** Share of a seed whose colours count as those of a sky. */
const USUAL = 0.98;
/** A sky that goes on behind a cable or a branch is followed so many times. */
const FOLLOWED = 2;

/**
 * The sky: what can be reached from the upper border over even ground is its seed; colours of the seed and of what lies far below it part the rest.
 * Where that reaches even ground further down, behind what hangs across, it is begun anew from there.
 * @returns null where nothing even lies along the upper border
 */
export function findSky(field: AreaField): FoundArea | null {
  const { width, height, lab } = field;
  const n = width * height;
  const rough = texture(field);
  const top = new Uint8Array(n);
  let count = 0;
  for (let x = 0; x < width; x++) if (rough[x] < 2 * EVEN) count += top[x] = 1;
  if (count < LEAST_TOP * width) return null;
  let seed = likeLightest(reach(field, rough, top), field);
  if (seed.reduce((sum, v) => sum + v, 0) < LEAST_SHARE * n) return null;
  let bottom = horizonOf(seed, width, height);
  let found = partSky(field, rough, seed, bottom);
  for (let round = 0; found && round < FOLLOWED; round++) {
    const calm = found.mask.map((v, i) => (v && rough[i] < EVEN ? 1 : seed[i]));
    const further = reach(field, rough, calm);
    const lower = horizonOf(further, width, height);
    if (lower <= bottom + BELOW_SEED * height) break;
    [seed, bottom] = [further, lower];
    found = partSky(field, rough, seed, bottom);
  }
  if (!found) return null;
  // what hangs together with the upper border, and what is seen through gaps above the horizon
  const kept = keepAbove(found.mask, width, height, bottom + 2);
  return { mask: kept, confidence: found.confidence * likeSky(kept, lab) };
}

/** A part of a seed that is darker by so much than the lightest, and not bluer by so much (Oklab), is a roof or a wall. Common practice, no source. */
const [DARKER, BLUER] = [0.15, 0.03];
/** Share of the width that the lightest part begins along, at least. */
const LIGHTEST_WIDE = 0.05;

/** Those parts of a seed that are sky beside its lightest: what is even along the upper border may be a roof as well. */
function likeLightest(seed: Uint8Array, { width, height, lab: [L, , b] }: AreaField): Uint8Array {
  const parts = connectedCells(seed, width, height).map((cells) => ({
    cells,
    wide: cells.reduce((n, i) => n + (i < width ? 1 : 0), 0),
    L: cells.reduce((sum, i) => sum + L[i], 0) / cells.length,
    b: cells.reduce((sum, i) => sum + b[i], 0) / cells.length,
  }));
  const wide = parts.filter((p) => p.wide >= LIGHTEST_WIDE * width);
  if (wide.length < 2) return seed;
  const lightest = wide.reduce((a, p) => (p.L > a.L ? p : a));
  const out = seed.slice();
  for (const part of parts) if (part.L < lightest.L - DARKER && part.b > lightest.b - BLUER) for (const i of part.cells) out[i] = 0;
  return out;
}

/** Parts a sky from the rest, given its seed and the row down to which that reaches. */
function partSky(field: AreaField, rough: Float32Array, seed: Uint8Array, bottom: number): FoundArea | null {
  const { width, height, lab } = field;
  const [L, a, b] = lab;
  const row = (i: number) => Math.floor(i / width);
  const known = seed.map((on, i) => (row(i) > bottom + BELOW_SEED * height ? OUT : on && row(i) < bottom ? IN : UNKNOWN));
  const usual = fitColours(
    lab,
    known.map((k) => (k === IN ? 1 : 0)),
  );
  if (!usual) return null;
  // clouds are lighter than the sky they stand in
  const light = quantile(
    L.filter((_, i) => known[i] === IN),
    0.5,
  );
  const unlike = L.map((v, i) => unlikeliness(usual, v, a[i], b[i]));
  const limit = quantile(
    unlike.filter((_, i) => known[i] === IN),
    USUAL,
  );
  const start = known.map((k, i) => (k === IN || (k === UNKNOWN && row(i) < bottom && rough[i] < 2 * EVEN && (L[i] > light || unlike[i] < limit)) ? 1 : 0));
  return partByColour(field, known, start);
}

/** No sky fills more of a picture than this. */
const MOST_SKY = 0.93;
/** By how much a sky is lighter than the rest, or how blue it is by itself and against the rest (Oklab), before it is taken for one. Common practice, no source. */
const LIGHTER = 0.12;
const BLUE = 0.04;

/** How far an area looks like a sky: lighter or bluer than the rest, and not all there is. */
function likeSky(mask: Uint8Array, [L, , b]: AreaField["lab"]): number {
  const [inside, rest] = [
    { n: 0, L: 0, b: 0 },
    { n: 0, L: 0, b: 0 },
  ];
  mask.forEach((on, i) => {
    const of = on ? inside : rest;
    of.n++;
    of.L += L[i];
    of.b += b[i];
  });
  if (inside.n === 0 || inside.n > MOST_SKY * mask.length) return 0;
  const mean = (of: typeof inside, value: "L" | "b") => of[value] / Math.max(1, of.n);
  const lighter = (mean(inside, "L") - mean(rest, "L")) / LIGHTER;
  const bluer = Math.min(-mean(inside, "b"), mean(rest, "b") - mean(inside, "b")) / BLUE;
  return Math.min(1, Math.max(0, lighter, bluer));
}

/** The row that nine tenths of the columns' seeds end above. */
function horizonOf(seed: Uint8Array, width: number, height: number): number {
  const ends: number[] = [];
  for (let x = 0; x < width; x++) {
    let y = 0;
    let last = 0;
    for (; y < height; y++) if (seed[y * width + x]) last = y;
    if (last > 0) ends.push(last);
  }
  ends.sort((p, q) => p - q);
  return ends[Math.floor(0.9 * (ends.length - 1))] ?? 0;
}

function keepAbove(mask: Uint8Array, width: number, height: number, bottom: number): Uint8Array {
  const kept = new Uint8Array(mask.length);
  for (const area of connectedCells(mask, width, height)) {
    const top = area.reduce((y, i) => Math.min(y, Math.floor(i / width)), height);
    if (top < bottom) for (const i of area) kept[i] = 1;
  }
  return kept;
}

/** Least share of the picture that an even surface covers. */
const LEAST_EVEN = 0.015;

/** Texture against lightness that is even, and that is surely not. Common practice, no source. */
const CALM = 0.04;
const ROUGH = 0.09;

/** Even surfaces below the sky, as water or snow: large connected areas of little texture that do not hang on the upper border. */
export function findEven(field: AreaField): FoundArea | null {
  const { width, height } = field;
  const n = width * height;
  const sky = findSky(field)?.mask ?? new Uint8Array(n);
  const rough = texture(field);
  const plain = boxMean({ width, height, data: rough.map((v, i) => v / (0.05 + field.lab[0][i])) }, 3);
  const calm = Uint8Array.from(plain, (v, i) => (v < CALM && !sky[i] ? 1 : 0));
  const seed = new Uint8Array(n);
  for (const area of connectedCells(calm, width, height)) if (area.length > LEAST_EVEN * n) for (const i of area) seed[i] = 1;
  if (!seed.some((v) => v)) return null;
  // what is calm may be unsure along its border, what is far away from it is not
  const near = boxMean({ width, height, data: Float32Array.from(seed) }, Math.round(width / 60));
  const known = Uint8Array.from(seed, (v, i) => (sky[i] || near[i] === 0 || plain[i] > ROUGH ? OUT : v && near[i] > 0.95 ? IN : UNKNOWN));
  return partByColour(field, known, seed);
}

export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/**
 * The subject in a box: what is outside is known to be none of it.
 * @param lean by how much more likely than by its colour each sample is wanted @returns null of a box without room for both
 */
export function findSubject(field: AreaField, { x0, y0, x1, y1 }: Box, lean: Float32Array | null = null): FoundArea | null {
  const { width, height } = field;
  const inside = (i: number) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return x >= x0 && x < x1 && y >= y0 && y < y1;
  };
  const start = Uint8Array.from({ length: width * height }, (_, i) => (inside(i) ? 1 : 0));
  const count = start.reduce((sum, v) => sum + v, 0);
  if (count < 32 || count > width * height - 32) return null;
  const known = start.map((v) => (v ? UNKNOWN : OUT));
  const wanted = unlikeOutside(field, start) ?? start;
  const found = partByColour(field, known, wanted, SMOOTHNESS_OF_LIMBS, lean);
  if (!found || !found.mask.some((v) => v)) return null;
  return { ...found, mask: largest(found.mask, width, height) };
}

/** How wide the strips beside a box are that tell its background, every which sample of them is looked at, and rows to either side. Common practice, no source. */
const [STRIP, EVERY, ROWS_BESIDE] = [24, 3, 2];
/** How much what lies beside counts, and the most that it does towards either side. Common practice, no source. */
const [LEAN, MOST_OUT, MOST_IN] = [0.7, 0.7, 3];
/** So many of the differences across a box are by chance. */
const BY_CHANCE = 0.8;
const LEAST_CHANCE = 1e-6;

/** How much more than by chance each sample in a box differs from what lies beside the box in its row, and above it in its column: above 0 where it does. */
export function unlikeBeside({ width, height, lab: [L, a, b] }: AreaField, { x0, y0, x1, y1 }: Box): Float32Array {
  const lean = new Float32Array(width * height);
  const [left, right] = [Math.max(0, Math.floor(x0)), Math.min(width, Math.ceil(x1))];
  const [top, bottom] = [Math.max(0, Math.floor(y0)), Math.min(height, Math.ceil(y1))];
  const steps = Array.from({ length: STRIP / EVERY }, (_, k) => 1 + k * EVERY);
  const about = (at: number, size: number) => Array.from({ length: 2 * ROWS_BESIDE + 1 }, (_, k) => at + k - ROWS_BESIDE).filter((v) => v >= 0 && v < size);
  const inRow = (y: number, places: number[]) => about(y, height).flatMap((v) => places.filter((u) => u >= 0 && u < width).map((u) => v * width + u));
  const [before, after] = [steps.map((t) => left - t), steps.map((t) => right - 1 + t)];
  const above = steps.map((t) => top - t).filter((v) => v >= 0);
  const apart = (i: number, places: number[]) =>
    places.reduce((least, j) => Math.min(least, (L[i] - L[j]) ** 2 + (a[i] - a[j]) ** 2 + (b[i] - b[j]) ** 2), Infinity);
  // what differs by chance is told across the box: what lies on one side of it held to what lies on the other
  const usual: number[] = [];
  const rows = Array.from({ length: bottom - top }, (_, k) => {
    const [one, other] = [inRow(top + k, before), inRow(top + k, after)];
    if (k % 2 === 0 && one.length > 0 && other.length > 0) {
      for (const u of before) if (u >= 0) usual.push(apart((top + k) * width + u, other));
      for (const u of after) if (u < width) usual.push(apart((top + k) * width + u, one));
    }
    return [...one, ...other];
  });
  if (usual.length === 0) return lean;
  const chance = quantile(Float32Array.from(usual), BY_CHANCE) + LEAST_CHANCE;
  const columns = Array.from({ length: right - left }, (_, k) => about(left + k, width).flatMap((u) => above.map((v) => v * width + u)));
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const i = y * width + x;
      const d = Math.min(apart(i, rows[y - top]), apart(i, columns[x - left]));
      lean[i] = LEAN * Math.min(MOST_IN, Math.max(-MOST_OUT, Math.log(d / chance)));
    }
  }
  return lean;
}

/** Parts of a subject that do not hang together with its largest are kept from this share of it on. */
const OTHER_PART = 0.15;

function largest(mask: Uint8Array, width: number, height: number): Uint8Array {
  const areas = connectedCells(mask, width, height);
  const most = Math.max(...areas.map((area) => area.length));
  const kept = new Uint8Array(mask.length);
  for (const area of areas) if (area.length >= OTHER_PART * most) for (const i of area) kept[i] = 1;
  return kept;
}

/** A colour less likely than this share of those outside of the box is none of them. */
const STRANGE = 0.97;

/** What in a box is unlike what lies around it: a box holds much of that too. @returns null where hardly anything is */
function unlikeOutside({ lab }: AreaField, inside: Uint8Array): Uint8Array | null {
  const around = fitColours(
    lab,
    inside.map((v) => 1 - v),
  );
  if (!around) return null;
  const strange = Float32Array.from(inside, (_, i) => unlikeliness(around, lab[0][i], lab[1][i], lab[2][i]));
  const limit = quantile(
    strange.filter((_, i) => !inside[i]),
    STRANGE,
  );
  const start = inside.map((v, i) => (v && strange[i] > limit ? 1 : 0));
  const [found, all] = [start, inside].map((plane) => plane.reduce((sum, v) => sum + v, 0));
  return found > 0.02 * all ? start : null;
}

/** What surrounds a place up to the next edges: as far as colours stay within a tolerance of its own, ΔE (Oklab, hundredths). */
export function findNear({ width, height, lab }: AreaField, x: number, y: number, tolerance: number): FoundArea | null {
  const n = width * height;
  const [px, py] = [Math.round(x), Math.round(y)];
  if (px < 0 || py < 0 || px >= width || py >= height) return null;
  const smooth = lab.map((plane) => boxMean({ width, height, data: plane.slice() }, 1));
  const start = py * width + px;
  const own = smooth.map((p) => p[start]);
  const apart = (i: number) => 100 * Math.sqrt((smooth[0][i] - own[0]) ** 2 + (smooth[1][i] - own[1]) ** 2 + (smooth[2][i] - own[2]) ** 2);
  const mask = new Uint8Array(n);
  const queue = [start];
  mask[start] = 1;
  let [steep, border] = [0, 0];
  for (const i of queue) {
    const column = i % width;
    for (const j of [column > 0 ? i - 1 : -1, column < width - 1 ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= n || mask[j]) continue;
      const d = apart(j);
      if (d <= tolerance) {
        mask[j] = 1;
        queue.push(j);
      } else {
        border++;
        // a border that lies on an edge goes well beyond the tolerance
        if (d > 1.5 * tolerance) steep++;
      }
    }
  }
  return { mask, confidence: border ? steep / border : 1 };
}
