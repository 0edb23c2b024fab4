import { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import type { Task } from "../task";
import type { RasterFile } from "../tiles/RasterStore";
import { allocatePlanes, each, readEncoded, REC709_TO_WORKING } from "./frameSamples";
import type { MergeInputs } from "./mergeInputs";
import { accumulate, allocatePyramid, coarser, collapse, reduce, type Pyramid } from "./pyramids";
import { writeShares } from "./shares";

/** Rows at once, even and a multiple of SHARE_CELL; few, so that they stay near the processor. */
const ROWS = 32;
/** Rows below a strip that the plane of half the size needs. */
const BELOW = 3;

/** Writes the weights of frame k for some rows of the picture; the weights of all frames sum to one. */
export type WeightOf = (k: number, y0: number, rows: number, out: Float32Array) => void;

/** Kernel addresses of the row y = 0 of planes of which some rows are there; they may lie outside of the memory. */
export interface FrameRows {
  channels: number[];
  weight: number;
}

/**
 * Sums the weighted Laplacian pyramids of all frames in sRGB encoding and collapses the sum into working light. Full-size planes of
 * a frame pass by in strips: only the sums are held at full size.
 * @see Burt, Adelson 1983 @param shares filled with the weights where they are not yet
 */
export async function blendPyramids(
  ctx: EngineContext,
  { width, height, frames }: MergeInputs,
  weightOf: WeightOf,
  picture: RasterFile,
  task: Task,
  shares?: RasterFile,
): Promise<void> {
  const { kernels } = ctx;
  await withPyramidSum(ctx, width, height, async (sum) => {
    for (const [k, { file, color }] of frames.entries()) {
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await task.step(0.95 * (k + y0 / height), frames.length, "Blending the frames");
        const y1 = Math.min(height, y0 + ROWS);
        const rows = Math.min(height, y1 + BELOW) - y0;
        kernels.withScope((scope) => {
          const planes = allocatePlanes(scope, width * rows);
          readEncoded(scope, file, color, y0, rows, width, planes);
          const given = scope.floats(width * rows + 16);
          weightOf(k, y0, rows, kernels.f32(given, width * rows));
          if (shares) writeShares(ctx, shares, k, given, width, y0, y1 - y0);
          const fromTop = (plane: number) => plane - y0 * width * 4;
          const strip = { channels: each(planes).map(fromTop), weight: fromTop(given) };
          sum.halve(strip, sum.halves, y0 === 0 ? 0 : y0 / 2 + 1, Math.min(sum.halfHeight, (y1 >> 1) + 1));
          sum.addFinest(strip, sum.halves, y0, y1);
        });
      }
      sum.addCoarser();
    }
    await sum.finish(picture, (y) => task.step(0.95 + (0.05 * y) / height, 1, "Blending the frames"));
  });
}

/** Gives a sum of pyramids to fill, and frees it. */
export async function withPyramidSum(ctx: EngineContext, width: number, height: number, fill: (sum: PyramidSum) => Promise<void>): Promise<void> {
  const scope = new Scope(ctx.kernels);
  try {
    await fill(new PyramidSum(ctx, scope, width, height));
  } finally {
    scope.release();
  }
}

/** The weighted Laplacian pyramids of frames, summed; the finest band comes in strips, the others a frame at a time. */
export class PyramidSum {
  private readonly sums: Pyramid[];
  private readonly channels: Pyramid[];
  private readonly weight: Pyramid;
  readonly halfWidth: number;
  readonly halfHeight: number;

  constructor(
    private readonly ctx: EngineContext,
    scope: Scope,
    private readonly width: number,
    private readonly height: number,
  ) {
    const depth = Math.floor(Math.log2(Math.min(width, height)));
    [this.halfWidth, this.halfHeight] = [(width + 1) >> 1, (height + 1) >> 1];
    this.sums = [0, 1, 2].map(() => allocatePyramid(scope, width, height, depth));
    for (const sum of this.sums) sum.at.forEach((at, l) => ctx.kernels.f32(at, sum.width[l] * sum.height[l]).fill(0));
    [this.weight, ...this.channels] = [0, 1, 2, 3].map(() => allocatePyramid(scope, this.halfWidth, this.halfHeight, Math.max(0, depth - 1)));
  }

  /** A picture of one row or column has one band only. */
  private get flat(): boolean {
    return this.sums[0].at.length === 1;
  }

  /** The planes of half the size of one frame, to be filled before its coarser bands are added. */
  get halves(): FrameRows {
    return { channels: this.channels.map(({ at }) => at[0]), weight: this.weight.at[0] };
  }

  /** Fills rows h0 to h1 of the planes of half the size; full-size rows 2·h0 − 2 to 2·h1 are read, as far as there are any. */
  halve(full: FrameRows, half: FrameRows, h0: number, h1: number): void {
    const pairs = [[full.weight, half.weight], ...full.channels.map((plane, c) => [plane, half.channels[c]])];
    for (const [from, to] of pairs) this.ctx.kernels.run("reduceRows", [from, this.width, this.height, to, this.halfWidth], h0, h1);
  }

  /** Adds the finest band of rows y0 to y1; rows y0 / 2 − 1 to y1 / 2 of the planes of half the size are read. */
  addFinest(full: FrameRows, half: FrameRows, y0: number, y1: number): void {
    const { kernels } = this.ctx;
    const { width, height, halfWidth, halfHeight } = this;
    full.channels.forEach((plane, c) => {
      const sum = this.sums[c].at[0];
      const from = y0 * width * 4;
      if (this.flat) kernels.run("accumulateProduct", [plane + from, full.weight + from, sum + from], 0, width * (y1 - y0), 65536);
      else kernels.run("accumulateBand", [plane, width, height, half.channels[c], halfWidth, halfHeight, full.weight, sum], y0, y1);
    });
  }

  /** Adds all but the finest band of the frame whose planes of half the size are filled. */
  addCoarser(): void {
    const { kernels } = this.ctx;
    reduce(kernels, this.weight);
    this.channels.forEach((channel, c) => {
      reduce(kernels, channel);
      accumulate(kernels, channel, this.weight, coarser(this.sums[c]));
    });
  }

  /** Collapses the sum and writes it in working light. */
  async finish(picture: RasterFile, step: (y: number) => Promise<void>): Promise<void> {
    for (const sum of this.sums) collapse(this.ctx.kernels, coarser(sum));
    for (let y0 = 0; y0 < this.height; y0 += ROWS) {
      await step(y0);
      this.finishStrip(y0, picture);
    }
  }

  private finishStrip(y0: number, picture: RasterFile): void {
    const { kernels } = this.ctx;
    const { width, height } = this;
    const rows = Math.min(ROWS, height - y0);
    const samples = Math.ceil((width * rows) / 4) * 4;
    const strips = this.sums.map(({ at, width: w, height: h }) => {
      const strip = at[0] + y0 * width * 4;
      if (at.length > 1) kernels.run("collapseRows", [at[0], w[0], h[0], at[1], w[1], h[1]], y0, y0 + rows);
      kernels.run("decodeSamples", [strip, strip], 0, samples, 65536);
      return strip;
    });
    kernels.withScope((scope) => kernels.run("applyMatrix", [...strips, scope.matrix(REC709_TO_WORKING)], 0, samples, 65536));
    strips.forEach((strip, c) => picture.write(0, c, y0, kernels.f32(strip, width * rows)));
  }
}
