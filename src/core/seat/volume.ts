import type { Rectangle } from "../geometry/rectangle";

/** How deep what is seen from one side may be: as deep as each limb of it is wide. Samples. */
export interface Volume {
  /** half of the depth of each sample where something is; elsewhere how far from anything it lies, negative */
  half: Float32Array;
  deepest: number;
  /** half of the depth of what stands on the ground */
  standsDeep: number;
  /** half of the width of its thin limbs */
  thin: number;
}

/** Alpha from which on something is there. */
const THERE = 0.1;
/** Longest side that limbs are looked at in, samples. */
const LIMB_SIDE = 320;
/** Share of the height that stands on the ground. */
const STANDS = 0.06;
/** Share of the limbs that are thinner than its thin ones. */
const THIN = 0.1;
const DIAGONAL = Math.SQRT2;
/** By what share such steps are longer than the way straight there, at most: at 22.5°. */
const OVER = Math.cos(Math.PI / 8);

/** Where samples cover something. */
export function extentOf(alpha: Float32Array, width: number, height: number): Rectangle | null {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (alpha[y * width + x] === 0) continue;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      y1 = y;
    }
  }
  return x1 < 0 ? null : { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
}

/** The depth of what covers samples: an upright limb is round across each row, and none is deeper than it is thick, whichever way it points. */
export function volumeOf(alpha: Float32Array, width: number, height: number): Volume {
  const limbs = limbsOf(alpha, width, height);
  const half = new Float32Array(width * height);
  let deepest = 0;
  const extent = extentOf(alpha, width, height);
  const standsFrom = extent ? extent.y + (1 - STANDS) * extent.height : height;
  let [left, right, stands] = [width, -1, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (alpha[i] <= THERE) {
        half[i] = -limbs.away(x, y);
        continue;
      }
      let end = x;
      while (end + 1 < width && alpha[i + end + 1 - x] > THERE) end++;
      const [middle, radius] = [(x + end) / 2, (end - x + 1) / 2];
      for (let k = x; k <= end; k++) {
        const round = Math.sqrt(Math.max(0, radius * radius - (k - middle) ** 2));
        const deep = Math.min(round, limbs.thickness(k, y));
        half[i + k - x] = deep;
        if (deep > deepest) deepest = deep;
        if (y >= standsFrom) stands = Math.max(stands, deep);
      }
      if (y >= standsFrom) [left, right] = [Math.min(left, x), Math.max(right, end)];
      x = end;
    }
  }
  return { half, deepest, standsDeep: stands, thin: limbs.thin };
}

/** What is there, coarsely: how thick the limb is that a sample belongs to, and how far from any it lies, in samples at full size. */
function limbsOf(alpha: Float32Array, width: number, height: number) {
  const s = Math.max(1, Math.ceil(Math.max(width, height) / LIMB_SIDE));
  const [w, h] = [Math.ceil(width / s), Math.ceil(height / s)];
  const there = new Uint8Array(w * h);
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / s) * w;
    for (let x = 0; x < width; x++) if (alpha[y * width + x] > THERE) there[row + Math.floor(x / s)] = 1;
  }
  const inside = distances(there, w, h, 0);
  const outside = distances(there, w, h, 1);
  const thick = new Float32Array(w * h);
  const ridge: number[] = [];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (!there[i] || !isRidge(inside, w, h, x, y)) continue;
      const r = inside[i];
      ridge.push(r);
      const reach = Math.ceil(r);
      for (let v = Math.max(0, y - reach); v <= Math.min(h - 1, y + reach); v++) {
        for (let u = Math.max(0, x - reach); u <= Math.min(w - 1, x + reach); u++) if (thick[v * w + u] < r) thick[v * w + u] = r;
      }
    }
  }
  ridge.sort((a, b) => a - b);
  const at = (x: number, y: number) => Math.floor(y / s) * w + Math.floor(x / s);
  return {
    thickness: (x: number, y: number) => s * Math.max(0.5, thick[at(x, y)] - 0.5),
    away: (x: number, y: number) => s * Math.max(0, OVER * outside[at(x, y)] - DIAGONAL) + 0.5,
    thin: s * (ridge[Math.floor(THIN * ridge.length)] ?? 1),
  };
}

/** Whether no neighbour of a sample lies deeper inside. */
function isRidge(inside: Float32Array, w: number, h: number, x: number, y: number): boolean {
  const r = inside[y * w + x];
  for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) if (inside[v * w + u] > r) return false;
  return true;
}

/** How far each sample lies from the next that is `to`, at most a little too far: steps along rows, columns and diagonals. What lies outside is none. */
function distances(there: Uint8Array, w: number, h: number, to: 0 | 1): Float32Array {
  const far = w + h;
  const outside = to === 0 ? 1 : far;
  const d = Float32Array.from(there, (v) => (v === to ? 0 : far));
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= w || y >= h ? outside - 1 : d[y * w + x]);
  const relax = (x: number, y: number, by: number) => {
    const i = y * w + x;
    d[i] = Math.min(d[i], at(x - by, y) + 1, at(x, y - by) + 1, at(x - by, y - by) + DIAGONAL, at(x + by, y - by) + DIAGONAL);
  };
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) relax(x, y, 1);
  for (let y = h - 1; y >= 0; y--) for (let x = w - 1; x >= 0; x--) relax(x, y, -1);
  return d;
}
