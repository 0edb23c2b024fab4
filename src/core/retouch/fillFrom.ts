import { fillSmoothly } from "./membrane";

/** Where each place of an area is taken from: steps across and down to its source, whole samples. */
export interface OffsetField {
  width: number;
  height: number;
  dx: Int16Array;
  dy: Int16Array;
}

const HALF = 3;
const ROUNDS = 4;
const SEARCHES = 4;
const SMALLEST = 24;

/** A row of numbers that is the same every time. @see Marsaglia 2003, xorshift */
function numbers(seed: number): () => number {
  let state = seed | 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 4294967296;
  };
}

/**
 * Finds for each place of an area where around it looks as if it went on there: patches are matched and voted, from coarse to fine.
 * @param planes any number of planes @param inside 1 where something is wanted; nothing is taken from there
 * @see Wexler, Shechtman, Irani 2007, "Space-time completion of video"; Barnes et al. 2009, "PatchMatch"
 */
export async function fillFrom(
  planes: Float32Array[],
  inside: Uint8Array,
  width: number,
  height: number,
  step: (share: number) => Promise<void>,
): Promise<OffsetField> {
  const levels = pyramid(planes, inside, width, height);
  let field: OffsetField | null = null;
  for (let l = levels.length - 1; l >= 0; l--) {
    await step((levels.length - 1 - l) / levels.length);
    field = matchLevel(levels[l], field, 17 + l);
  }
  return field!;
}

interface Level {
  planes: Float32Array[];
  inside: Uint8Array;
  width: number;
  height: number;
}

function pyramid(planes: Float32Array[], inside: Uint8Array, width: number, height: number): Level[] {
  const levels: Level[] = [{ planes: planes.map((p) => p.slice()), inside, width, height }];
  for (;;) {
    const { planes: fine, inside: on, width: w, height: h } = levels[levels.length - 1];
    const [cw, ch] = [w >> 1, h >> 1];
    if (Math.min(cw, ch) < SMALLEST) break;
    const coarse = fine.map(() => new Float32Array(cw * ch));
    const mask = new Uint8Array(cw * ch);
    for (let y = 0; y < ch; y++) {
      for (let x = 0; x < cw; x++) {
        const i = 2 * y * w + 2 * x;
        const four = [i, i + 1, i + w, i + w + 1];
        const known = four.filter((j) => !on[j]);
        const from = known.length ? known : four;
        mask[y * cw + x] = known.length < 4 ? 1 : 0;
        fine.forEach((p, c) => (coarse[c][y * cw + x] = from.reduce((sum, j) => sum + p[j], 0) / from.length));
      }
    }
    if (mask.every((v) => v)) break;
    levels.push({ planes: coarse, inside: mask, width: cw, height: ch });
  }
  return levels;
}

function matchLevel({ planes, inside, width, height }: Level, coarse: OffsetField | null, seed: number): OffsetField {
  const random = numbers(seed * 2654435761);
  const n = width * height;
  const [dx, dy] = [new Int16Array(n), new Int16Array(n)];
  const targets: number[] = [];
  inside.forEach((on, i) => on && targets.push(i));
  const sources = usable(inside, width, height);
  const field: OffsetField = { width, height, dx, dy };
  if (sources.length === 0) return field;
  const usableAt = new Uint8Array(n);
  for (const i of sources) usableAt[i] = 1;
  const allowed = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && usableAt[y * width + x] === 1;
  for (const i of targets) {
    const [x, y] = [i % width, Math.floor(i / width)];
    let [ox, oy] = [0, 0];
    if (coarse) {
      const j = Math.min(coarse.height - 1, y >> 1) * coarse.width + Math.min(coarse.width - 1, x >> 1);
      [ox, oy] = [2 * coarse.dx[j], 2 * coarse.dy[j]];
    }
    if (!allowed(x + ox, y + oy) || (ox === 0 && oy === 0)) {
      const s = sources[Math.floor(random() * sources.length)];
      [ox, oy] = [(s % width) - x, Math.floor(s / width) - y];
    }
    [dx[i], dy[i]] = [ox, oy];
  }
  const shown = planes.map((p) => p.slice());
  if (coarse) vote(shown, planes, field, targets);
  else shown.forEach((p) => fillSmoothly(p, inside, width, height));
  for (let round = 0; round < ROUNDS; round++) {
    search(shown, field, targets, allowed, random, round % 2 === 0);
    vote(shown, planes, field, targets);
  }
  return field;
}

/** Middles of patches that hold nothing of the area. */
function usable(inside: Uint8Array, width: number, height: number): number[] {
  const out: number[] = [];
  for (let y = HALF; y < height - HALF; y++) {
    for (let x = HALF; x < width - HALF; x++) {
      let free = true;
      for (let v = -HALF; v <= HALF && free; v++) for (let u = -HALF; u <= HALF; u++) if (inside[(y + v) * width + x + u]) free = false;
      if (free) out.push(y * width + x);
    }
  }
  return out;
}

/** Better sources for each place: those of its neighbours, and random ones ever nearer to its own. */
function search(
  shown: Float32Array[],
  { width, height, dx, dy }: OffsetField,
  targets: number[],
  allowed: (x: number, y: number) => boolean,
  random: () => number,
  forward: boolean,
): void {
  const apart = (x: number, y: number, ox: number, oy: number, most: number) => {
    let sum = 0;
    for (let v = -HALF; v <= HALF; v++) {
      const ty = Math.min(height - 1, Math.max(0, y + v));
      const sy = y + oy + v;
      for (let u = -HALF; u <= HALF; u++) {
        const t = ty * width + Math.min(width - 1, Math.max(0, x + u));
        const s = sy * width + x + ox + u;
        for (let c = 0; c < shown.length; c++) {
          const d = shown[c][t] - shown[c][s];
          sum += d * d;
        }
      }
      if (sum >= most) return sum;
    }
    return sum;
  };
  const reach = Math.max(width, height);
  const back = forward ? -1 : 1;
  for (let k = 0; k < targets.length; k++) {
    const i = targets[forward ? k : targets.length - 1 - k];
    const [x, y] = [i % width, Math.floor(i / width)];
    let best = apart(x, y, dx[i], dy[i], Infinity);
    const attempt = (ox: number, oy: number) => {
      if (!allowed(x + ox, y + oy)) return;
      const d = apart(x, y, ox, oy, best);
      if (d < best) {
        best = d;
        dx[i] = ox;
        dy[i] = oy;
      }
    };
    for (const j of [x + back >= 0 && x + back < width ? i + back : -1, i + back * width]) {
      if (j >= 0 && j < dx.length && (dx[j] !== 0 || dy[j] !== 0)) attempt(dx[j], dy[j]);
    }
    for (let s = 0, radius = reach; s < SEARCHES && radius >= 1; s++, radius /= 4) {
      attempt(dx[i] + Math.round((2 * random() - 1) * radius), dy[i] + Math.round((2 * random() - 1) * radius));
    }
  }
}

/** Every place becomes the mean of what the patches over it say. */
function vote(shown: Float32Array[], given: Float32Array[], { width, height, dx, dy }: OffsetField, targets: number[]): void {
  const next = shown.map(() => new Float32Array(targets.length));
  targets.forEach((i, k) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let count = 0;
    for (let v = -HALF; v <= HALF; v++) {
      for (let u = -HALF; u <= HALF; u++) {
        const [px, py] = [x + u, y + v];
        if (px < 0 || py < 0 || px >= width || py >= height) continue;
        const j = py * width + px;
        if (dx[j] === 0 && dy[j] === 0) continue;
        const [sx, sy] = [x + dx[j], y + dy[j]];
        if (sx < 0 || sy < 0 || sx >= width || sy >= height) continue;
        given.forEach((p, c) => (next[c][k] += p[sy * width + sx]));
        count++;
      }
    }
    if (count) next.forEach((p) => (p[k] /= count));
    else shown.forEach((p, c) => (next[c][k] = p[i]));
  });
  targets.forEach((i, k) => shown.forEach((p, c) => (p[i] = next[c][k])));
}
