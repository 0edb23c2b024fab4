import { invert, multiply } from "../../core/geometry/matrix3";
import { makeOnce, type EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import type { Task } from "../task";
import { allocatePlanes, each, readLinear } from "./frameSamples";
import { buildLevels, levelCount } from "./levels";
import { fillCoverage, type MergeInputs, type MergeResult } from "./mergeInputs";

const RADIANCE_VERSION = 2;
const ROWS = 96;

/** Noise-weighted radiance of the placed frames; 1.0 is diffuse white at the reference frame's exposure. */
export async function openRadiance(ctx: EngineContext, inputs: MergeInputs, task: Task): Promise<MergeResult> {
  const key = await contentKey("radiance", RADIANCE_VERSION, [inputs.key, inputs.noise]);
  return openMerge(ctx, key, inputs, async (picture, dominant) => {
    const { kernels } = ctx;
    const { width, height, frames, noise } = inputs;
    const base = frames[inputs.reference];
    // the channels are merged in the reference's own primaries, where clipping happens
    const { toWorking } = base.color;
    // toWorking holds the reference's EV offset already
    const offset = base.frame.development.exposureEv;
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(y0, height, "Merging to radiance");
      const rows = Math.min(ROWS, height - y0);
      const n = width * rows;
      kernels.withScope((scope) => {
        const planes = frames.map((input) => {
          const out = allocatePlanes(scope, n);
          readLinear(scope, input.file, input.color, 0, { x: 0, y: y0, width, height: rows }, out);
          // clipping is judged on the frame as shot, before its primaries or its development change the values
          const coverage = scope.floats(out.length + 16);
          fillCoverage(kernels, input, width, y0, y0 + rows, coverage);
          kernels.run("judgeSamples", [...each(out), coverage], 0, out.length, 16384);
          if (input.color.toWorking.some((v, i) => Math.abs(v - toWorking[i]) > 1e-6)) {
            kernels.run("applyMatrix", [...each(out), scope.matrix(multiply(invert(toWorking), input.color.toWorking))], 0, out.length, 65536);
          }
          return { out, coverage };
        });
        const values = scope.bytes(frames.length * 4);
        const coverages = scope.bytes(frames.length * 4);
        kernels.u32(coverages, frames.length).set(planes.map((p) => p.coverage));
        const exposures = scope.matrix(frames.map((f) => 2 ** (f.relativeEv + f.frame.development.exposureEv - offset)));
        const result = allocatePlanes(scope, n);
        const index = scope.bytes(result.length);
        each(result).forEach((plane, c) => {
          kernels.u32(values, frames.length).set(planes.map((p) => each(p.out)[c]));
          kernels.run(
            "mergeRadiance",
            [frames.length, values, coverages, exposures, noise.shot, noise.readSquared, plane, c === 1 ? index : 0],
            0,
            result.length,
            16384,
          );
        });
        kernels.run("applyMatrix", [...each(result), scope.matrix(toWorking)], 0, result.length, 65536);
        each(result).forEach((plane, c) => picture.write(0, c, y0, kernels.f32(plane, n)));
        dominant.write(0, 0, y0, kernels.u8(index, n));
      });
    }
  });
}

/** Opens a finished merge from the store or makes it. */
export function openMerge(
  ctx: EngineContext,
  key: string,
  inputs: MergeInputs,
  make: (picture: MergeResult["picture"], dominant: MergeResult["dominant"]) => Promise<void>,
): Promise<MergeResult> {
  return makeOnce(ctx, key, () => openOrMake(ctx, key, inputs, make));
}

async function openOrMake(
  ctx: EngineContext,
  key: string,
  inputs: MergeInputs,
  make: (picture: MergeResult["picture"], dominant: MergeResult["dominant"]) => Promise<void>,
): Promise<MergeResult> {
  const indexKey = `${key}-index`;
  const picture = ctx.files.get(key) ?? (await ctx.store.open(key));
  const dominant = ctx.files.get(indexKey) ?? (await ctx.store.open(indexKey));
  if (picture && dominant) {
    ctx.files.set(key, picture).set(indexKey, dominant);
    return { picture, dominant };
  }
  const { width, height } = inputs;
  const levels = levelCount(width, height);
  const result: MergeResult = {
    picture: await ctx.store.create(key, { width, height, channels: 3, type: "f32", levels }),
    dominant: await ctx.store.create(indexKey, { width, height, channels: 1, type: "u8", levels }),
  };
  await make(result.picture, result.dominant);
  buildLevels(ctx.kernels, result.picture);
  buildLevels(ctx.kernels, result.dominant, true);
  await result.picture.commit();
  await result.dominant.commit();
  ctx.files.set(key, result.picture).set(indexKey, result.dominant);
  return result;
}
