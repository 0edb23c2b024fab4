import { median } from "../numeric/statistics";
import type { Filters } from "../raster/filters";

/** Radius over which sharpness is gathered, places. */
const GATHER = 2;
/** Share by which the sharpest frame stands out by chance, where there is noise or a glow of what is out of focus only. Found by trying, no source. */
const LEAST_CONTRAST = 0.25;

/** Which of the frames added is sharpest at each place. */
export class SharpestFrame {
  private count = 0;
  private readonly best: Float32Array;
  private readonly bestIndex: Float32Array;
  private readonly before: Float32Array;
  private readonly after: Float32Array;
  private readonly sum: Float32Array;
  /** energy of noise in the best frame */
  private readonly noise: Float32Array;
  private last: Float32Array | null = null;

  constructor(
    readonly width: number,
    readonly height: number,
    private readonly filters: Filters,
  ) {
    [this.best, this.bestIndex, this.before, this.after, this.sum, this.noise] = Array.from({ length: 6 }, () => new Float32Array(width * height));
  }

  /** Energy gathered from around each place. */
  gather(energy: Float32Array): Float32Array {
    const { width, height } = this;
    const { boxMean } = this.filters;
    return boxMean({ width, height, data: boxMean({ width, height, data: energy }, GATHER) }, GATHER);
  }

  /** Takes the next frame. @param energy gathered @param noise what of it is noise @returns 1 where the frame is sharper than all before */
  add(energy: Float32Array, noise: Float32Array): Uint8Array {
    const better = new Uint8Array(energy.length);
    const k = this.count++;
    const e = energy.map((v, i) => Math.max(0, v - noise[i]));
    for (let i = 0; i < e.length; i++) {
      this.sum[i] += e[i];
      if (this.bestIndex[i] === k - 1) this.after[i] = e[i];
      if (k > 0 && e[i] <= this.best[i]) continue;
      better[i] = 1;
      this.best[i] = e[i];
      this.noise[i] = noise[i];
      this.bestIndex[i] = k;
      this.before[i] = this.last ? this.last[i] : 0;
      this.after[i] = 0;
    }
    this.last = e;
    return better;
  }

  /** Fractional index of the sharpest frame and how much it stands out. @param plain times the energy of noise at which a place is half believed */
  finish(plain: number): { index: Float32Array; confidence: Float32Array } {
    const { best, before, after, sum, noise, bestIndex, count } = this;
    const sample: number[] = [];
    for (let i = 0; i < best.length; i += 37) if (best[i] > 0) sample.push(best[i]);
    const typical = sample.length ? median(sample) : 1;
    const index = bestIndex.map((k, i) => k + peakOffset(before[i], best[i], after[i], k > 0, k < count - 1));
    const confidence = best.map((v, i) => {
      if (!(v > 0)) return 0;
      const contrast = 1 - (sum[i] - v) / Math.max(1, count - 1) / v;
      const believed = v ** 2 / (v ** 2 + (plain * noise[i]) ** 2);
      return (Math.max(0, contrast - LEAST_CONTRAST) / (1 - LEAST_CONTRAST)) ** 2 * believed * (v / (v + 0.05 * typical));
    });
    return { index, confidence };
  }
}

/** Where a parabola through the logarithms of three neighbours peaks, −0.5..0.5 of a step. */
function peakOffset(before: number, best: number, after: number, hasBefore: boolean, hasAfter: boolean): number {
  if (!hasBefore || !hasAfter || !(before > 0) || !(after > 0) || !(best > 0)) return 0;
  const [a, b, c] = [Math.log(before), Math.log(best), Math.log(after)];
  const bend = a - 2 * b + c;
  return bend < -1e-6 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
}
