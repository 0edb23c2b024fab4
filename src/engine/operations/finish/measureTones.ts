import { toOklab } from "../../../core/color/oklab";
import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { log2 } from "../../../core/numeric/elementary";
import { stripRows } from "../layers/layerReach";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeRect } from "../layers/compose";
import { each } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";

/** A band of hues that a picture holds. */
export interface HueBandFound {
  hueDeg: number;
  widthDeg: number;
  /** share of the picture */
  share: number;
  /** mean Oklch chroma */
  chroma: number;
}

/** The range of light of a picture and its hues. */
export interface Tones {
  /** luminance against white that 0.5 % and 99.5 % of the picture lie below, EV */
  darkestEv: number;
  brightestEv: number;
  /** most of the picture first */
  hues: HueBandFound[];
}

const SIDE = 700;
const HUE_STEPS = 72;
/** Less colourful than this has no hue. Common practice, no source. */
const COLOURLESS = 0.02;
const DARKEST = 1e-6;

/** Measures the merge with its layers, at a level of about 700 px. */
export async function measureTones(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Tones> {
  const level = levelOfSide(job.inputs, SIDE);
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rows = stripRows(job.records, level);
  const light = new Float32Array(width * height);
  const weights = new Float64Array(HUE_STEPS);
  const chromas = new Float64Array(HUE_STEPS);
  const lab = new Float64Array(3);
  for (let y = 0; y < height; y += rows) {
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    ctx.kernels.withScope((scope) => {
      const [r, g, b] = each(composeRect(ctx, job, level, rect, "layers", scope)).map((at) => ctx.kernels.f32(at, width * rect.height));
      for (let i = 0; i < r.length; i++) {
        light[y * width + i] = log2(Math.max(DARKEST, LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]));
        toOklab(Math.min(1, r[i]), Math.min(1, g[i]), Math.min(1, b[i]), lab);
        const chroma = Math.sqrt(lab[1] * lab[1] + lab[2] * lab[2]);
        if (chroma < COLOURLESS) continue;
        const turn = Math.atan2(lab[2], lab[1]) / (2 * Math.PI);
        const step = Math.floor((turn + 1) * HUE_STEPS) % HUE_STEPS;
        weights[step]++;
        chromas[step] += chroma;
      }
    });
    await task.step(y, height, "task.tones");
  }
  light.sort();
  const at = (share: number) => light[Math.round(share * (light.length - 1))];
  return { darkestEv: at(0.005), brightestEv: at(0.995), hues: hueBands(weights, chromas, light.length) };
}

/** Parts the circle of hues at its emptiest places: each band runs from one low of the smoothed histogram to the next. */
export function hueBands(weights: ArrayLike<number>, chromas: ArrayLike<number>, pixels: number): HueBandFound[] {
  const n = weights.length;
  const around = (i: number) => (i + n) % n;
  const smoothed = Array.from({ length: n }, (_, i) => {
    let sum = 0;
    for (let k = -3; k <= 3; k++) sum += weights[around(i + k)] * (4 - Math.abs(k));
    return sum / 16;
  });
  const floor = 0.002 * pixels;
  const lows = smoothed.flatMap((v, i) => (v <= smoothed[around(i - 1)] && v < smoothed[around(i + 1)] ? [i] : []));
  const borders = lows.length ? lows : [0];
  const bands = borders.map((from, k): HueBandFound & { own: number } => {
    const to = borders[(k + 1) % borders.length];
    const length = around(to - from) || n;
    let [sum, chroma, c, s] = [0, 0, 0, 0];
    for (let j = 0; j < length; j++) {
      const i = around(from + j);
      const angle = (2 * Math.PI * (i + 0.5)) / n;
      sum += weights[i];
      chroma += chromas[i];
      c += weights[i] * Math.cos(angle);
      s += weights[i] * Math.sin(angle);
    }
    const hueDeg = ((Math.atan2(s, c) * 180) / Math.PI + 360) % 360;
    // two standard deviations of a wrapped normal to either side, see Mardia and Jupp 2000
    const spread = sum > 0 ? (Math.sqrt(-2 * Math.log(Math.max(1e-6, Math.min(1, Math.sqrt(c * c + s * s) / sum)))) * 180) / Math.PI : 0;
    return {
      hueDeg: Math.round(hueDeg),
      widthDeg: Math.round(Math.min(180, Math.max(20, 4 * spread))),
      share: sum / pixels,
      chroma: sum ? chroma / sum : 0,
      own: sum,
    };
  });
  return bands
    .filter((band) => band.own > floor)
    .sort((a, b) => b.own - a.own)
    .map(({ hueDeg, widthDeg, share, chroma }) => ({ hueDeg, widthDeg, share, chroma }));
}
