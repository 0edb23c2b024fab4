import { weightedGuidedFilter } from "./guidedFilter";
import { noiseByLight } from "./noiseByLight";
import { SharpestFrame } from "./SharpestFrame";
import { CELL } from "./sharpness";
import type { Filters } from "../raster/filters";
import { enlargedRow } from "../raster/enlargedRow";

/** What a focus stack says of depth, per cell. */
export interface DepthMap {
  width: number;
  height: number;
  /** index of the sharpest frame in the order given, fractional */
  index: Float32Array;
  /** the same smoothed less, for joining frames: right at steps, where a smooth depth would take frames that lie between */
  choice: Float32Array;
  /** 0..1: how much the sharpest frame stands out */
  confidence: Float32Array;
}

/** Side of a wide place, cells. */
const WIDE = 8;

/**
 * Finds for every cell of 2×2 px the frame that is sharpest there, frame by frame, so that any number of frames takes the memory of a
 * few planes. Sharpness is the energy of second differences of px and of cells, less what noise alone makes of it in this frame at this
 * light; between frames the index is interpolated through the three frames around the peak. Where nothing near stands out of the noise,
 * the energy of wide places decides, in which also weak detail does; beside an edge it is the edge's.
 * @see Nayar and Nakagawa 1994, "Shape from focus" (sum-modified Laplacian)
 */
export class DepthFinder {
  readonly width: number;
  readonly height: number;
  private count = 0;
  private readonly near: SharpestFrame;
  private readonly wide: SharpestFrame;
  private readonly guide: Float32Array;

  /** @param size of the picture, px */
  constructor(
    size: { width: number; height: number },
    private readonly filters: Filters,
  ) {
    this.width = Math.ceil(size.width / CELL);
    this.height = Math.ceil(size.height / CELL);
    this.near = new SharpestFrame(this.width, this.height, filters);
    this.wide = new SharpestFrame(Math.ceil(this.width / WIDE), Math.ceil(this.height / WIDE), filters);
    this.guide = new Float32Array(this.width * this.height);
  }

  /**
   * Takes the next frame. @param energy per cell from `sharpnessOf`, 0 where the frame does not cover @param light mean per cell, NaN there
   * @param noise standard deviation of the encoded light, px
   */
  add(energy: Float32Array, light: Float32Array, noise: number): void {
    const { width, height } = this;
    const both = energy.slice();
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const i = y * width + x;
        const twice = 2 * light[i];
        const [across, down] = [twice - light[i - 1] - light[i + 1], twice - light[i - width] - light[i + width]];
        const coarse = across * across + down * down;
        // not a number where the frame does not cover all of it
        if (coarse > 0) both[i] += coarse;
      }
    }
    const gathered = this.near.gather(both);
    // a second difference of white noise has six times its variance; there are two a px, and two a cell of the mean of CELL² px
    const noiseAt = noiseByLight(gathered, light, 12 * noise * noise * (1 + 1 / (CELL * CELL)));
    const better = this.near.add(gathered, light.map(noiseAt));
    for (let i = 0; i < light.length; i++) if (better[i] && !Number.isNaN(light[i])) this.guide[i] = light[i];
    const wide = { width: this.wide.width, height: this.wide.height };
    const around = meanOfSquares(both, light, width, height, wide);
    this.wide.add(this.wide.gather(around.value), around.light.map(noiseAt));
    this.count++;
  }

  /**
   * The depth map, smoothed along the edges of the picture; where no frame stands out the surroundings decide.
   * @param pause comes PAUSES times, so that others get their turn and it can be stopped
   */
  async finish(pause: () => Promise<void>): Promise<DepthMap> {
    const { width, height, guide, count } = this;
    const { index, confidence } = this.near.finish(PLAIN);
    const base = this.filledWide();
    // near smoothing where it has something to go by, else what the wide places say
    const smoothed = async (how: typeof NEAR, wider: Float32Array): Promise<Float32Array> => {
      const own = await weightedGuidedFilter({ width, height, data: index }, confidence, guide, how, pause, this.filters);
      const known = this.filters.boxMean({ width, height, data: confidence }, how.radius);
      return own.map((v, i) => {
        const share = known[i] / (known[i] + ENOUGH);
        return Math.max(0, Math.min(count - 1, share * v + (1 - share) * wider[i]));
      });
    };
    const far = await smoothed(FAR, base);
    const near = await smoothed(NEAR, far);
    return { width, height, index: near, choice: await smoothed(FINE, near), confidence };
  }

  /** What wide places say, filled in from their surroundings, for every cell. */
  private filledWide(): Float32Array {
    const { width, height } = this.wide;
    const { index, confidence } = this.wide.finish(WIDE_PLAIN);
    const weighed = index.map((v, i) => v * confidence[i]);
    let filled = new Float32Array(index.length).fill((this.count - 1) / 2);
    for (let radius = Math.max(width, height); radius >= 1; radius >>= 1) {
      const [known, sum] = [confidence, weighed].map((data) => this.filters.boxMean({ width, height, data }, radius));
      filled = filled.map((wider, i) => (sum[i] + ENOUGH_WIDE * wider) / (known[i] + ENOUGH_WIDE));
    }
    const out = new Float32Array(this.width * this.height);
    for (let y = 0; y < this.height; y++) {
      enlargedRow({ width, height, data: filled }, WIDE, y, out.subarray(y * this.width, (y + 1) * this.width));
    }
    return out;
  }
}

/** Means of values and of light over squares of WIDE cells, cells without light left out; no light where there is none. */
function meanOfSquares(values: Float32Array, light: Float32Array, width: number, height: number, wide: { width: number; height: number }) {
  const [value, mean, counts] = [0, 1, 2].map(() => new Float32Array(wide.width * wide.height));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (Number.isNaN(light[i])) continue;
      const c = Math.floor(y / WIDE) * wide.width + Math.floor(x / WIDE);
      value[c] += values[i];
      mean[c] += light[i];
      counts[c]++;
    }
  }
  return { value: value.map((v, c) => (counts[c] ? v / counts[c] : 0)), light: mean.map((v, c) => (counts[c] ? v / counts[c] : NaN)) };
}

/** Pauses while the depth is finished: of three smoothings, seven each. */
export const PAUSES = 21;
/** Smoothing where the stack says enough, and how far it looks where it does not. Cells, and variance of light 0..1. */
const FINE = { radius: 2, epsilon: 4e-4 };
const NEAR = { radius: 9, epsilon: 4e-4 };
const FAR = { radius: 21, epsilon: 4e-4 };
/** Mean confidence at which near and wider surroundings count alike, of cells and of wide places. Found by trying, no source. */
const ENOUGH = 0.1;
const ENOUGH_WIDE = 0.01;
/**
 * Times the energy of noise at which a cell, and a wide place, is half believed. By chance the best of eight frames stands out by a third
 * of it in a cell, by a twentieth in a wide place. Found by trying, no source.
 */
const PLAIN = 8;
const WIDE_PLAIN = 0.3;

/**
 * Weight of frame k where the depth is `index`: one near its own index, falling to the neighbour's over a half of the step, so
 * that hardly any place mixes a sharp frame with a less sharp one. Weights of all frames sum to one.
 */
export function focusWeight(index: number, k: number): number {
  const distance = Math.abs(index - k);
  return Math.max(0, Math.min(1, 0.5 + (0.5 - distance) / TRANSITION));
}
/** Part of a step over which one frame gives way to the next. */
const TRANSITION = 0.8;
