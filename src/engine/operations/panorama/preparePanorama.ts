import { message } from "../../../messages/message";
import { Refusal } from "../../../core/refusal";
import { angleBetween, between, inside, rayOf, rotationOf, transpose, type Attitude, type Camera } from "../../../core/panorama/camera";
import { coverageOf, inscribedCrop, type Stay } from "../../../core/panorama/coverage";
import { compareProjections, proposeProjection, type ProjectionFigures } from "../../../core/panorama/judgeProjections";
import { fieldOf, type PanoramaView } from "../../../core/panorama/layout";
import { bentView } from "../../../core/panorama/fillRectangle";
import { levelByLines, straighten } from "../../../core/panorama/level";
import { PROJECTIONS, type ProjectionName } from "../../../core/panorama/projections";
import type { PanoramaSolution } from "../../../core/panorama/solvePanorama";
import { multiply, normalize, type Matrix3 } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { LevelPin, PanoramaPair, PanoramaPoint, PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { FramePlacement, FrameRecord, Records, RegistrationRecord } from "../../../document/records/types";
import { levelLinesFor, panoramaCamerasOf, panoramaFramesOf, panoramaOf, pinsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { greyOfFrame } from "../frames/greyOfSource";
import { createPhotometry } from "../../../core/register/photometry";
import { mapAbout, measurePatch } from "../../../core/register/localShifts";
import type { GreyPyramid } from "../../../core/register/greyPyramid";
import { measureLight } from "./measureLight";
import { solveFrames } from "./solveFrames";

export const PANORAMA_OPERATION_VERSION = 1;
/** Places kept of a pair, to be drawn. */
const MOST_PLACES = 400;

export interface PanoramaRequest {
  /** focal length told from outside, px; null where it is to be found */
  focalPx: number | null;
  points: PanoramaPoint[];
  /** lines said to be level or upright */
  levels: LevelPin[];
  /** how far the border is bent outwards, 0..1 of what fills the rectangle */
  bent: number;
  /** the projection wanted; null: the one proposed */
  projection: ProjectionName | null;
}

export interface PreparedPanorama {
  registration: RegistrationRecord;
  panorama: PanoramaRecord;
}

/** Finds directions, lens and light of a set, and lays out the picture that is proposed. @throws RangeError with the reason where nothing fits */
export async function preparePanorama(ctx: EngineContext, frames: FrameRecord[], request: PanoramaRequest, task: Task): Promise<PreparedPanorama> {
  if (frames.length < 2) throw new Refusal("tooFewFrames", "panorama.twoFrames");
  const index = (id: string) => frames.findIndex((f) => f.id === id);
  const points = request.points.filter((p) => index(p.aId) >= 0 && index(p.bId) >= 0);
  const ties = points.map(({ aId, bId, x, y, u, v }) => ({ a: index(aId), b: index(bId), x, y, u, v, weight: BY_HAND }));
  const solved = await solveFrames(ctx, frames, { focalPx: request.focalPx, points: ties }, portion(task, 0, 0.85));
  const placed = frames.flatMap((frame, i) => (solved.placed[i] ? [{ frame, camera: solved.cameras[i] }] : []));
  const cameras = placed.map((p) => p.camera);
  const light = await measureLight(ctx, placed, portion(task, 0.85, 0.97));
  await task.step(0.97, 1, "task.comparingProjections");
  const measured = straighten(cameras);
  // level as the frames' uprights say, or as what was said to be level does
  const lines = levelLinesFor(request.levels, placed).map((l) => l.line);
  const attitude = levelByLines(measured, lines) ?? measured;
  const { widthDeg, heightDeg } = fieldOf(cameras, attitude);
  const figures = compareProjections(cameras, attitude, PROJECTIONS);
  const proposal = proposeProjection(figures, widthDeg, heightDeg);
  const chosen = figures.find((f) => f.projection === (request.projection ?? proposal.projection));
  if (!chosen)
    throw new Refusal(
      "tooWide",
      message("panorama.tooWide", { across: widthDeg, down: heightDeg, projection: message(`projection.${request.projection!}`, {}) }),
    );
  const view = bentView(chosen.view, cameras, request.bent);
  const lens = solved.cameras[solved.placed.indexOf(true)];
  const { setId } = frames[0];
  const panorama: PanoramaRecord = {
    kind: "panorama",
    id: `panorama-${setId}`,
    setId,
    operationVersion: PANORAMA_OPERATION_VERSION,
    lens: { focalPx: lens.focalPx, focalSd: solved.focalSd, toldFocalPx: request.focalPx, k1: lens.k1, k2: lens.k2, shiftX: lens.shiftX, shiftY: lens.shiftY },
    frames: frames.map((frame, i) => {
      const k = placed.findIndex((p) => p.frame === frame);
      return {
        frameId: frame.id,
        rotation: k >= 0 ? [...solved.cameras[i].rotation] : null,
        sdDeg: k >= 0 ? solved.directionSdDeg[i] : 0,
        gainEv: k >= 0 ? light.gainEv[k] : [0, 0, 0],
      };
    }),
    pairs: pairsOf(frames, solved),
    points,
    levels: request.levels.filter((l) => index(l.a.frameId) >= 0 && index(l.b.frameId) >= 0),
    falloff: light.falloff,
    view,
    proposal,
  };
  return { panorama, registration: registrationOf(frames, solved, attitude, cropOf(view, cameras, null, [])) };
}

/** A place set by hand counts as much as so many measured ones. Common practice, no source. */
const BY_HAND = 8;

/** The largest crop of a view, in whole px of the picture; the whole picture where nothing is covered. */
export function cropOf(view: PanoramaView, cameras: Camera[], ratio: number | null, stay: Stay[]): Rectangle {
  const crop = inscribedCrop(coverageOf(view, cameras), view, ratio, stay);
  return crop ?? { x: 0, y: 0, width: view.width, height: view.height };
}

/** Projections of a panorama as it is turned now, with their figures. */
export function projectionsOf(records: Records, attitude: Attitude | null): ProjectionFigures[] {
  const panorama = panoramaOf(records);
  if (!panorama) return [];
  return compareProjections(panoramaCamerasOf(records), attitude ?? panorama.view, PROJECTIONS);
}

/** A crop and the room that each pin that stays has in it, px. */
export interface PanoramaCrop {
  crop: Rectangle;
  margins: number[];
}

/** The largest crop of the picture as it is shown, free or of a ratio, with the pins that stay and the room each has; null where they do not fit. */
export function panoramaCrop(records: Records, ratio: number | null): PanoramaCrop | null {
  const panorama = panoramaOf(records);
  if (!panorama) return null;
  const stay = pinsOf(records).filter((p) => p.purpose === "stay");
  const cameras = panoramaCamerasOf(records);
  const crop = inscribedCrop(coverageOf(panorama.view, cameras), panorama.view, ratio, stay);
  if (!crop) return null;
  const margins = stay.map((p) => Math.round(Math.min(p.x - crop.x, crop.x + crop.width - p.x, p.y - crop.y, crop.y + crop.height - p.y)));
  return { crop, margins };
}

/** Where frame b shows a place of frame a, px as shot, and how alike both look there, −1..1. */
export interface SnappedPoint {
  u: number;
  v: number;
  correlation: number;
}

/** The best match in frame b of a place in frame a. @param guess where it was clicked in b; null: where the directions say, if both have one */
export async function snapPanoramaPoint(
  ctx: EngineContext,
  records: Records,
  a: FrameRecord,
  b: FrameRecord,
  x: number,
  y: number,
  guess: [number, number] | null,
): Promise<SnappedPoint | null> {
  const turned = panoramaFramesOf(records);
  const [p, q] = [a, b].map((f) => turned.find((t) => t.frame.id === f.id)?.camera);
  const known = p && q ? between(p, q, x, y) : null;
  const near = guess ?? known;
  if (!near || !inside(b, near)) return null;
  const [fixed, moving] = [await greyOfFrame(ctx, a), await greyOfFrame(ctx, b)];
  // about the place as the directions say, moved to where it was clicked; without directions unturned
  const find = (px: number, py: number): [number, number] => {
    const r = p && q && known ? between(p, q, px, py) : null;
    return r && known ? [r[0] + near[0] - known[0], r[1] + near[1] - known[1]] : [px + near[0] - x, py + near[1] - y];
  };
  const level = (g: GreyPyramid) => ({ width: g.width, height: g.height, data: g.base });
  const [cx, cy] = [Math.min(a.width - 20, Math.max(19, Math.round(x))), Math.min(a.height - 20, Math.max(19, Math.round(y)))];
  const map = mapAbout(find, cx, cy);
  const shift = map && measurePatch(level(fixed), level(moving), createPhotometry(0), map);
  if (!shift) return null;
  const [u, v] = find(x + shift.dx, y + shift.dy);
  return { u, v, correlation: shift.correlation };
}

function pairsOf(frames: FrameRecord[], { pairs, ties, residuals, cameras }: PanoramaSolution): PanoramaPair[] {
  return pairs.map((pair) => {
    const own = ties.flatMap((t, i) => (t.a === pair.a && t.b === pair.b && Number.isFinite(residuals[i]) ? [{ t, left: residuals[i] }] : []));
    const step = Math.max(1, Math.ceil(own.length / MOST_PLACES));
    const places = own.filter((_, i) => i % step === 0).map(({ t, left }) => [...rayOf(cameras[t.a], t.x, t.y), left]);
    const { agreeing, measured, residualPx, parallaxPx, overlap } = pair;
    return { aId: frames[pair.a].id, bId: frames[pair.b].id, agreeing, measured, residualPx, parallaxPx, overlap, places };
  });
}

/** The same as placements, so that the ledger, the logbook and the gates of later stages know which frames take part. */
function registrationOf(frames: FrameRecord[], solved: PanoramaSolution, attitude: Attitude, proposedCrop: Rectangle): RegistrationRecord {
  const { cameras, placed, reasons, pairs } = solved;
  // the frame that looks most nearly where the picture's middle is
  const ahead = (c: Camera) => angleBetween(c.rotation, rotationOf(attitude));
  const reference = cameras.reduce((best, c, i) => (placed[i] && (best < 0 || ahead(c) < ahead(cameras[best])) ? i : best), -1);
  const placements = frames.map((frame, i): FramePlacement => {
    const own = pairs.filter((p) => p.a === i || p.b === i);
    const count = own.reduce((sum, p) => sum + p.agreeing, 0);
    const measured = own.reduce((sum, p) => sum + p.measured, 0);
    const square = own.reduce((sum, p) => sum + p.agreeing * p.residualPx ** 2, 0);
    return {
      frameId: frame.id,
      registered: placed[i],
      matrix: placed[i] ? overReference(cameras[i], cameras[reference]) : null,
      lens: null,
      model: "homography",
      by: "measured",
      points: [],
      models: [],
      drift: null,
      residualPx: count ? Math.sqrt(square / count) : 0,
      residualBeforePx: 0,
      agreeing: measured ? count / measured : 0,
      confidence: placed[i] ? Math.max(0, 1 - solved.directionSdDeg[i] / 0.08) : 0,
      otherPx: [],
      reason: reasons[i],
      shifts: [],
    };
  });
  return {
    kind: "registration",
    id: `registration-${frames[0].setId}`,
    setId: frames[0].setId,
    operationVersion: PANORAMA_OPERATION_VERSION,
    model: "homography",
    referenceId: frames[reference].id,
    referenceReason: message("reference.looks", {}),
    placements,
    proposedCrop,
  };
}

/** Undistorted px of a frame → px of the reference, as far as both look the same way. */
function overReference(camera: Camera, reference: Camera): Matrix3 {
  const between = multiply(transpose(reference.rotation), camera.rotation);
  const [cx, cy, rx, ry] = [(camera.width - 1) / 2, (camera.height - 1) / 2, (reference.width - 1) / 2, (reference.height - 1) / 2];
  const f = camera.focalPx;
  const map = multiply([f, 0, rx, 0, f, ry, 0, 0, 1], multiply(between, [1 / f, 0, -cx / f, 0, 1 / f, -cy / f, 0, 0, 1]));
  return Math.abs(map[8]) > 1e-6 ? normalize(map) : map;
}
