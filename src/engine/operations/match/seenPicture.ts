import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { project } from "../../../core/geometry/matrix3";
import { fillPixels, type CellRuns } from "../../../core/masks/cellRuns";
import type { Samples } from "../../../core/match/transfer";
import { Refusal } from "../../../core/refusal";
import { message } from "../../../messages/message";
import type { CutPicture } from "../matte/CutProposals";

/** Longest side at which pictures are looked at, samples; how many of them are kept, for places and for colours; and half of the side of a marked patch, px of a picture. */
const SIDE = 1000;
const [MOST_PLACES, MOST_COLOURS] = [24_000, 10_000];
const ROWS = 256;
const PATCH = 4;

/** What of a picture is looked at. */
export interface PictureMask {
  cellPx: number;
  runs: CellRuns;
}

/** A picture at the level it is looked at, and px by px. */
export interface Seen {
  whole: CutPicture;
  level: number;
  width: number;
  height: number;
  planes: readonly Float32Array[];
}

export function seen(picture: CutPicture): Seen {
  const level = Math.min(picture.levels - 1, Math.max(0, levelOfSide(picture, SIDE)));
  const size = sizeAtLevel(picture.width, picture.height, level);
  return { whole: picture, level, ...size, planes: picture.read(level, { x: 0, y: 0, ...size }) };
}

/** Whether a sample of a picture lies in a mask, all of it. */
export function insideOf({ cellPx, runs }: PictureMask, { level, width, height }: Seen): (i: number) => boolean {
  const scale = 2 ** level;
  const on = fillPixels(runs, cellPx, { x: 0, y: 0, width: width * scale, height: height * scale });
  return (i) => {
    const [x, y] = [(i % width) * scale, Math.floor(i / width) * scale];
    const [right, bottom] = [x + scale - 1, y + scale - 1];
    return on[y * width * scale + x] + on[y * width * scale + right] + on[bottom * width * scale + x] + on[bottom * width * scale + right] === 4;
  };
}

/** Evenly spread samples of a picture, at most so many. */
export function samplesOf({ width, height, planes }: Seen, isIn: ((i: number) => boolean) | null, most = MOST_COLOURS): Samples {
  const all = [...Array(width * height).keys()].filter((i) => !isIn || isIn(i));
  const step = Math.max(1, all.length / most);
  const count = Math.floor(all.length / step);
  const light = new Float32Array(3 * count);
  for (let k = 0; k < count; k++) for (let c = 0; c < 3; c++) light[3 * k + c] = planes[c][all[Math.floor(k * step)]];
  return { count, light };
}

/** Single px of some rows of a picture as it is, for means of a coarse level have colours that no px has. */
export function pixelsOf({ whole }: Seen, mask: PictureMask | null): Samples {
  const { width, height } = whole;
  const rows = Math.min(ROWS, height);
  const step = Math.max(1, Math.floor((rows * width) / MOST_COLOURS));
  const light: number[] = [];
  for (let k = 0; k < rows; k++) {
    const y = Math.floor(((k + 0.5) / rows) * height);
    const row = { x: 0, y, width, height: 1 };
    const on = mask && fillPixels(mask.runs, mask.cellPx, row);
    const planes = whole.read(0, row);
    for (let x = k % step; x < width; x += step) if (!on || on[x]) light.push(planes[0][x], planes[1][x], planes[2][x]);
  }
  return { count: light.length / 3, light: Float32Array.from(light) };
}

/** Samples of places that both pictures show. */
export function placesOf(own: Seen, wanted: Seen, matrix: readonly number[], isIn: ((i: number) => boolean) | null): { own: Samples; wanted: Samples } | null {
  const step = Math.max(1, Math.floor((own.width * own.height) / MOST_PLACES));
  const [mine, theirs]: number[][] = [[], []];
  for (let i = 0; i < own.width * own.height; i += step) {
    if (isIn && !isIn(i)) continue;
    const px = [i % own.width, Math.floor(i / own.width)].map((v) => (v + 0.5) * 2 ** own.level - 0.5);
    const [u, v] = project(matrix, px[0], px[1]).map((w) => (w + 0.5) / 2 ** wanted.level - 0.5);
    if (!(u >= 0 && v >= 0 && u <= wanted.width - 1 && v <= wanted.height - 1)) continue;
    for (let c = 0; c < 3; c++) {
      mine.push(own.planes[c][i]);
      theirs.push(between(wanted.planes[c], wanted.width, wanted.height, u, v));
    }
  }
  const count = mine.length / 3;
  return count < FEWEST_PLACES ? null : { own: { count, light: Float32Array.from(mine) }, wanted: { count, light: Float32Array.from(theirs) } };
}

const FEWEST_PLACES = 500;

function between(plane: Float32Array, width: number, height: number, u: number, v: number): number {
  const [i, j] = [Math.min(width - 2, Math.floor(u)), Math.min(height - 2, Math.floor(v))];
  const [a, b, k] = [u - i, v - j, j * width + i];
  return (plane[k] * (1 - a) + plane[k + 1] * a) * (1 - b) + (plane[k + width] * (1 - a) + plane[k + width + 1] * a) * b;
}

/** The middle light of a marked patch. @throws Refusal where it lies outside */
export function patchOf({ level, width, height, planes }: Seen, x: number, y: number): number[] {
  const [u, v] = [x, y].map((p) => Math.round((p + 0.5) / 2 ** level - 0.5));
  if (!(u >= 0 && v >= 0 && u < width && v < height)) throw new Refusal("unclear", message("match.pairOutside", { x, y }));
  const reach = Math.max(1, Math.round(PATCH / 2 ** level));
  let count = 0;
  const sum = [0, 0, 0];
  for (let j = Math.max(0, v - reach); j <= Math.min(height - 1, v + reach); j++) {
    for (let i = Math.max(0, u - reach); i <= Math.min(width - 1, u + reach); i++) {
      for (let c = 0; c < 3; c++) sum[c] += planes[c][j * width + i];
      count++;
    }
  }
  return sum.map((s) => s / count);
}

/** Mean ΔE2000 of samples of the same places. */
export function meanDifference(p: Samples, q: Samples): number {
  let sum = 0;
  for (let i = 0; i < 3 * p.count; i += 3) {
    const [a, b] = [p, q].map(({ light }) => workingToLab([light[i], light[i + 1], light[i + 2]]));
    sum += differenceCiede2000(a, b);
  }
  return sum / p.count;
}
