import { estimateIlluminant, type Illuminant } from "../../../core/color/illuminant";
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
import { insideOf, meanDifference, patchOf, pixelsOf, placesOf, samplesOf, seen, type PictureMask, type Seen } from "./seenPicture";

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
  mask: PictureMask | null;
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
  const samples = samplesOf(own, isIn);
  const theirs = samplesOf(wanted, null);
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

/** The light that a picture was taken in, in its own channels. */
const lightOf = ({ planes, width, height }: Seen, filters: Filters): Illuminant | null => estimateIlluminant(ownPlanes(planes), width, height, filters);

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
