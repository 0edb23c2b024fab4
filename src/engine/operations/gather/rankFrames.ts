import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { cellsOfPlace, coveredShares, findPlace, lookAtPlace, partOf, PLACE_CELLS, PLACE_MARGIN, type PlaceLook } from "../../../core/measure/rankPlace";
import type { Plane } from "../../../core/raster/raster";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { linearRect } from "../frames/linearFrame";
import { colorOf, openFrame } from "../frames/sources";

/** What a frame shows in the place pointed at. */
export interface RankedFrame extends PlaceLook {
  frameId: string;
  /** share of the place in which it differs from most frames, 0..1 */
  covered: number;
  /** the place in this frame, px; null where it was not found, so that it was looked at where it was pointed at */
  found: Rectangle | null;
}

export interface PlaceRanking {
  /** in the order of the frames given */
  frames: RankedFrame[];
  /** whether light is that of the scene, with the noted exposures taken off, or as shot */
  ofScene: boolean;
}

/** Samples of the place along its longer side, at most. */
const SIDE = 480;

/**
 * Looks at one place in many frames that nobody registered; frame after frame, of each only some thousand cells are kept.
 * @param place px of the frame it was pointed at
 */
export async function rankFrames(ctx: EngineContext, frames: FrameRecord[], pointed: FrameRecord, place: Rectangle, task: Task): Promise<PlaceRanking> {
  const asked = await readAround(ctx, pointed, pointed, place);
  const wanted = asked.at(asked.origin).cells;
  const looks: (PlaceLook & { cells: Plane; found: Rectangle | null })[] = [];
  for (const [i, frame] of frames.entries()) {
    await task.step(i, frames.length, "task.ranking");
    const around = await readAround(ctx, frame, pointed, place);
    const found = frame.id === pointed.id ? around.origin : findPlace(wanted, around.cells);
    const { light, cells, rect } = around.at(found ?? around.origin);
    const sigma = frame.measures.noiseSigma / 255 / 2 ** around.level;
    looks.push({ ...lookAtPlace(light, sigma, cells), cells, found: found && rect });
  }
  const ofScene = frames.every((f) => f.meteredEv !== null);
  const covered = coveredShares(looks.map((l) => l.cells));
  return {
    ofScene,
    frames: looks.map(({ cells: _cells, ...look }, i) => ({
      ...look,
      frameId: frames[i].id,
      // what the noted exposure let in is not the scene's light
      lightEv: look.lightEv - (ofScene ? frames[i].meteredEv! - pointed.meteredEv! : 0),
      covered: covered[i],
    })),
  };
}

/** Luminance of a place with what lies around it. Frames of another size are looked at in the same part of the picture. */
async function readAround(ctx: EngineContext, frame: FrameRecord, pointed: FrameRecord, place: Rectangle) {
  const [sx, sy] = [frame.width / pointed.width, frame.height / pointed.height];
  const { levels } = (await openFrame(ctx, frame)).spec;
  const longest = Math.max(place.width * sx, place.height * sy);
  const level = Math.min(levels - 1, levelOfSide({ width: place.width * sx, height: place.height * sy }, SIDE));
  const s = 2 ** level;
  const size = sizeAtLevel(frame.width, frame.height, level);
  const side = Math.max(1, Math.floor(longest / s / PLACE_CELLS));
  const along = (from: number, length: number, all: number) => {
    const cells = Math.max(1, Math.min(Math.round(length / s / side), Math.floor(all / side)));
    const first = Math.max(0, Math.min(Math.round(from / s), all - cells * side));
    const before = Math.min(PLACE_MARGIN, Math.floor(first / side));
    const after = Math.min(PLACE_MARGIN, Math.floor((all - first) / side) - cells);
    return { cells, before, start: first - before * side, length: (before + cells + after) * side };
  };
  const [h, v] = [along(place.x * sx, place.width * sx, size.width), along(place.y * sy, place.height * sy, size.height)];
  const planes = await linearRect(ctx, frame, level, { x: h.start, y: v.start, width: h.length, height: v.length });
  const [r, g, b] = luminanceOf((await colorOf(ctx, frame.sourceId)).toWorking);
  const whole: Plane = { width: h.length, height: v.length, data: planes[0].map((red, i) => r * red + g * planes[1][i] + b * planes[2][i]) };
  const cells = cellsOfPlace(whole, side);
  /** @param cell where the place begins */
  const at = (cell: { x: number; y: number }) => {
    const px = { x: cell.x * side, y: cell.y * side, width: h.cells * side, height: v.cells * side };
    return {
      light: partOf(whole, px),
      cells: partOf(cells, { ...cell, width: h.cells, height: v.cells }),
      rect: { x: (h.start + px.x) * s, y: (v.start + px.y) * s, width: px.width * s, height: px.height * s },
    };
  };
  return { level, cells, origin: { x: h.before, y: v.before }, at };
}

/** Weights of luminance in a frame's own primaries. @param toWorking row-major */
function luminanceOf(toWorking: number[]): number[] {
  return [0, 1, 2].map((c) => LUMINANCE.reduce((sum, weight, k) => sum + weight * toWorking[k * 3 + c], 0));
}
