import { median, quantile } from "../../../core/numeric/statistics";
import type { EngineContext } from "../../EngineContext";
import { each } from "../frames/frameSamples";
import type { Task } from "../../task";
import { combineRows, type RepeatMethod } from "./mergeRepeats";
import type { MergeInputs } from "./mergeTypes";

const BLOCK = 8;
/** Rows of blocks that are looked at, spread over the picture. */
const BANDS = 32;
/** Share of the blocks taken: those that are least uneven against the noise of their light. */
const FLATTEST = 0.1;
const FEWEST_BLOCKS = 40;
/** Light between which no channel is lost in black or clipped. Common practice, no source. */
const DARKEST = 0.004;
const BRIGHTEST = 0.8;

interface Block {
  /** variances of the reference frame and of the merge, against the noise of one frame at that light */
  before: number;
  after: number;
  /** variance of both halves together, which is structure, against the noise of one frame */
  uneven: number;
}

/**
 * Noise of the reference frame over that of the merge, in green. The frames are merged in two halves: in their difference the scene is gone and the
 * noise of both is left, of which that of the whole merge follows; likewise for the reference and the half that it takes no part in. Where a
 * scene is textured frames that were resampled differ in more than noise, so the flattest blocks are
 * taken; which these are is told by the sum of the halves, of which their difference says nothing. @returns 1 where nothing could be measured
 */
export async function measureNoiseGain(ctx: EngineContext, inputs: MergeInputs, method: RepeatMethod, task: Task): Promise<number> {
  const { width, height, frames, reference, noise } = inputs;
  // every other frame, so that what changes with time is in both halves
  const order = [reference, ...frames.keys()].filter((k, i) => i === 0 || k !== reference);
  const halves = [0, 1].map((odd) => order.filter((_, i) => i % 2 === odd).map((k) => frames[k]));
  if (halves[1].length === 0 || width < BLOCK || height < BLOCK) return 1;
  const [own, other] = halves.map((half) => half.length);
  const blocks: Block[] = [];
  for (let band = 0; band < BANDS; band++) {
    await task.step(band, BANDS, "task.measuringNoise");
    const y = Math.floor(((height - BLOCK) * (band + 0.5)) / BANDS);
    ctx.kernels.withScope((scope) => {
      const greenOf = (some: MergeInputs["frames"], how: RepeatMethod) =>
        // a copy: what is allocated next may move the kernels' memory
        ctx.kernels.f32(each(combineRows(ctx, scope, { width, noise, frames: some }, how, y, BLOCK, null))[1], width * BLOCK).slice();
      const [a, b] = halves.map((half) => greenOf(half, method));
      const shot = greenOf([frames[reference]], "mean");
      for (let x = 0; x + BLOCK <= width; x += BLOCK) {
        const light = meanOf(shot, width, x);
        if ([light, meanOf(a, width, x), meanOf(b, width, x)].some((v) => v < DARKEST || v > BRIGHTEST)) continue;
        // the noise of a mean falls with the number of its frames
        const halved = varianceOf((i) => a[i] - b[i], width, x);
        const after = (halved * own * other) / (own + other) ** 2;
        const before = varianceOf((i) => shot[i] - b[i], width, x) - (halved * own) / (own + other);
        const expected = noise.shot * light + noise.readSquared;
        blocks.push({ before: before / expected, after: after / expected, uneven: varianceOf((i) => a[i] + b[i], width, x) / expected });
      }
    });
  }
  if (blocks.length < FEWEST_BLOCKS) return 1;
  const unevenness = blocks.map((block) => block.uneven).sort((p, q) => p - q);
  const limit = Math.max(unevenness[FEWEST_BLOCKS - 1], quantile(unevenness, FLATTEST));
  const flat = blocks.filter((block) => block.uneven <= limit);
  // of the middle block, since something may pass in the reference
  const [before, after] = [median(flat.map((block) => block.before)), median(flat.map((block) => block.after))];
  return after > 0 && before > 0 ? Math.sqrt(before / after) : 1;
}

function meanOf(plane: Float32Array, width: number, x: number): number {
  let sum = 0;
  for (let v = 0; v < BLOCK; v++) for (let u = 0; u < BLOCK; u++) sum += plane[v * width + x + u];
  return sum / BLOCK ** 2;
}

/** About the mean of the block, so that a flicker of the light counts for nothing. */
function varianceOf(at: (i: number) => number, width: number, x: number): number {
  let [sum, squares] = [0, 0];
  for (let v = 0; v < BLOCK; v++) {
    for (let u = 0; u < BLOCK; u++) {
      const value = at(v * width + x + u);
      sum += value;
      squares += value * value;
    }
  }
  return squares / BLOCK ** 2 - (sum / BLOCK ** 2) ** 2;
}
