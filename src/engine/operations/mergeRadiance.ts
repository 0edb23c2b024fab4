import { LUMINANCE } from "../../core/color/primaries";
import { IDENTITY, invert, multiply } from "../../core/geometry/matrix3";
import { FRINGE_REACH } from "../../core/merge/removeFringe";
import type { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import type { Task } from "../task";
import { allocatePlanes, each, readLinear, type Planes } from "./frameSamples";
import { cleanStrip } from "./fringe";
import { fillCoverage, type MergeInputs, type MergeResult } from "./mergeInputs";
import { openMerge } from "./openMerge";
import { writeShares } from "./shares";

const RADIANCE_VERSION = 4;
const ROWS = 96;

/** Noise-weighted radiance of the placed frames; 1.0 is diffuse white at the reference frame's exposure. @param clean takes coloured lines from along edges; they are measured in either case */
export async function openRadiance(ctx: EngineContext, inputs: MergeInputs, clean: boolean, task: Task): Promise<MergeResult> {
  const key = await contentKey("radiance", RADIANCE_VERSION, [inputs.key, inputs.noise, clean]);
  const { width, height } = inputs;
  const make = async ({ picture, dominant, shares, fringe }: MergeResult) => {
    const { kernels } = ctx;
    const { toWorking } = inputs.frames[inputs.reference].color;
    const luminance = [0, 1, 2].map((c) => LUMINANCE[0] * toWorking[c] + LUMINANCE[1] * toWorking[3 + c] + LUMINANCE[2] * toWorking[6 + c]);
    // clipping is judged with the neighbours
    const reach = 1 + FRINGE_REACH;
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(y0, height, "Merging to radiance");
      const rows = Math.min(ROWS, height - y0);
      const top = Math.max(0, y0 - reach);
      const bottom = Math.min(height, y0 + rows + reach);
      kernels.withScope((scope) => {
        const strip = mergeStrip(ctx, inputs, scope, top, bottom - top);
        const skip = (y0 - top) * width;
        const planes = each(strip.result).map((plane) => kernels.f32(plane, width * (bottom - top)).slice()) as [Float32Array, Float32Array, Float32Array];
        cleanStrip({ planes, width, rows: bottom - top, from: y0 - top, to: y0 - top + rows }, luminance, toWorking, y0, fringe!);
        if (clean) each(strip.result).forEach((plane, c) => kernels.f32(plane, planes[c].length).set(planes[c]));
        kernels.run("applyMatrix", [...each(strip.result), scope.matrix(toWorking)], 0, strip.result.length, 65536);
        const inner = width * rows;
        each(strip.result).forEach((plane, c) => picture.write(0, c, y0, kernels.f32(plane + skip * 4, inner)));
        dominant.write(0, 0, y0, kernels.u8(strip.index + skip, inner));
        strip.given.forEach((plane, k) => writeShares(ctx, shares, k, plane + skip * 4, width, y0, rows));
      });
    }
  };
  return openMerge(ctx, key, inputs, make, true);
}

/** Rows of the radiance in the reference's own primaries, where clipping happens; the frame that gives most, and what each gives. */
function mergeStrip(ctx: EngineContext, inputs: MergeInputs, scope: Scope, y: number, rows: number): { result: Planes; index: number; given: number[] } {
  const { kernels } = ctx;
  const { width, frames, noise } = inputs;
  const base = frames[inputs.reference];
  const { toWorking } = base.color;
  // toWorking holds the reference's EV offset already
  const offset = base.frame.development.exposureEv;
  const n = width * rows;
  const planes = frames.map((input) => {
    const out = allocatePlanes(scope, n);
    readLinear(scope, input.file, input.color, 0, { x: 0, y, width, height: rows }, out);
    // clipping is judged on the frame as shot, before its primaries or its development change the values
    const coverage = scope.floats(out.length + 16);
    fillCoverage(kernels, input, width, y, y + rows, coverage);
    const top = scope.floats(out.length + 16);
    kernels.run("largestChannel", [...each(out), top], 0, out.length, 65536);
    const resampled = input.lens !== null || input.inverse.some((v, i) => v !== IDENTITY[i]);
    kernels.run("judgeRows", [top, width, rows, resampled ? 1 : 0, coverage], 0, rows, 32);
    if (input.color.toWorking.some((v, i) => Math.abs(v - toWorking[i]) > 1e-6)) {
      kernels.run("applyMatrix", [...each(out), scope.matrix(multiply(invert(toWorking), input.color.toWorking))], 0, out.length, 65536);
    }
    return { out, coverage };
  });
  const table = (addresses: number[]) => {
    const at = scope.bytes(frames.length * 4);
    kernels.u32(at, frames.length).set(addresses);
    return at;
  };
  const coverages = table(planes.map((p) => p.coverage));
  const given = frames.map(() => scope.floats(n + 16));
  const gives = table(given);
  const exposures = scope.matrix(frames.map((f) => 2 ** (f.relativeEv + f.frame.development.exposureEv - offset)));
  const result = allocatePlanes(scope, n);
  const index = scope.bytes(result.length);
  each(result).forEach((plane, c) => {
    const values = table(planes.map((p) => each(p.out)[c]));
    const [most, shares] = c === 1 ? [index, gives] : [0, 0];
    kernels.run("mergeRadiance", [frames.length, values, coverages, exposures, noise.shot, noise.readSquared, plane, most, shares], 0, result.length, 16384);
  });
  return { result, index, given };
}
