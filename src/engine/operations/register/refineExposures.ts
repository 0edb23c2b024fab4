import { weightedMedian } from "../../../core/numeric/statistics";
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, each, readLinear } from "../frames/frameSamples";
import type { MergeInputs } from "../merge/mergeTypes";

/** Linear range in which a sample is compared. Common practice, no source. */
const BRIGHTEST = 0.5;
const DARKEST = 0.006;
/** Samples whose median is surer than any guess from what frames look like as a whole. */
const ENOUGH = 50;

/**
 * EV of the placed frames from registered pixels: median log ratio between neighbours of the ladder over samples that neither
 * clips, at a coarse level. Falls back to the earlier value where neighbours share no light.
 * @returns EV against the darkest frame, by frame id
 */
export function refineExposures(ctx: EngineContext, inputs: MergeInputs): Record<string, number> {
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(inputs.width, inputs.height) / 1300)));
  const { width, height } = sizeAtLevel(inputs.width, inputs.height, level);
  const greens = inputs.frames.map((input) =>
    ctx.kernels.withScope((scope) => {
      const planes = allocatePlanes(scope, width * height);
      readLinear(scope, input.file, input.color, level, { x: 0, y: 0, width, height }, planes);
      const [r, g, b] = each(planes).map((at) => ctx.kernels.f32(at, width * height));
      // a clipped red or blue, or a clipped part of a sample, would make the frame look too dark
      return g.map((v, i) => (Math.max(r[i], v, b[i]) > BRIGHTEST ? -1 : v));
    }),
  );
  const order = inputs.frames.map((_, i) => i).sort((a, b) => inputs.frames[a].relativeEv - inputs.frames[b].relativeEv);
  const ev = inputs.frames.map(() => 0);
  for (let k = 1; k < order.length; k++) {
    const [a, b] = [order[k - 1], order[k]];
    const [ratios, weights] = [new Float64Array(width * height), new Float64Array(width * height)];
    let n = 0;
    for (let i = 0; i < greens[a].length; i++) {
      const [p, q] = [greens[a][i], greens[b][i]];
      if (p < DARKEST || q < DARKEST) continue;
      ratios[n] = Math.log2(q / p);
      weights[n++] = Math.sqrt(Math.min(p, q));
    }
    const step = n >= ENOUGH ? weightedMedian(ratios.subarray(0, n), weights.subarray(0, n)) : inputs.frames[b].relativeEv - inputs.frames[a].relativeEv;
    ev[b] = ev[a] + step;
  }
  return Object.fromEntries(inputs.frames.map((f, i) => [f.frame.id, ev[i]]));
}
