import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { estimateIlluminant, type Illuminant } from "../../../core/color/illuminant";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { project } from "../../../core/geometry/matrix3";
import { fillPixels, type CellRuns } from "../../../core/masks/cellRuns";
import { matchFigures, type MatchFigures } from "../../../core/match/figures";
import { fitTransfer, ownPlanes } from "../../../core/match/fitTransfer";
import { contradiction, matchPairs, MOST_PAIRS } from "../../../core/match/pairs";
import { adjustmentsOf, type ProposedAdjustment } from "../../../core/match/proposal";
import { matchColours } from "../../../core/match/sliced";
import { applyStep, matchSteps, type StepProposal } from "../../../core/match/steps";
import { applyTransfer, type Samples, type Transfer } from "../../../core/match/transfer";
import type { Filters } from "../../../core/raster/filters";
import { Refusal } from "../../../core/refusal";
import { message } from "../../../messages/message";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { CutPicture } from "../matte/CutProposals";

/** How a picture is brought to another: place by place, by the places that were marked, by its colours as a whole, or in steps. */
export const MATCH_METHODS = ["places", "pairs", "colours", "steps"] as const;
export type MatchMethod = (typeof MATCH_METHODS)[number];

/** What is asked of a match of two pictures. */
export interface Matching {
  /** null: by colours where both have the same ones, else in steps */
  method: MatchMethod | null;
  /** px of the picture → px of the reference, for a match of places */
  matrix: readonly number[] | null;
  /** what of the picture is matched; null: all of it */
  mask: { cellPx: number; runs: CellRuns } | null;
  /** x, y of the picture and of the reference, for a match of pairs */
  pairs: number[][];
}

export interface MatchProposal {
  method: MatchMethod;
  adjustments: ProposedAdjustment[];
  /** of a match in steps: what each does */
  steps: StepProposal[];
  before: MatchFigures;
  after: MatchFigures;
  reference: MatchFigures;
  /** mean ΔE2000 over the places that both show; null where none are told */
  deltaE: { before: number; after: number } | null;
  /** what is left of each pair, ΔE2000 */
  residuals: number[];
}

/** Longest side at which pictures are looked at, samples; how many of them are kept, for places and for colours; and half of the side of a marked patch, px of a picture. */
const SIDE = 1000;
const [MOST_PLACES, MOST_COLOURS] = [24_000, 10_000];
const ROWS = 256;
const PATCH = 4;
/** Colours that lie nearer to their likes than that, of the encoded range, are those of one scene. Common practice, no source. */
const SAME_COLOURS = 0.006;

/** What brings a picture to another, as ordinary adjustments with what they leave. @throws Refusal where a side tells nothing, or pairs contradict each other */
export async function matchPictures(
  { filters }: Pick<EngineContext, "filters">,
  picture: CutPicture,
  other: CutPicture,
  request: Matching,
  task: Task,
): Promise<MatchProposal> {
  const { mask, pairs } = request;
  await task.step(0, 4, "task.matching");
  const own = seen(picture);
  await task.step(1, 4, "task.matching");
  const wanted = seen(other);
  await task.step(2, 4, "task.matching");
  const isIn = mask && insideOf(mask, own);
  const samples = samplesOf(own, MOST_COLOURS, isIn);
  const theirs = samplesOf(wanted, MOST_COLOURS, null);
  const [before, reference] = [matchFigures(samples), matchFigures(theirs)];
  if (!before) throw new Refusal("unclear", message(mask ? "match.maskTellsNothing" : "match.pictureTellsNothing", {}));
  if (!reference || isOneColour(reference)) throw new Refusal("unclear", message("match.referenceTellsNothing", {}));
  const places = request.matrix && placesOf(own, wanted, request.matrix, isIn);
  let residuals: number[] = [];
  let transfer: Transfer | null = null;
  let method = request.method ?? "colours";
  if (method === "colours") {
    const colours = pixelsOf(own, mask);
    await task.step(3, 4, "task.matching");
    const found = matchColours(colours, pixelsOf(wanted, null));
    // colours of another scene are not mine: what they are drawn to would bend mine
    if (request.method === null && found.left > SAME_COLOURS) method = "steps";
    else transfer = found.transfer;
  } else if (method === "pairs") {
    if (pairs.length < 1 || pairs.length > MOST_PAIRS) throw new Refusal("unclear", message("match.pairsCount", { most: MOST_PAIRS }));
    const told = pairs.map(([x, y, u, v]) => ({ own: patchOf(own, x, y), wanted: patchOf(wanted, u, v) }));
    const twice = contradiction(told);
    if (twice) throw new Refusal("unclear", message("match.pairsContradict", { first: twice[0] + 1, second: twice[1] + 1 }));
    ({ transfer, left: residuals } = matchPairs(told));
  } else if (method === "places") {
    if (!places) throw new Refusal("unclear", message("match.noPlaces", {}));
    transfer = fitTransfer(places.own, places.wanted);
  }
  const steps = transfer ? [] : matchSteps(samples, reference, 1, mask ? [] : [lightOf(own, filters), lightOf(wanted, filters)])!;
  const adjustments = transfer ? adjustmentsOf(transfer) : steps.map(({ adjustment, values }) => ({ adjustment, values }));
  const done = (s: Samples): Samples =>
    transfer ? applyTransfer(s, transfer) : adjustments.reduce((t, { adjustment, values }) => applyStep(t, adjustment as "zones", values), s);
  return {
    method,
    adjustments,
    steps,
    before,
    after: matchFigures(done(samples))!,
    reference,
    deltaE: places && { before: meanDifference(places.own, places.wanted), after: meanDifference(done(places.own), places.wanted) },
    residuals,
  };
}

/** A picture at the level it is looked at, and px by px. */
interface Seen {
  whole: CutPicture;
  level: number;
  width: number;
  height: number;
  planes: readonly Float32Array[];
}

function seen(picture: CutPicture): Seen {
  const level = Math.min(picture.levels - 1, Math.max(0, levelOfSide(picture, SIDE)));
  const size = sizeAtLevel(picture.width, picture.height, level);
  return { whole: picture, level, ...size, planes: picture.read(level, { x: 0, y: 0, ...size }) };
}

/** The light that a picture was taken in, in its own channels. */
const lightOf = ({ planes, width, height }: Seen, filters: Filters): Illuminant | null => estimateIlluminant(ownPlanes(planes), width, height, filters);

/** Whether a sample of a picture lies in a mask, all of it. */
function insideOf({ cellPx, runs }: NonNullable<Matching["mask"]>, { level, width, height }: Seen): (i: number) => boolean {
  const scale = 2 ** level;
  const on = fillPixels(runs, cellPx, { x: 0, y: 0, width: width * scale, height: height * scale });
  return (i) => {
    const [x, y] = [(i % width) * scale, Math.floor(i / width) * scale];
    const [right, bottom] = [x + scale - 1, y + scale - 1];
    return on[y * width * scale + x] + on[y * width * scale + right] + on[bottom * width * scale + x] + on[bottom * width * scale + right] === 4;
  };
}

/** Evenly spread samples of a picture, at most so many. */
function samplesOf({ width, height, planes }: Seen, most: number, isIn: ((i: number) => boolean) | null): Samples {
  const all = [...Array(width * height).keys()].filter((i) => !isIn || isIn(i));
  const step = Math.max(1, all.length / most);
  const count = Math.floor(all.length / step);
  const light = new Float32Array(3 * count);
  for (let k = 0; k < count; k++) for (let c = 0; c < 3; c++) light[3 * k + c] = planes[c][all[Math.floor(k * step)]];
  return { count, light };
}

/** Single px of some rows of a picture as it is, for means of a coarse level have colours that no px has. */
function pixelsOf({ whole }: Seen, mask: Matching["mask"]): Samples {
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
function placesOf(own: Seen, wanted: Seen, matrix: readonly number[], isIn: ((i: number) => boolean) | null): { own: Samples; wanted: Samples } | null {
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
function patchOf({ level, width, height, planes }: Seen, x: number, y: number): number[] {
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

/** Px that lie side by side are that much more alike than px from anywhere. */
const COHERENT = 0.6;
const FEW_ROWS = 16;

/** Whether a picture is one of something, in which places can be looked for: its neighbours are more alike than any two. */
export function showsPlaces({ width, height, read }: CutPicture): boolean {
  let [beside, anywhere] = [0, 0];
  for (let k = 0; k < FEW_ROWS; k++) {
    const green = read(0, { x: 0, y: Math.floor(((k + 0.5) / FEW_ROWS) * height), width, height: 1 })[1];
    for (let x = 0; x + 1 < width; x++) {
      beside += Math.abs(green[x + 1] - green[x]);
      anywhere += Math.abs(green[(x * 7919 + 13) % width] - green[x]);
    }
  }
  return beside < COHERENT * anywhere;
}

/** A reference all of one tone and one colour tells no ends. */
const isOneColour = ({ lightness, tones }: MatchFigures): boolean =>
  lightness[9] - lightness[0] < 1 && tones.every((t) => t.chroma < 1 || t.share === 0 || t.share === 1);

function meanDifference(p: Samples, q: Samples): number {
  let sum = 0;
  for (let i = 0; i < 3 * p.count; i += 3) {
    const [a, b] = [p, q].map(({ light }) => workingToLab([light[i], light[i + 1], light[i + 2]]));
    sum += differenceCiede2000(a, b);
  }
  return sum / p.count;
}
