import { MARGIN, measureLateral, type ColourPatch, type LateralColour } from "../../core/measure/lateralColour";
import { sizeAtLevel } from "../../core/geometry/rectangle";
import type { EngineContext } from "../EngineContext";
import type { Task } from "../task";
import { allocateSamples, type RasterFile } from "../tiles/RasterStore";
import { openSource } from "./sources";

/** Side of a square that is looked at, samples, and how many of them lie across a frame. */
const SQUARE = 40;
const [COLUMNS, ROWS] = [36, 24];
/** Level at which larger shifts are found before the full size. */
const COARSE = 1;

/** Lateral colour of a frame as shot, from its edges; null where too few show it. */
export async function measureLateralColour(ctx: EngineContext, sourceId: string, task: Task): Promise<(LateralColour & { sigma: LateralColour }) | null> {
  const file = await openSource(ctx, sourceId);
  let found: (LateralColour & { sigma: LateralColour }) | null = null;
  for (const level of file.spec.levels > COARSE ? [COARSE, 0] : [0]) {
    await task.step(COARSE - level, COARSE + 1, "Measuring lateral colour");
    const better = measureLateral(patchesOf(file, level), found ?? undefined);
    if (!better) return null;
    found = better;
  }
  return found;
}

/** Squares all over a level, but for its middle, where lateral colour hardly shifts anything. */
function patchesOf(file: RasterFile, level: number): ColourPatch[] {
  const { width, height } = sizeAtLevel(file.spec.width, file.spec.height, level);
  const side = SQUARE + 2 * MARGIN;
  const patches: ColourPatch[] = [];
  if (width < 2 * side || height < 2 * side) return patches;
  for (let row = 0; row < ROWS; row++) {
    for (let column = 0; column < COLUMNS; column++) {
      const x = Math.round(((width - side) * column) / (COLUMNS - 1));
      const y = Math.round(((height - side) * row) / (ROWS - 1));
      const [fromMiddle, fromCentre] = [x - (width - 1) / 2, y - (height - 1) / 2];
      if (Math.hypot(fromMiddle + side / 2, fromCentre + side / 2) < Math.hypot(width, height) / 8) continue;
      const [red, green, blue] = [0, 1, 2].map((channel) => readUnit(file, level, channel, x, y, side));
      patches.push({ red, green, blue, side, x: fromMiddle, y: fromCentre });
    }
  }
  return patches;
}

/** A square of a channel, 0..1; linear light by its square root. */
function readUnit(file: RasterFile, level: number, channel: number, x: number, y: number, side: number): Float32Array {
  const { type } = file.spec;
  const samples = allocateSamples(type, side * side);
  file.read(level, channel, x, y, side, side, samples);
  if (type === "f32") return Float32Array.from(samples, (v) => Math.sqrt(Math.max(0, v)));
  const white = type === "u8" ? 255 : 65535;
  return Float32Array.from(samples, (v) => v / white);
}
