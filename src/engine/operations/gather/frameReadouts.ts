import { encodeSrgb } from "../../../core/color/srgbCurve";
import { transform } from "../../../core/geometry/matrix3";
import { BINS_PER_STOP, STOPS } from "../../../core/measure/stops";
import { quantile } from "../../../core/numeric/statistics";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { linearFrame, linearRect } from "../frames/linearFrame";
import { colorOf } from "../frames/sources";
import { mapFloats } from "../../../core/numeric/mapFloats";

/** What can be read off one frame as shot. */
export interface FrameReadouts {
  /** share of the samples per quarter stop below full scale, brightest last; R, G, B */
  histogram: [number[], number[], number[]];
  /** share below the last stop shown, and at the top, per channel */
  below: [number, number, number];
  clipped: [number, number, number];
  /** noise sigma (encoded, of 255) against stops below full scale; only where flat areas were found */
  noise: { stops: number; sigma: number }[];
}

const LONGEST = 1400;
const BLOCK = 8;

/** Histogram in stops and noise by tone, from a level of about 1400 px for the one and full size for the other. */
export async function readFrame(ctx: EngineContext, frame: FrameRecord): Promise<FrameReadouts> {
  const { planes, width, height } = await linearFrame(ctx, frame, LONGEST);
  const bins = STOPS * BINS_PER_STOP;
  const histogram = planes.map(() => new Array<number>(bins).fill(0));
  const below = [0, 0, 0];
  const clipped = [0, 0, 0];
  planes.forEach((plane, c) => {
    for (const v of plane) {
      if (v >= 0.995) clipped[c]++;
      else if (v < 2 ** -STOPS) below[c]++;
      else histogram[c][Math.min(bins - 1, Math.floor((Math.log2(v) + STOPS) * BINS_PER_STOP))]++;
    }
  });
  const share = (v: number) => v / (width * height);
  return {
    histogram: histogram.map((h) => h.map(share)) as FrameReadouts["histogram"],
    below: below.map(share) as FrameReadouts["below"],
    clipped: clipped.map(share) as FrameReadouts["clipped"],
    noise: await noiseByTone(ctx, frame),
  };
}

/** The flattest blocks of each stop, at full size in twelve bands of the frame, from second differences, which do not see slopes. */
async function noiseByTone(ctx: EngineContext, frame: FrameRecord): Promise<FrameReadouts["noise"]> {
  const perStop = new Map<number, number[]>();
  const height = 8 * BLOCK;
  const bands = 12;
  const { width } = frame;
  for (let k = 0; k < bands; k++) {
    const y = Math.floor(((frame.height - height) * (k + 0.5)) / bands);
    if (y < 0) continue;
    const [, green] = await linearRect(ctx, frame, 0, { x: 0, y, width, height });
    const encoded = green.map((v) => encodeSrgb(Math.min(1, Math.max(0, v))));
    for (let by = 0; by + BLOCK <= height; by += BLOCK) {
      for (let bx = 0; bx + BLOCK <= width; bx += BLOCK) {
        let [mean, fine] = [0, 0];
        for (let v = 0; v < BLOCK; v++) {
          const row = (by + v) * width + bx;
          for (let u = 0; u < BLOCK; u++) mean += green[row + u] / (BLOCK * BLOCK);
          for (let u = 1; u + 1 < BLOCK; u++) fine += (encoded[row + u - 1] - 2 * encoded[row + u] + encoded[row + u + 1]) ** 2;
        }
        if (mean < 2 ** -STOPS || mean > 0.9) continue;
        const stop = Math.floor(Math.log2(mean));
        const list = perStop.get(stop) ?? [];
        perStop.set(stop, list);
        // their gain on white noise is √6
        list.push(255 * Math.sqrt(fine / (BLOCK * (BLOCK - 2)) / 6));
      }
    }
  }
  return [...perStop]
    .filter(([, sigmas]) => sigmas.length >= 40)
    .map(([stop, sigmas]) => ({ stops: stop + 0.5, sigma: quantile(sigmas, 0.1) }))
    .sort((a, b) => a.stops - b.stops);
}

/** Mean and spread of a patch of a frame as shot, encoded by the sRGB curve, 0..255, in the file's own primaries. */
export interface CardReading {
  rgb: number[];
  spread: number[];
  /** mean in working RGB, for a white balance */
  working: [number, number, number];
}

/** Reads a grey card, or any patch, in a frame. @param radius of the square patch, px */
export async function readCard(ctx: EngineContext, frame: FrameRecord, x: number, y: number, radius: number): Promise<CardReading> {
  const x0 = Math.max(0, Math.min(frame.width - 1, Math.round(x) - radius));
  const y0 = Math.max(0, Math.min(frame.height - 1, Math.round(y) - radius));
  const rect = { x: x0, y: y0, width: Math.min(frame.width - x0, 2 * radius + 1), height: Math.min(frame.height - y0, 2 * radius + 1) };
  const n = rect.width * rect.height;
  const planes = await linearRect(ctx, frame, 0, rect);
  const own = planes.map((p) => p.reduce((sum, v) => sum + v / n, 0));
  const working = transform((await colorOf(ctx, frame.sourceId)).toWorking, own);
  const encoded = planes.map((p) => mapFloats(p, (v) => 255 * encodeSrgb(Math.min(1, Math.max(0, v)))));
  const rgb = encoded.map((p) => p.reduce((sum, v) => sum + v / n, 0));
  const spread = encoded.map((p, c) => Math.sqrt(p.reduce((sum, v) => sum + (v - rgb[c]) ** 2, 0) / n));
  return { rgb, spread, working } as CardReading;
}
