import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { allocatePlanes, each, readWorking, type Planes } from "../frames/frameSamples";
import { coversRows, fillCoverage } from "./mergeInputs";
import { storedMerge } from "./storedMerge";
import { SHARE_CELL, writeShares } from "./shares";
import type { MergeInputs, MergeResult } from "./mergeTypes";

/** The methods that average the frames. */
export type RepeatMethod = "clippedMean" | "mean" | "median";

const REPEATS_VERSION = 1;
const MODES: Record<RepeatMethod, number> = { mean: 0, median: 1, clippedMean: 2 };
/** Standard deviations from the median beyond which a sample is taken for something that moved. Common practice, no source. */
const KAPPA = 3.6;
/** Memory for the rows of all frames. */
const STRIP_BYTES = 192 * 1024 * 1024;

/** Repeated frames combined sample by sample in linear working light, each at the reference's exposure. */
export async function mergeRepeats(ctx: EngineContext, inputs: MergeInputs, method: RepeatMethod, task: Task): Promise<MergeResult> {
  const key = contentKey("repeats", REPEATS_VERSION, [inputs.key, inputs.noise, method]);
  return storedMerge(ctx, key, inputs, async ({ picture, dominant, shares }) => {
    const { kernels } = ctx;
    const { width, height, frames } = inputs;
    const rowsAtOnce = SHARE_CELL * Math.max(1, Math.min(8, Math.floor(STRIP_BYTES / (SHARE_CELL * width * frames.length * 20))));
    for (let y0 = 0; y0 < height; y0 += rowsAtOnce) {
      await task.step(y0, height, "task.combining");
      const rows = Math.min(rowsAtOnce, height - y0);
      const n = width * rows;
      kernels.withScope((scope) => {
        const index = scope.bytes(n + 64);
        const given = frames.map(() => scope.floats(n + 16));
        const result = combineRows(ctx, scope, inputs, method, y0, rows, { index, given });
        each(result).forEach((plane, c) => picture.write(0, c, y0, kernels.f32(plane, n)));
        dominant.write(0, 0, y0, kernels.u8(index, n));
        given.forEach((plane, k) => writeShares(ctx, shares, k, plane, width, y0, rows));
      });
    }
  });
}

/** Rows of repeated frames combined, in working light. @param told where the nearest frame of each sample of green goes, and what each frame gave of it */
export function combineRows(
  ctx: EngineContext,
  scope: Scope,
  inputs: Pick<MergeInputs, "width" | "frames" | "noise">,
  method: RepeatMethod,
  y0: number,
  rows: number,
  told: { index: number; given: number[] } | null,
): Planes {
  const { kernels } = ctx;
  const { width, frames, noise } = inputs;
  const count = frames.length;
  const n = width * rows;
  const planes = frames.map((input) => {
    const out = allocatePlanes(scope, n);
    const gain = 2 ** -input.relativeEv;
    readWorking(scope, input.file, input.color, 0, { x: 0, y: y0, width, height: rows }, out);
    if (gain !== 1) kernels.run("applyMatrix", [...each(out), scope.matrix([gain, 0, 0, 0, gain, 0, 0, 0, gain])], 0, out.length, 65536);
    return out;
  });
  const values = scope.bytes(count * 4);
  const coverages = frames.every((input) => coversRows(input, width, y0, y0 + rows)) ? 0 : coverageTable(scope, inputs, y0, rows);
  const gives = scope.bytes(count * 4);
  if (told) kernels.u32(gives, count).set(told.given);
  const result = allocatePlanes(scope, n);
  each(result).forEach((plane, c) => {
    kernels.u32(values, count).set(planes.map((p) => each(p)[c]));
    const [nearest, took] = told && c === 1 ? [told.index, gives] : [0, 0];
    kernels.run(
      "combineRepeats",
      [count, values, coverages, MODES[method], KAPPA, noise.shot, noise.readSquared, plane, nearest, took],
      0,
      result.length,
      16384,
    );
  });
  return result;
}

/** Table of the coverage planes of all frames. */
function coverageTable(scope: Scope, inputs: Pick<MergeInputs, "width" | "frames">, y0: number, rows: number): number {
  const { kernels } = scope;
  const { width, frames } = inputs;
  const table = scope.bytes(frames.length * 4);
  kernels.u32(table, frames.length).set(
    frames.map((input) => {
      const coverage = scope.floats(width * rows + 16);
      fillCoverage(kernels, input, width, y0, y0 + rows, coverage);
      return coverage;
    }),
  );
  return table;
}
