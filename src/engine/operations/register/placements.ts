import { Refusal } from "../../../core/refusal";
import { distort, undistort, type Lens } from "../../../core/geometry/lens";
import { atLevel, invert, type Matrix3 } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { costOfFrames, largestCrop } from "../../../core/geometry/validArea";
import { coarsestLevel, levelOf, type GreyPyramid } from "../../../core/register/greyPyramid";
import { measureLocalShifts, measureShiftAt, type LocalShift } from "../../../core/register/localShifts";
import { fitPoints } from "../../../core/register/models";
import { createPhotometry } from "../../../core/register/photometry";
import { RegionMask } from "../../../core/register/regions";
import { displacementPx, judgeFit, resembles, rmsOf, summarizeShifts } from "../../../core/register/judgeFit";
import { wantedOf } from "../../../core/register/registerSet";
import { registerPair } from "../../../core/register/registerPair";
import type { FramePlacement, FrameRecord, Records } from "../../../document/records/types";
import { activeFramesOf, framesOf, pinsOf, regionsOf, registrationOf, relativeEvOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { heldGrey } from "../frames/greyCache";
import { placedFrames, storedShifts } from "./registerFrames";

/** Where a frame is put, by hand or by points. */
export interface Placing {
  /** undistorted moving → reference */
  matrix: Matrix3;
  lens: Lens | null;
}

/** What a placement leaves, whole and in each marked region. */
export interface PlacementFigures {
  residualPx: number;
  agreeing: number;
  places: number;
  shifts: LocalShift[];
  regions: { id: string; residualPx: number; places: number }[];
}

interface Pair {
  reference: FrameRecord;
  frame: FrameRecord;
  /** with their lenses undone where a development knows them */
  fixed: GreyPyramid;
  moving: GreyPyramid;
  relativeEv: number;
  /** the lens that is still in the frame's pixels */
  lensOf(placing: Placing): Lens | null;
}

async function openPair(ctx: EngineContext, records: Records, frameId: string): Promise<Pair> {
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  const frame = framesOf(records).find((f) => f.id === frameId);
  if (!reference || !frame) throw new Refusal("gone", "registering.frameGone");
  const fixed = await heldGrey(ctx, reference);
  const moving = await heldGrey(ctx, frame);
  return { reference, frame, fixed, moving, relativeEv: relativeEvOf(records, frameId), lensOf: (p) => (frame.development.lens ? null : p.lens) };
}

const COLUMNS = 16;

/** Measures a placement: at full size where it is close, else at a level where large shifts can still be seen. */
export async function judgePlacement(ctx: EngineContext, records: Records, frameId: string, placing: Placing): Promise<PlacementFigures> {
  const { reference, fixed, moving, relativeEv, lensOf } = await openPair(ctx, records, frameId);
  const photometry = createPhotometry(relativeEv);
  const toMoving = invert(placing.matrix);
  const at = (level: number, mask: RegionMask | null, columns: number) =>
    measureLocalShifts(levelOf(fixed, level), levelOf(moving, level), photometry, atLevel(toMoving, level), {
      lens: lensOf(placing),
      columns,
      selection: mask?.atLevel(level),
    }).map((s) => upward(s, level));
  const top = Math.min(3, coarsestLevel(fixed), coarsestLevel(moving));
  let shifts = at(0, null, COLUMNS);
  for (let level = 1; level <= top && found(shifts) < shifts.length * 0.4; level++) {
    const coarser = at(level, null, COLUMNS);
    if (found(coarser) > found(shifts)) shifts = coarser;
  }
  const regions = regionsOf(records)
    .filter((r) => r.purpose === "lineUp")
    .map((region) => {
      const mask = new RegionMask([{ purpose: "lineUp", shape: region.shape }], reference.width, reference.height);
      const near = at(0, mask, COLUMNS).filter(resembles);
      return { id: region.id, residualPx: rmsOf(near), places: near.length };
    });
  return { residualPx: rmsOf(shifts.filter(resembles)), agreeing: summarizeShifts(shifts).agreeing, places: shifts.length, shifts, regions };
}

const found = (shifts: LocalShift[]) => shifts.filter(resembles).length;

function upward(s: LocalShift, level: number): LocalShift {
  const k = 2 ** level;
  return { ...s, x: (s.x + 0.5) * k - 0.5, y: (s.y + 0.5) * k - 0.5, dx: s.dx * k, dy: s.dy * k };
}

/**
 * The best match in the frame near a guess for a place of the reference, found from coarse to fine.
 * @returns px of the frame as shot, or null where nothing near looks the same
 */
export async function snapPoint(
  ctx: EngineContext,
  records: Records,
  frameId: string,
  placing: Placing,
  point: { x: number; y: number },
  guess: { u: number; v: number },
): Promise<{ u: number; v: number; correlation: number } | null> {
  const { frame, fixed, moving, relativeEv } = await openPair(ctx, records, frameId);
  const photometry = createPhotometry(relativeEv);
  // the placement's turn and scale, moved so that the point falls on the guess; near the point a lens is a shift
  const [a, b, c, d, e, f] = linearPart(invert(placing.matrix), point);
  let [u, v] = undistort(frame.development.lens, frame, guess.u, guess.v);
  let best: { u: number; v: number; correlation: number } | null = null;
  for (let level = Math.min(2, coarsestLevel(fixed), coarsestLevel(moving)); level >= 0; level--) {
    const matrix = [a, b, c + u - (a * point.x + b * point.y + c), d, e, f + v - (d * point.x + e * point.y + f), 0, 0, 1];
    const s = 2 ** level;
    const shift = measureShiftAt(
      levelOf(fixed, level),
      levelOf(moving, level),
      photometry,
      atLevel(matrix, level),
      (point.x + 0.5) / s - 0.5,
      (point.y + 0.5) / s - 0.5,
    );
    if (!shift || shift.correlation < 0.5) continue;
    u += (a * shift.dx + b * shift.dy) * s;
    v += (d * shift.dx + e * shift.dy) * s;
    const [asShotU, asShotV] = distort(frame.development.lens, frame, u, v);
    best = { u: asShotU, v: asShotV, correlation: shift.correlation };
  }
  return best;
}

/** First order of a homography at a place: an affine map. */
function linearPart(m: Matrix3, { x, y }: { x: number; y: number }): number[] {
  const w = m[6] * x + m[7] * y + m[8];
  const u = (m[0] * x + m[1] * y + m[2]) / w;
  const v = (m[3] * x + m[4] * y + m[5]) / w;
  const [a, b] = [(m[0] - m[6] * u) / w, (m[1] - m[7] * u) / w];
  const [d, e] = [(m[3] - m[6] * v) / w, (m[4] - m[7] * v) / w];
  return [a, b, u - a * x - b * y, d, e, v - d * x - e * y];
}

/** A placement from control points (x, y in the reference, u, v in the frame as shot). @returns null where they do not determine one */
export async function placeByPoints(
  ctx: EngineContext,
  records: Records,
  frameId: string,
  points: number[][],
  lens: Lens | null,
): Promise<FramePlacement | null> {
  const { reference, frame } = await openPair(ctx, records, frameId);
  const fit = fitPoints(points, reference, frame, lens);
  if (!fit) return null;
  return { ...(await describePlacement(ctx, records, frameId, { matrix: invert(fit.matrix), lens }, "points")), points, model: fit.model };
}

/** Refines a placement from where it is. @returns null where nothing agrees there */
export async function refinePlacement(ctx: EngineContext, records: Records, frameId: string, placing: Placing): Promise<FramePlacement | null> {
  const { reference, frame, fixed, moving, relativeEv, lensOf } = await openPair(ctx, records, frameId);
  const marked = regionsOf(records);
  const result = registerPair(fixed, moving, relativeEv, {
    ...wantedOf({ straight: frame.development.lens !== null }, registrationOf(records)?.model ?? "auto"),
    ...(lensOf(placing) && { lens: lensOf(placing) }),
    start: invert(placing.matrix),
    regions: marked.length ? new RegionMask(marked, reference.width, reference.height) : null,
  });
  if (!result) return null;
  const placed = { matrix: invert(result.matrix), lens: frame.development.lens ?? result.lens };
  return { ...(await describePlacement(ctx, records, frameId, placed, "measured")), model: result.model };
}

/** A placement with all that the ledger shows of it. */
export async function describePlacement(
  ctx: EngineContext,
  records: Records,
  frameId: string,
  placing: Placing,
  by: FramePlacement["by"],
): Promise<FramePlacement> {
  const pair = await openPair(ctx, records, frameId);
  const { reference } = pair;
  const marked = regionsOf(records);
  const judged = judgeFit({
    ...pair,
    photometry: createPhotometry(pair.relativeEv),
    matrix: invert(placing.matrix),
    lens: pair.lensOf(placing),
    fixedLens: null,
    regions: marked.length ? new RegionMask(marked, reference.width, reference.height) : null,
  });
  // so far off that nothing agrees at full size: what can be seen at a coarser level is said instead
  const coarse = judged.agreeing === 0 ? await judgePlacement(ctx, records, frameId, placing) : null;
  const figures = coarse ? { ...judged, residualPx: coarse.residualPx, shifts: coarse.shifts } : judged;
  return {
    frameId,
    registered: true,
    ...placing,
    ...figures,
    model: registrationOf(records)?.placements.find((p) => p.frameId === frameId)?.model ?? "homography",
    by,
    points: [],
    residualBeforePx: displacementPx(placing.matrix, reference.width, reference.height),
    otherPx: [],
    reason: null,
    shifts: storedShifts(figures.shifts),
  };
}

export interface CommonArea {
  /** null where the places to be kept do not fit, or nothing is covered by all */
  crop: Rectangle | null;
  /** how much larger the crop would be without a frame, as a share */
  costs: { frameId: string; gain: number }[];
}

/** The largest crop every frame covers, at a ratio, with the "must stay" pins in it, and what each frame costs. */
export function commonArea(records: Records, ratio: number | null): CommonArea {
  const registration = registrationOf(records);
  const frames = activeFramesOf(records);
  const reference = frames.find((f) => f.id === registration?.referenceId);
  if (!registration || !reference) return { crop: null, costs: [] };
  const placed = placedFrames(frames, registration.placements);
  const stays = pinsOf(records).filter((p) => p.purpose === "stay");
  const wanted = ratio ?? undefined;
  const gains = costOfFrames(reference.width, reference.height, placed, wanted, stays);
  return {
    crop: largestCrop(reference.width, reference.height, placed, wanted, stays),
    costs: placed.map((p, i) => ({ frameId: p.frameId, gain: gains[i] })),
  };
}
