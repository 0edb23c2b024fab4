import { TO_REC709 } from "../color/primaries";
import { encodeSrgb } from "../color/srgbCurve";
import { quantile } from "../numeric/statistics";

/** Noise of one part of the tone scale: its middle, encoded 0..1, and standard deviations of red, green and blue, 8-bit steps. */
export interface ToneNoise {
  encoded: number;
  sigma: [number, number, number];
}

export interface NoiseFigures {
  tones: ToneNoise[];
  /** deviation of a grain, px: 0 where neighbours have nothing to do with each other; null where too little is even */
  grainPx: number | null;
  /** share of the variance of red and green that they have together, 0..1; 0 where too little is even */
  common: number;
}

/** Side of a block, samples, numbers of parts of the tone scale, and blocks that tell one. */
export const BLOCK = 16;
const PARTS = [8, 3, 1];
const FEWEST = 12;
/** Of the blocks of a tone, the most even quarter is taken for even; its middle lies under that of noise alone. By simulation of white noise over blocks of 256. */
const EVEN = 0.25;
const UNDER = 1.03;
/** Noise makes blocks alike: the most even fiftieth of a tone, and by how much its quarter may lie over that, times; less than a third of an 8-bit step is none. Common practice, no source. */
const EVENEST = 0.02;
const ALIKE = 1.6;
const LEAST = 1 / 3 / 255;
/** Encoded values at which noise is cut off. */
const [BLACK, WHITE] = [0.02, 0.98];
/** Correlation of neighbours that is none. */
const NONE = 0.03;

interface Block {
  mean: number;
  sigma: [number, number, number];
  /** of green, with the next sample to the right and below */
  beside: number;
  /** of red and green, in the same sample */
  together: number;
}

/** Noise of even blocks, gathered block by block. */
export class NoiseGatherer {
  private readonly blocks: Block[] = [];

  /** @param planes encoded red, green and blue of a block, rows of BLOCK, BLOCK × BLOCK samples each */
  add(planes: readonly Float32Array[]): void {
    const left = planes.map(withoutSlope);
    if (left.some((l) => l.mean < BLACK || l.mean > WHITE)) return;
    const green = left[1].rest;
    let [own, beside, pairs] = [0, 0, 0];
    for (let y = 0; y + 1 < BLOCK; y++) {
      for (let x = 0; x + 1 < BLOCK; x++) {
        const i = y * BLOCK + x;
        own += 2 * green[i] * green[i];
        beside += green[i] * green[i + 1] + green[i] * green[i + BLOCK];
        pairs++;
      }
    }
    const deviation = ({ rest }: { rest: Float32Array }): number => Math.sqrt(rest.reduce((s, v) => s + v * v, 0) / (rest.length - 3));
    const red = left[0].rest;
    const [across, squares] = [red.reduce((s, v, i) => s + v * green[i], 0), red.reduce((s, v) => s + v * v, 0) * green.reduce((s, v) => s + v * v, 0)];
    const together = squares > 0 ? across / Math.sqrt(squares) : 0;
    this.blocks.push({ mean: left[1].mean, sigma: left.map(deviation) as Block["sigma"], beside: pairs && own > 0 ? beside / own : 0, together });
  }

  /** By eight parts of the tone scale, by three where too little of it is even, or all of it together. */
  figures(): NoiseFigures {
    const told = PARTS.map((parts) => this.evenest(parts));
    const { tones, even } = told.find((t) => t.even.length > 0) ?? { tones: [], even: [] };
    if (even.length === 0) return { tones, grainPx: null, common: 0 };
    const beside = quantile(
      even.map((b) => b.beside),
      0.5,
    );
    const grainPx = grainOf(beside);
    const common = quantile(
      even.map((b) => b.together),
      0.5,
    );
    // what goes on over a block is taken for its slope: coarse grain loses that much
    const lost = 1 / Math.sqrt(kept(grainPx));
    return {
      tones: tones.map(({ encoded, sigma }) => ({ encoded, sigma: sigma.map((v) => v * lost) as ToneNoise["sigma"] })),
      grainPx,
      common: Math.min(1, Math.max(0, common)),
    };
  }

  /** The noise of each part of the tone scale, and the blocks that tell it. */
  private evenest(parts: number): { tones: ToneNoise[]; even: Block[] } {
    const tones: ToneNoise[] = [];
    const even: Block[] = [];
    for (let t = 0; t < parts; t++) {
      const within = this.blocks.filter(({ mean }) => Math.min(parts - 1, Math.floor(mean * parts)) === t).sort((a, b) => a.sigma[1] - b.sigma[1]);
      if (within.length < FEWEST) continue;
      // what differs that much among the most even is no noise, but what is shown
      const [evenest, usual] = [within[Math.floor(EVENEST * within.length)], within[Math.floor(EVEN * within.length)]];
      if (usual.sigma[1] > ALIKE * Math.max(LEAST, evenest.sigma[1])) continue;
      const most = within.slice(0, Math.max(FEWEST / 2, Math.ceil(EVEN * within.length)));
      even.push(...most);
      const of = (c: number) =>
        255 *
        UNDER *
        quantile(
          most.map((b) => b.sigma[c]),
          0.5,
        );
      tones.push({ encoded: (t + 0.5) / parts, sigma: [of(0), of(1), of(2)] });
    }
    return { tones, even };
  }
}

/** Share of the variance of a grain that a block keeps without its mean and two slopes, each of which takes that of an area of 4π s² samples. */
const kept = (grainPx: number): number => Math.max(0.3, 1 - (3 * 4 * Math.PI * grainPx * grainPx) / (BLOCK * BLOCK));

/** Deviation of a Gaussian grain by the correlation of neighbours in a block, which is exp(−1 / 4s²) where nothing was taken away. */
function grainOf(beside: number): number {
  if (beside <= NONE) return 0;
  let grain = 0;
  for (let round = 0; round < 30; round++) {
    const whole = 1 - (1 - beside) * kept(grain);
    grain = Math.sqrt(-1 / (4 * Math.log(Math.min(0.95, whole))));
  }
  return grain;
}

/** A block of planes of working light as it is gathered: encoded, in its own channels. @param width of the planes' rows @param x @param y of its first sample */
export function encodedBlock([r, g, b]: readonly Float32Array[], width: number, x: number, y: number): Float32Array[] {
  const block = [0, 1, 2].map(() => new Float32Array(BLOCK * BLOCK));
  for (let i = 0; i < BLOCK * BLOCK; i++) {
    const at = (y + Math.floor(i / BLOCK)) * width + x + (i % BLOCK);
    for (let c = 0; c < 3; c++) block[c][i] = encodeSrgb(Math.max(0, TO_REC709[3 * c] * r[at] + TO_REC709[3 * c + 1] * g[at] + TO_REC709[3 * c + 2] * b[at]));
  }
  return block;
}

/** A block without its mean and slope. */
function withoutSlope(plane: Float32Array): { mean: number; rest: Float32Array } {
  const middle = (BLOCK - 1) / 2;
  let [sum, across, down, squares] = [0, 0, 0, 0];
  for (let i = 0; i < plane.length; i++) {
    const [u, v] = [(i % BLOCK) - middle, Math.floor(i / BLOCK) - middle];
    sum += plane[i];
    across += u * plane[i];
    down += v * plane[i];
    squares += u * u;
  }
  const mean = sum / plane.length;
  return { mean, rest: plane.map((value, i) => value - mean - (((i % BLOCK) - middle) * across + (Math.floor(i / BLOCK) - middle) * down) / squares) };
}
