import { LUMINANCE } from "../../../core/color/primaries";
import { describeMatrix } from "../../../core/geometry/describeMatrix";
import { IDENTITY, invert, multiply } from "../../../core/geometry/matrix3";
import { ENLARGED } from "../../../core/merge/frameShares";
import { FRINGE_REACH } from "../../../core/merge/findFringe";
import { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { allocatePlanes, each, readLinear, type Planes } from "../frames/frameSamples";
import { fringeOf, noteFringe } from "./fringe";
import { exposuresOf, fillCoverage } from "./mergeInputs";
import { storedMerge } from "./storedMerge";
import { SHARE_CELL, writeShares } from "./shares";
import type { MergeInputs, MergeResult } from "./mergeTypes";

const RADIANCE_VERSION = 7;
/** Rows at once; few, so that those of all frames stay near the processor. */
const ROWS = 32;
/** Rows by which the search for coloured lines follows the merge: what it has to look at, in whole cells of the shares. */
const LAG = Math.ceil(FRINGE_REACH / SHARE_CELL) * SHARE_CELL;

/** Noise-weighted radiance of the placed frames; 1.0 is diffuse white at the reference frame's exposure. @param clean takes coloured lines from along edges; they are measured in either case */
export async function mergeRadiance(ctx: EngineContext, inputs: MergeInputs, clean: boolean, task: Task): Promise<MergeResult> {
  const key = contentKey("radiance", RADIANCE_VERSION, [inputs.key, inputs.noise, clean]);
  const { width, height } = inputs;
  const make = async (result: MergeResult) => {
    const { kernels } = ctx;
    const window = new Scope(kernels);
    try {
      // merged rows from `top` on, of which those from `done` on are not written yet
      const held = allocatePlanes(window, width * (ROWS + 2 * LAG));
      let [top, done] = [0, 0];
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await task.step(y0, height, "task.radiance");
        const y1 = Math.min(height, y0 + ROWS);
        const keep = Math.max(0, done - LAG);
        for (const plane of each(held)) kernels.f32(plane, width * (y0 - top)).copyWithin(0, width * (keep - top));
        top = keep;
        kernels.withScope((scope) => mergeStrip(ctx, inputs, scope, y0, y1 - y0, at(held, width * (y0 - top)), result));
        const ready = y1 === height ? height : y1 - LAG;
        if (ready > done)
          kernels.withScope((scope) => writeRows(ctx, inputs, scope, held, { width, rows: y1 - top, from: done - top, to: ready - top }, top, clean, result));
        done = Math.max(done, ready);
      }
    } finally {
      window.release();
    }
  };
  return storedMerge(ctx, key, inputs, make, { fringe: true });
}

const at = (planes: Planes, sample: number): Planes => ({
  r: planes.r + sample * 4,
  g: planes.g + sample * 4,
  b: planes.b + sample * 4,
  length: planes.length - sample,
});

/** Notes and, where wanted, takes away the coloured lines of some merged rows, and writes the rows in working light. @param top of the strip in the picture */
function writeRows(
  ctx: EngineContext,
  inputs: MergeInputs,
  scope: Scope,
  planes: Planes,
  strip: { width: number; rows: number; from: number; to: number },
  top: number,
  clean: boolean,
  { picture, fringe }: MergeResult,
): void {
  const { kernels } = ctx;
  const { toWorking } = inputs.frames[inputs.reference].color;
  const luminance = [0, 1, 2].map((c) => LUMINANCE[0] * toWorking[c] + LUMINANCE[1] * toWorking[3 + c] + LUMINANCE[2] * toWorking[6 + c]);
  const { width, from, to } = strip;
  const found = fringeOf(scope, planes, luminance, strip);
  noteFringe(found, strip, toWorking, top + from, fringe!);
  const n = width * (to - from);
  // a copy, so that rows to come are judged by what was there before
  const out = allocatePlanes(scope, n);
  each(out).forEach((plane, c) => {
    const samples = kernels.f32(plane, n);
    samples.set(kernels.f32(each(at(planes, width * from))[c], n));
    if (clean) for (const { index, after } of found) samples[index - width * from] = after[c];
  });
  kernels.run("applyMatrix", [...each(out), scope.matrix(toWorking)], 0, out.length, 65536);
  each(out).forEach((plane, c) => picture.write(0, c, top + from, kernels.f32(plane, n)));
}

/** Below this a sample would count as clipped, which it is not. */
const LEAST_TRUST = 1e-3;

/**
 * What a frame's samples count for beside those of frames that are shown as large as they were shot: one that is enlarged looks free of noise, because its detail is
 * missing. It still gives all of the light that no other has.
 */
function trustOf({ inverse, frame }: MergeInputs["frames"][number]): number {
  const { scale } = describeMatrix(invert(inverse), frame.width, frame.height);
  return Math.max(LEAST_TRUST, Math.min(1, (ENLARGED / scale) ** 6));
}

/** Merges rows in the reference's own primaries, where clipping happens; writes which frame gives most, and what each gives. */
function mergeStrip(ctx: EngineContext, inputs: MergeInputs, scope: Scope, y0: number, rows: number, result: Planes, { dominant, shares }: MergeResult): void {
  const { kernels } = ctx;
  const { width, height, frames, noise } = inputs;
  const base = frames[inputs.reference];
  const { toWorking } = base.color;
  // clipping is judged with the neighbours
  const top = Math.max(0, y0 - 1);
  const all = Math.min(height, y0 + rows + 1) - top;
  const skip = (y0 - top) * width;
  const planes = frames.map((input) => {
    const out = allocatePlanes(scope, width * all);
    readLinear(scope, input.file, input.color, 0, { x: 0, y: top, width, height: all }, out);
    // clipping is judged on the frame as shot, before its primaries or its development change the values
    const coverage = scope.floats(out.length + 16);
    fillCoverage(kernels, input, width, top, top + all, coverage);
    const resampled = input.lens !== null || input.inverse.some((v, i) => v !== IDENTITY[i]);
    kernels.run("judgeRows", [...each(out), width, all, resampled ? 1 : 0, coverage], 0, all, 32);
    if (input.color.toWorking.some((v, i) => Math.abs(v - toWorking[i]) > 1e-6)) {
      kernels.run("applyMatrix", [...each(out), scope.matrix(multiply(invert(toWorking), input.color.toWorking))], 0, out.length, 65536);
    }
    const trust = trustOf(input);
    if (trust < 1) {
      const plane = kernels.f32(coverage, width * all);
      for (let i = 0; i < plane.length; i++) plane[i] *= trust;
    }
    return { out: at(out, skip), coverage: coverage + skip * 4 };
  });
  const n = width * rows;
  const table = (addresses: number[]) => {
    const start = scope.bytes(addresses.length * 4);
    kernels.u32(start, addresses.length).set(addresses);
    return start;
  };
  const given = frames.map(() => scope.floats(n + 16));
  const exposures = scope.matrix(exposuresOf(inputs));
  const index = scope.bytes(n + 16);
  kernels.run(
    "mergeRadiance",
    [
      frames.length,
      table(planes.flatMap((p) => each(p.out))),
      table(planes.map((p) => p.coverage)),
      exposures,
      noise.shot,
      noise.readSquared,
      ...each(result),
      index,
      table(given),
    ],
    0,
    Math.ceil(n / 4) * 4,
    65536,
  );
  dominant.write(0, 0, y0, kernels.u8(index, n));
  given.forEach((plane, k) => writeShares(ctx, shares, k, plane, width, y0, rows));
}
