import { BACKGROUND, FOREGROUND, UNKNOWN, type Band, type Colours, type MatteField } from "./trimap";

/** What known colours make of each sample of a band. */
export interface SampledBand {
  alpha: Float32Array;
  /** how well they explain the sample, and how far apart they are, 0..1 */
  confidence: Float32Array;
}

const RAYS = 4;
/** Rays of samples side by side start at other angles: a cell of this side has them all. */
const CELL = 3;
/** Whose pairs a sample tries besides its own, as steps from it: denser near by, no two on one line. */
const NEIGHBOURS = Int8Array.of(
  ...[-1, 0, 1, 0, 0, -1, 0, 1, -2, -1, 1, -2, 2, 1, -1, 2, -3, 2, -2, -3, 3, -2, 2, 3],
  ...[-5, 0, 5, 1, 0, -5, -1, 5, -6, -5, 5, -6, 6, 5, -5, 6, -9, 2, 9, -2, 2, 9, -2, -9],
);
/** So many pairs are averaged. */
const KEPT = 3;
/** By how much a pair that lies twice as far as the nearest is less likely. */
const FARTHER = 0.1;
/** How far a colour strays from the one that it was taken for, by noise and texture: variance in the dark, and more for each unit of light. */
const [STRAY, STRAY_OF_LIGHT] = [1e-5, 1.2e-3];
/** Colours as far apart as this, squared, tell alpha half as well as those that are very far apart. */
const APART = 7.5e-7;
const TINY = 1e-9;

/** A colour of each sample where there is one. */
interface Pairs {
  front: Float32Array;
  back: Float32Array;
  has: Uint8Array;
}

/**
 * Alpha of a band from known colours: rays go from each sample to the nearest known ones on either side, the pair that explains its surroundings best is its
 * own, then each one takes the mean of the pairs about it that explain it best. Where a plate is known, the background is the plate's own sample.
 * @param known what may be taken for known; more than the field's own, where alpha was solved before
 * @param reach a ray goes so far, samples
 * @see Gastal, Oliveira 2010, "Shared sampling for real-time alpha matting", without its term of energy along the way
 */
export function sampleColours(field: MatteField, band: Band, known: Uint8Array, reach: number): SampledBand {
  return sharePairs(field, band, ownPairs(field, band, known, reach));
}

function ownPairs({ width, height, rgb, plate }: MatteField, { places }: Band, known: Uint8Array, reach: number): Pairs {
  const n = places.length;
  const pairs: Pairs = { front: new Float32Array(3 * n), back: new Float32Array(3 * n), has: new Uint8Array(n) };
  const [fronts, backs] = [new Int32Array(RAYS), new Int32Array(RAYS)];
  const [frontFar, backFar] = [new Float64Array(RAYS), new Float64Array(RAYS)];
  const [R, G, B] = rgb;
  const [PR, PG, PB] = plate ?? rgb;
  for (let k = 0; k < n; k++) {
    const i = places[k];
    const x = i % width;
    const y = (i - x) / width;
    const turn = (((x % CELL) + CELL * (y % CELL)) / (CELL * CELL)) * ((2 * Math.PI) / RAYS);
    let [nf, nb] = [0, 0];
    let [nearFront, nearBack] = [Infinity, Infinity];
    if (plate) {
      backs[0] = i;
      backFar[0] = nearBack = 1;
      nb = 1;
    }
    for (let ray = 0; ray < RAYS; ray++) {
      const angle = turn + (ray * 2 * Math.PI) / RAYS;
      const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
      let front = false;
      let back = plate !== null;
      for (let t = 0; t <= reach && !(front && back); t++) {
        const u = Math.round(x + dx * t);
        const v = Math.round(y + dy * t);
        if (u < 0 || v < 0 || u >= width || v >= height) break;
        const j = v * width + u;
        if (known[j] === UNKNOWN) continue;
        if (known[j] === FOREGROUND && !front) {
          front = true;
          fronts[nf] = j;
          frontFar[nf++] = t + 1;
          nearFront = Math.min(nearFront, t + 1);
        } else if (known[j] === BACKGROUND && !back) {
          back = true;
          backs[nb] = j;
          backFar[nb++] = t + 1;
          nearBack = Math.min(nearBack, t + 1);
        }
      }
    }
    let best = Infinity;
    for (let f = 0; f < nf; f++) {
      for (let b = 0; b < nb; b++) {
        const [jf, jb] = [fronts[f], backs[b]];
        const far = (1 + (FARTHER * frontFar[f]) / nearFront) * (1 + (FARTHER * backFar[b]) / nearBack);
        const cost = far * misfit(rgb, width, height, x, y, R[jf], G[jf], B[jf], PR[jb], PG[jb], PB[jb]);
        if (cost >= best) continue;
        best = cost;
        pairs.has[k] = 1;
        const at = 3 * k;
        pairs.front[at] = R[jf];
        pairs.front[at + 1] = G[jf];
        pairs.front[at + 2] = B[jf];
        pairs.back[at] = PR[jb];
        pairs.back[at + 1] = PG[jb];
        pairs.back[at + 2] = PB[jb];
      }
    }
  }
  return pairs;
}

/** How badly a pair explains the samples about a place, each mixed of it as it fits best. */
function misfit(
  [R, G, B]: Colours,
  width: number,
  height: number,
  x: number,
  y: number,
  frontR: number,
  frontG: number,
  frontB: number,
  backR: number,
  backG: number,
  backB: number,
): number {
  const [fr, fg, fb] = [frontR - backR, frontG - backG, frontB - backB];
  const size = fr * fr + fg * fg + fb * fb + TINY;
  let sum = 0;
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const j = v * width + u;
      const [r, g, b] = [R[j] - backR, G[j] - backG, B[j] - backB];
      const a = Math.min(1, Math.max(0, (r * fr + g * fg + b * fb) / size));
      sum += ((r - a * fr) ** 2 + (g - a * fg) ** 2 + (b - a * fb) ** 2) / strayOf(R[j], G[j], B[j]);
    }
  }
  return sum;
}

const strayOf = (r: number, g: number, b: number) => STRAY + (STRAY_OF_LIGHT / 3) * Math.max(0, r + g + b);

function sharePairs({ width, height, rgb: [R, G, B], plate }: MatteField, { places, index }: Band, { front, back, has }: Pairs): SampledBand {
  const n = places.length;
  const out: SampledBand = { alpha: new Float32Array(n), confidence: new Float32Array(n) };
  const cost = new Float64Array(KEPT);
  const from = new Int32Array(KEPT);
  for (let k = 0; k < n; k++) {
    const i = places[k];
    const x = i % width;
    const y = (i - x) / width;
    let kept = 0;
    for (let s = -2; s < NEIGHBOURS.length; s += 2) {
      const u = x + (s < 0 ? 0 : NEIGHBOURS[s]);
      const v = y + (s < 0 ? 0 : NEIGHBOURS[s + 1]);
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const m = index[v * width + u];
      if (m < 0 || !has[m]) continue;
      const [br, bg, bb] = plate ? [plate[0][i], plate[1][i], plate[2][i]] : [back[3 * m], back[3 * m + 1], back[3 * m + 2]];
      const [fr, fg, fb] = [front[3 * m] - br, front[3 * m + 1] - bg, front[3 * m + 2] - bb];
      const [r, g, b] = [R[i] - br, G[i] - bg, B[i] - bb];
      const a = Math.min(1, Math.max(0, (r * fr + g * fg + b * fb) / (fr * fr + fg * fg + fb * fb + TINY)));
      const off = (r - a * fr) ** 2 + (g - a * fg) ** 2 + (b - a * fb) ** 2;
      let place = kept;
      while (place > 0 && off < cost[place - 1]) place--;
      if (place === KEPT) continue;
      for (let q = Math.min(kept, KEPT - 1); q > place; q--) {
        cost[q] = cost[q - 1];
        from[q] = from[q - 1];
      }
      cost[place] = off;
      from[place] = m;
      kept = Math.min(KEPT, kept + 1);
    }
    if (kept === 0) continue;
    let [fr, fg, fb, br, bg, bb] = [0, 0, 0, 0, 0, 0];
    for (let t = 0; t < kept; t++) {
      const at = 3 * from[t];
      fr += front[at] / kept;
      fg += front[at + 1] / kept;
      fb += front[at + 2] / kept;
      br += (plate ? plate[0][i] : back[at]) / kept;
      bg += (plate ? plate[1][i] : back[at + 1]) / kept;
      bb += (plate ? plate[2][i] : back[at + 2]) / kept;
    }
    const [dr, dg, db] = [fr - br, fg - bg, fb - bb];
    const [r, g, b] = [R[i] - br, G[i] - bg, B[i] - bb];
    const size = dr * dr + dg * dg + db * db;
    const a = Math.min(1, Math.max(0, (r * dr + g * dg + b * db) / (size + TINY)));
    const off = ((r - a * dr) ** 2 + (g - a * dg) ** 2 + (b - a * db) ** 2) / strayOf(R[i], G[i], B[i]);
    out.alpha[k] = a;
    out.confidence[k] = Math.exp(-off) * (size / (size + APART));
  }
  return out;
}
