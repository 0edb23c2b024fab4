import { MARGIN, measureLateral, type ColourPatch, type MeasuredLateral } from "../../../core/measure/lateralColour";
import { mapFloats } from "../../../core/numeric/mapFloats";
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { allocateSamples, type RasterFile } from "../../tiles/RasterStore";
import { openFrame } from "../frames/sources";
import type { FrameRecord, Records } from "../../../document/records/types";
import { registrationOf } from "../../../document/selectors";

/** Side of a square that is looked at, samples, and how many of them at most lie across a frame. */
const SQUARE = 40;
const [COLUMNS, ROWS] = [36, 24];
/** Files often hold colour at half the size of light, so that fine edges have none of their own: seen from two levels up, that no longer counts. */
const LEVEL = 2;
/** Narrower levels hold too few squares, samples. */
const NARROWEST = 600;

/**
 * Lateral colour of a frame as shot, from its edges; null where too few show it. Of frames narrower than 2,400 px that hold colour at half
 * the size, part of it only.
 */
export async function measureLateralColour(ctx: EngineContext, frame: FrameRecord, task: Task): Promise<MeasuredLateral | null> {
  const file = await openFrame(ctx, frame);
  await task.step(0, 1, "task.lateralColour");
  let level = Math.min(LEVEL, file.spec.levels - 1);
  while (level > 0 && sizeAtLevel(file.spec.width, file.spec.height, level).width < NARROWEST) level--;
  return measureLateral(patchesOf(file, level));
}

/** Squares beside each other all over a level, but for its middle, where lateral colour hardly shifts anything. */
function patchesOf(file: RasterFile, level: number): ColourPatch[] {
  const { width, height } = sizeAtLevel(file.spec.width, file.spec.height, level);
  const side = SQUARE + 2 * MARGIN;
  const patches: ColourPatch[] = [];
  const [columns, rows] = [Math.min(COLUMNS, Math.floor(width / SQUARE)), Math.min(ROWS, Math.floor(height / SQUARE))];
  if (columns < 2 || rows < 2) return patches;
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const x = Math.round(((width - side) * column) / (columns - 1));
      const y = Math.round(((height - side) * row) / (rows - 1));
      const [left, top] = [x - (width - 1) / 2, y - (height - 1) / 2];
      if (Math.hypot(left + side / 2, top + side / 2) < Math.hypot(width, height) / 8) continue;
      const [red, green, blue] = [0, 1, 2].map((channel) => readUnit(file, level, channel, x, y, side));
      patches.push({ red, green, blue, side, x: left, y: top });
    }
  }
  return patches;
}

/** A square of a channel, 0..1; linear light by its square root. */
function readUnit(file: RasterFile, level: number, channel: number, x: number, y: number, side: number): Float32Array {
  const { type } = file.spec;
  const samples = allocateSamples(type, side * side);
  file.read(level, channel, x, y, side, side, samples);
  const white = type === "u8" ? 255 : 65535;
  return mapFloats(samples, type === "f32" ? (v) => (v > 0 ? Math.sqrt(v) : 0) : (v) => v / white);
}

/** Lateral colour of the reference as shot, null where too few of its edges show it. */
export async function lateralOfReference(ctx: EngineContext, records: Records, task: Task): Promise<MeasuredLateral | null> {
  const reference = records[registrationOf(records)?.referenceId ?? ""];
  return reference?.kind === "frame" ? measureLateralColour(ctx, reference, task) : null;
}
