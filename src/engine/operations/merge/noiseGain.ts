import { quantile } from "../../../core/numeric/statistics";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, each, readWorking } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";

const BLOCK = 8;
const BANDS = 16;
/** Share of the blocks taken for flat. */
const FLAT = 0.15;

/**
 * Noise of the reference frame over that of the merge: ratio of the second differences, which do not see slopes, in the blocks of the
 * merge whose quarters differ least. @returns 1 where nothing could be measured
 */
export function measureNoiseGain(ctx: EngineContext, job: PreparedJob): number {
  const { kernels } = ctx;
  const { width, height, frames, reference } = job.inputs;
  const { file, color } = frames[reference];
  const rows = Math.min(height, 8 * BLOCK);
  const n = width * rows;
  const before: number[] = [];
  const after: number[] = [];
  const structure: number[] = [];
  for (let band = 0; band < BANDS; band++) {
    const y = Math.floor(((height - rows) * (band + 0.5)) / BANDS);
    kernels.withScope((scope) => {
      const source = allocatePlanes(scope, n);
      readWorking(scope, file, color, 0, { x: 0, y, width, height: rows }, source);
      const merged = new Float32Array(n);
      job.merge.picture.read(0, 1, 0, y, width, rows, merged);
      const shot = kernels.f32(each(source)[1], n);
      for (let by = 0; by + BLOCK <= rows; by += BLOCK) {
        for (let bx = 0; bx + BLOCK <= width; bx += BLOCK) {
          before.push(energy(shot, width, bx, by));
          after.push(energy(merged, width, bx, by));
          structure.push(spread(merged, width, bx, by));
        }
      }
    });
  }
  if (after.length < 40) return 1;
  const limit = quantile(structure, FLAT);
  let [a, b] = [0, 0];
  after.forEach((e, i) => {
    if (structure[i] > limit) return;
    a += before[i];
    b += e;
  });
  return b > 0 ? Math.sqrt(a / b) : 1;
}

function energy(plane: Float32Array, width: number, x: number, y: number): number {
  let sum = 0;
  for (let v = 0; v < BLOCK; v++) {
    const row = (y + v) * width + x;
    for (let u = 1; u + 1 < BLOCK; u++) sum += (plane[row + u - 1] - 2 * plane[row + u] + plane[row + u + 1]) ** 2;
  }
  return sum;
}

/** Largest difference between the means of a block's quarters: structure, which noise hardly changes. */
function spread(plane: Float32Array, width: number, x: number, y: number): number {
  const half = BLOCK / 2;
  const means = [0, 1, 2, 3].map((q) => {
    let sum = 0;
    for (let v = 0; v < half; v++) for (let u = 0; u < half; u++) sum += plane[(y + v + (q >> 1) * half) * width + x + u + (q & 1) * half];
    return sum / (half * half);
  });
  return (Math.max(...means) - Math.min(...means)) / (means[0] + 1e-3);
}
