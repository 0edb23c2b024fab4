import { Scope, type Kernels } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { RasterFile } from "../../tiles/RasterStore";
import { REC709_TO_WORKING } from "../frames/frameSamples";
import { writeHalved } from "../frames/levels";
import { accumulate, addBands, allocatePyramid, coarser, collapse, reduce, type Pyramid, type WeightedBand } from "./pyramids";
import { RollingRows } from "./RollingRows";

/** So many of the finest bands pass by in rows; what is left of a frame then is held whole. */
const PASSING = 3;
/** Rows that stay when others come: halving looks two rows back, expanding one of half the size. */
const KEPT = 4;
/** Rows collapsed at once, few, so that they stay near the processor. */
const ROWS = 32;

/** Samples of a plane up to which the finest sums are held in the kernels' memory; beyond, they lie in the picture until it is finished. */
const LARGEST_HELD = 40e6;

/** Gives a sum of pyramids to fill and to finish into a picture, and frees it. */
export async function withPyramidSum(
  ctx: Pick<EngineContext, "kernels">,
  picture: RasterFile,
  fill: (sum: PyramidSum) => Promise<void>,
  largestHeld = LARGEST_HELD,
): Promise<void> {
  const scope = new Scope(ctx.kernels);
  const { width, height } = picture.spec;
  try {
    await fill(new PyramidSum(ctx.kernels, scope, picture, width * height <= largestHeld || Math.min(width, height) < 2));
  } finally {
    scope.release();
  }
}

/** The weighted Laplacian pyramids of frames, summed. Rows of a frame pass by from top to bottom: only the sums are held at full size. @see Burt, Adelson 1983 */
export class PyramidSum {
  private readonly sums: Pyramid[];
  /** the sizes of a frame below those that pass by: weight, red, green, blue */
  private readonly rest: Pyramid[];
  readonly passing: number;

  constructor(
    readonly kernels: Kernels,
    scope: Scope,
    private readonly picture: RasterFile,
    /** whether the finest sums are in the kernels' memory */
    private readonly held: boolean,
  ) {
    const { width, height } = picture.spec;
    const depth = Math.floor(Math.log2(Math.min(width, height)));
    this.passing = Math.min(PASSING, depth);
    this.sums = [0, 1, 2].map(() => allocatePyramid(scope, width, height, depth, held ? 0 : 1));
    const { width: w, height: h } = this.sizeOf(this.passing);
    this.rest = [0, 1, 2, 3].map(() => allocatePyramid(scope, w, h, depth - this.passing));
  }

  sizeOf(level: number): { width: number; height: number } {
    return { width: this.sums[0].width[level], height: this.sums[0].height[level] };
  }

  /** Changes rows of the sums of a size. @param fresh what they hold does not count @param change gets where a sum begins, and its channel */
  change(level: number, from: number, to: number, fresh: boolean, change: (sum: number, channel: number) => void): void {
    if (to <= from) return;
    this.sums.forEach(({ at }, channel) => {
      if (level > 0 || this.held) change(at[level], channel);
      else this.withRows(channel, from, to, fresh, (origin, rows) => (change(origin, channel), this.picture.write(0, channel, from, rows)));
    });
  }

  /** Rows of a finest sum that lies in the picture. */
  private withRows(channel: number, from: number, to: number, fresh: boolean, use: (origin: number, rows: Float32Array) => void): void {
    const { width } = this.picture.spec;
    this.kernels.withScope((scope) => {
      const at = scope.floats((to - from) * width + 16);
      const rows = this.kernels.f32(at, (to - from) * width);
      if (!fresh) this.picture.read(0, channel, 0, from, width, to - from, rows);
      use(at - from * width * 4, rows);
    });
  }

  /** Frames to be added, whose rows come together. @param rows most rows that come at once @param scope holds them @param first nothing has been added before */
  frames(scope: Scope, count: number, rows: number, first: boolean): FrameBands {
    return new FrameBands(this, scope, count, 0, rows, first);
  }

  /** Adds what is left of a frame after the bands that pass by. @param planes red, green, blue and weight of that size */
  addRest(planes: number[], first: boolean): void {
    const { kernels } = this;
    const [weight, ...channels] = [planes[3], ...planes.slice(0, 3)].map((plane, i) => ({ ...this.rest[i], at: [plane, ...this.rest[i].at.slice(1)] }));
    reduce(kernels, weight);
    channels.forEach((channel, c) => {
      reduce(kernels, channel);
      accumulate(kernels, channel, weight, coarser(this.sums[c], this.passing), first);
    });
  }

  /** Collapses the sum and writes it in working light into the picture, with level 1. */
  async finish(step: (y: number) => Promise<void>): Promise<void> {
    for (const sum of this.sums) collapse(this.kernels, coarser(sum));
    for (let y0 = 0; y0 < this.picture.spec.height; y0 += ROWS) {
      await step(y0);
      this.finishStrip(y0);
    }
  }

  private finishStrip(y0: number): void {
    const { kernels, picture } = this;
    const { width, height } = picture.spec;
    const rows = Math.min(ROWS, height - y0);
    const samples = Math.ceil((width * rows) / 4) * 4;
    kernels.withScope((scope) => {
      const strips = this.sums.map(({ at, width: w, height: h }, channel) => {
        const strip = this.held ? at[0] + y0 * width * 4 : scope.floats(samples + 16);
        if (!this.held) picture.read(0, channel, 0, y0, width, rows, kernels.f32(strip, width * rows));
        if (at.length > 1) kernels.run("collapseRows", [strip - y0 * width * 4, w[0], h[0], at[1], w[1], h[1]], y0, y0 + rows);
        kernels.run("decodeSamples", [strip, strip], 0, samples, 65536);
        return strip;
      });
      kernels.run("applyMatrix", [...strips, scope.matrix(REC709_TO_WORKING)], 0, samples, 65536);
      strips.forEach((strip, c) => writeHalved(kernels, picture, c, y0, rows, strip));
    });
  }
}

/** Frames at one size on their way into a sum. */
export class FrameBands {
  /** red, green, blue and weight of each frame, for the rows to be put into */
  readonly planes: RollingRows[][];
  private readonly next: FrameBands | null;
  private done = 0;

  constructor(
    private readonly sum: PyramidSum,
    scope: Scope,
    count: number,
    private readonly level: number,
    rows: number,
    private readonly first: boolean,
  ) {
    const { width, height } = sum.sizeOf(level);
    const whole = level === sum.passing;
    const plane = () => (whole ? new RollingRows(scope, width, 0, height) : new RollingRows(scope, width, rows, KEPT));
    this.planes = Array.from({ length: count }, () => Array.from({ length: 4 }, plane));
    this.next = whole ? null : new FrameBands(sum, scope, count, level + 1, (rows >> 1) + 3, first);
  }

  /** Makes room for the rows above `end`. */
  moveTo(end: number): void {
    for (const rows of this.planes.flat()) rows.moveTo(end);
  }

  /** Takes the rows above `end`, which are filled, and adds the bands they complete. @returns the rows whose finest band that was */
  push(end: number): { from: number; to: number } {
    const { sum, next, done: from } = this;
    const { kernels } = sum;
    const size = sum.sizeOf(this.level);
    const at = addressesOf(this.planes);
    const last = end === size.height;
    if (!next) {
      if (last) at.forEach((planes, k) => sum.addRest(planes, this.first && k === 0));
      this.done = end;
      return { from, to: end };
    }
    const half = sum.sizeOf(this.level + 1);
    const halved = last ? half.height : Math.max(0, (end - 1) >> 1);
    const to = last ? size.height : Math.max(0, 2 * halved - 2);
    const before = next.end;
    next.moveTo(halved);
    const halves = addressesOf(next.planes);
    at.forEach((planes, k) => {
      planes.forEach((plane, i) => kernels.run("reduceRows", [plane, size.width, size.height, halves[k][i], half.width], before, halved));
    });
    sum.change(this.level, from, to, this.first, (into, c) => {
      const bands = at.map((planes, k): WeightedBand => [planes[c], halves[k][c], planes[3]]);
      addBands(kernels, bands, size, into, this.first, from, to);
    });
    next.push(halved);
    this.done = to;
    return { from, to };
  }

  private get end(): number {
    return this.planes[0][0].end;
  }
}

const addressesOf = (planes: RollingRows[][]): number[][] => planes.map((frame) => frame.map((rows) => rows.at(0)));
