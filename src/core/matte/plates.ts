import { connectedCells } from "../masks/components";
import { solveSymmetric } from "../numeric/linearSystem";
import { normalEquations } from "../numeric/normalEquations";
import { median, quantile } from "../numeric/statistics";
import { boxMean } from "../raster/boxMean";
import type { Colours } from "./trimap";

/** Light below this says nothing of a ratio. */
const LEAST_LIGHT = 0.01;
/** A sample differs where it does by so many times what most differ by. Common practice, no source. */
const DIFFERS = 14;
/** A plate of the same view differs by at most so much where nothing stands before it. Common practice, no source. */
const MOST_USUAL = 60;
/** A gap that differs by more than so many times is none. Common practice, no source. */
const BY_CHANCE = 3;
/** The least difference that counts, as variance of light in the dark and for each unit of it; codes of 8 bit stray that much. */
const [LEAST, LEAST_OF_LIGHT] = [2e-6, 1.5e-4];

type Gains = [number, number, number];

/** By what red, green and blue of a plate are to be multiplied to be as bright as a picture that mostly shows the same. */
export function plateGains(rgb: Colours, plate: Colours): Gains {
  return rgb.map((own, c) => {
    const ratios = plate[c].reduce<number[]>((all, v, i) => {
      if (v > LEAST_LIGHT && own[i] > LEAST_LIGHT) all.push(own[i] / v);
      return all;
    }, []);
    return ratios.length ? median(ratios) : 1;
  }) as Gains;
}

/** Where a picture differs from a plate of the same view: 1 by sample. @returns null where even what is alike differs: that is no plate of it */
export function differsFromPlate(rgb: Colours, plate: Colours, width: number, height: number): Uint8Array | null {
  const off = offFromPlate(rgb, plate);
  const usual = usualOff(off);
  if (usual > MOST_USUAL) return null;
  const about = boxMean({ width, height, data: off }, 1);
  const differs = Uint8Array.from(about, (v) => (v > DIFFERS * usual ? 1 : 0));
  // a gap shows the plate itself; what is only of its colour by chance differs by more than it does elsewhere
  for (const gap of connectedCells(
    differs.map((on) => 1 - on),
    width,
    height,
  )) {
    const mean = gap.reduce((sum, i) => sum + off[i], 0) / gap.length;
    if (mean > BY_CHANCE * usual) for (const i of gap) differs[i] = 1;
  }
  return differs;
}

/** What differs from a plate by no more than so many times what most does is the plate itself. Common practice, no source. */
const AS_USUAL = 4;

/** Where a plate, or a backdrop, is seen itself or through what stands before it: 1 by sample. @param hasDetail whether it has detail of its own to be seen by */
export function plateIsSeen(rgb: Colours, plate: Colours, width: number, height: number, hasDetail: boolean): Uint8Array {
  const off = offFromPlate(rgb, plate);
  const usual = usualOff(off);
  const through = hasDetail ? plateShowsThrough(rgb, plate, width, height) : new Uint8Array(off.length);
  return through.map((on, i) => (on || off[i] < AS_USUAL * usual ? 1 : 0));
}

/** By how much each sample differs from a plate, as a multiple of what codes stray by. */
function offFromPlate(rgb: Colours, plate: Colours): Float32Array {
  const off = new Float32Array(rgb[0].length);
  for (let i = 0; i < off.length; i++) {
    const light = (plate[0][i] + plate[1][i] + plate[2][i]) / 3;
    const d = (rgb[0][i] - plate[0][i]) ** 2 + (rgb[1][i] - plate[1][i]) ** 2 + (rgb[2][i] - plate[2][i]) ** 2;
    off[i] = d / (LEAST + LEAST_OF_LIGHT * light);
  }
  return off;
}

/** What most of a picture differs from its plate by: a quarter of it is surely among what is behind. */
const usualOff = (off: Float32Array): number => Math.max(1, quantile(off, 0.25) * 2);

/** Half the side of the windows in which a plate is looked for through what stands before it, samples. */
const WINDOW = 5;
/** A plate shows through where its detail is there by so much and explains so much of what varies. Common practice, no source. */
const [SHOWS_BY, EXPLAINS] = [0.12, 0.25];

/** Where a plate's own detail is seen through what stands before it, as through gauze or glass: 1 by sample. */
export function plateShowsThrough(rgb: Colours, plate: Colours, width: number, height: number): Uint8Array {
  const n = width * height;
  const mean = (of: (c: number, i: number) => number) =>
    [0, 1, 2].map((c) => boxMean({ width, height, data: Float32Array.from({ length: n }, (_, i) => of(c, i)) }, WINDOW));
  const [own, behind] = [mean((c, i) => rgb[c][i]), mean((c, i) => plate[c][i])];
  const both = mean((c, i) => rgb[c][i] * plate[c][i]);
  const [ownPower, behindPower] = [mean((c, i) => rgb[c][i] ** 2), mean((c, i) => plate[c][i] ** 2)];
  const sum = (of: (c: number) => number) => of(0) + of(1) + of(2);
  return Uint8Array.from({ length: n }, (_, i) => {
    const together = sum((c) => both[c][i] - own[c][i] * behind[c][i]);
    const ofPlate = sum((c) => behindPower[c][i] - behind[c][i] ** 2) + LEAST;
    const ofPicture = sum((c) => ownPower[c][i] - own[c][i] ** 2) + LEAST;
    const slope = together / ofPlate;
    return slope > SHOWS_BY && (slope * together) / ofPicture > EXPLAINS ? 1 : 0;
  });
}

/** How far inside a border nothing of a plate is seen between strands any more, and from how far around what is in front there is taken, samples. Common practice, no source. */
const [DEEP, FROM] = [24, 36];
/** Side by side within so many samples, these shares of what is in front: a strand and a gap. Common practice, no source. */
const [STRAND_WITHIN, STRAND, GAP] = [2, 0.8, 0.5];
const LEAST_DEEP = 0.02;
/** A gap differs from the plate by no more than so many times what most does: coders stray more beside strands. Common practice, no source. */
const NEARLY = 12;

/**
 * Where a plate is seen between strands of what stands before it: near the border, samples lie on the way from the plate to what is in front deep inside, some of them near that and
 * others beside them near the plate. @param mask of what differs from the plate @returns 1 by sample
 */
export function gapsBetweenStrands(rgb: Colours, plate: Colours, mask: Uint8Array, width: number, height: number): Uint8Array {
  const n = width * height;
  const inside = boxMean({ width, height, data: Float32Array.from(mask) }, DEEP);
  const deep = inside.map((v) => (v > 0.999 ? 1 : 0));
  const amount = boxMean({ width, height, data: deep }, FROM);
  const front = rgb.map((plane) => boxMean({ width, height, data: plane.map((v, i) => v * deep[i]) }, FROM));
  // NaN: not near a border, or nothing is known of what is in front
  const share = new Float32Array(n).fill(NaN);
  for (let i = 0; i < n; i++) {
    if (!mask[i] || deep[i] || amount[i] < LEAST_DEEP) continue;
    let [along, size] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const way = front[c][i] / amount[i] - plate[c][i];
      along += way * (rgb[c][i] - plate[c][i]);
      size += way * way;
    }
    if (size > 0) share[i] = along / size;
  }
  const off = offFromPlate(rgb, plate);
  const usual = usualOff(off);
  const isGap = (i: number) => share[i] < GAP && off[i] < NEARLY * usual;
  const seen = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (Number.isNaN(share[i])) continue;
    const x = i % width;
    const y = (i - x) / width;
    let [hasGap, hasStrand] = [false, false];
    for (let v = Math.max(0, y - STRAND_WITHIN); v <= Math.min(height - 1, y + STRAND_WITHIN); v++) {
      for (let u = Math.max(0, x - STRAND_WITHIN); u <= Math.min(width - 1, x + STRAND_WITHIN); u++) {
        const j = v * width + u;
        hasGap ||= isGap(j);
        hasStrand ||= share[j] > STRAND;
      }
    }
    if (hasGap && hasStrand) seen[i] = 1;
  }
  // a wider gap is seen from its border on
  const waiting = Array.from(seen.keys()).filter((i) => seen[i]);
  while (waiting.length > 0) {
    const i = waiting.pop()!;
    const x = i % width;
    for (const j of [x > 0 ? i - 1 : -1, x + 1 < width ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= n || seen[j] || !isGap(j)) continue;
      seen[j] = 1;
      waiting.push(j);
    }
  }
  return seen;
}

/** Exponents of x and y of a surface of second order. */
const TERMS: readonly (readonly [number, number])[] = [
  [0, 0],
  [1, 0],
  [0, 1],
  [2, 0],
  [1, 1],
  [0, 2],
];
const ROUNDS = 6;
/** What strays from the surface by so many times the median is not of it. */
const OUTLIES = 3;
/** A backdrop is even where most of its border strays less than this share of its light. Common practice, no source. */
const MOST_STRAY = 0.08;
/** Share of the shorter side along each border where only the backdrop shows. */
const BORDER = 0.04;

/** A backdrop's light as a smooth surface over the picture, 0..1 across and down; a row of terms for each colour. */
export type Backdrop = readonly [Float64Array, Float64Array, Float64Array];

/**
 * The light of an even backdrop with its falloff, from the borders of a picture, what stands in front left out.
 * @returns null where the borders are not even
 */
export function fitBackdrop(rgb: Colours, width: number, height: number): Backdrop | null {
  const edge = Math.max(2, Math.round(BORDER * Math.min(width, height)));
  const places: number[] = [];
  for (let i = 0; i < width * height; i++) {
    const x = i % width;
    const y = (i - x) / width;
    if (x < edge || y < edge || x >= width - edge || y >= height - edge) places.push(i);
  }
  const columns = TERMS.map(([p, q]) => Float64Array.from(places, (i) => ((i % width) / width) ** p * (Math.floor(i / width) / height) ** q));
  const weights = new Float64Array(places.length).fill(1);
  let surfaces: Float64Array[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    surfaces = [];
    for (const plane of rgb) {
      const { normal, right } = normalEquations(
        columns,
        weights,
        Float64Array.from(places, (i) => plane[i]),
      );
      const surface = solveSymmetric(normal, right);
      if (!surface) return null;
      surfaces.push(surface);
    }
    const stray = Float64Array.from(places, (i, k) =>
      Math.sqrt(surfaces.reduce((sum, s, c) => sum + (rgb[c][i] - s.reduce((v, term, t) => v + term * columns[t][k], 0)) ** 2, 0)),
    );
    const usual = median(stray);
    const light = median(Float64Array.from(places, (i) => Math.max(rgb[0][i], rgb[1][i], rgb[2][i])));
    if (round === ROUNDS - 1 && usual > MOST_STRAY * Math.max(LEAST_LIGHT, light)) return null;
    stray.forEach((v, k) => (weights[k] = v <= OUTLIES * usual + 1e-6 ? 1 : 0));
  }
  return surfaces as unknown as Backdrop;
}

/** A backdrop's light over a rectangle of a picture of these sides. */
export function backdropPlanes(
  backdrop: Backdrop,
  whole: { width: number; height: number },
  rect: { x: number; y: number; width: number; height: number },
): Colours {
  return backdrop.map((surface) => {
    const out = new Float32Array(rect.width * rect.height);
    for (let y = 0; y < rect.height; y++) {
      const v = (rect.y + y) / whole.height;
      for (let x = 0; x < rect.width; x++) {
        const u = (rect.x + x) / whole.width;
        out[y * rect.width + x] = Math.max(0, surface[0] + surface[1] * u + surface[2] * v + surface[3] * u * u + surface[4] * u * v + surface[5] * v * v);
      }
    }
    return out;
  }) as unknown as Colours;
}
