import { LUMINANCE } from "../../../core/color/primaries";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { floorEv, relativeNoise } from "../../../core/merge/confidence";
import { exposuresOf } from "./mergeInputs";
import { NOBODY } from "../../../core/merge/frameShares";
import { SHARE_CELL } from "./shares";
import type { PreparedJob } from "../layers/PreparedJob";

/** How far a radiance merge reaches, EV against white at the reference's exposure. */
export interface RadianceRange {
  /** of all but the brightest thousandth */
  headroomEv: number;
  /** where noise is as large as the light */
  floorEv: number;
}

const BRIGHTEST = 0.999;

export function radianceRange({ inputs, merge }: PreparedJob): RadianceRange {
  const level = merge.picture.spec.levels - 1;
  const { width, height } = sizeAtLevel(merge.picture.spec.width, merge.picture.spec.height, level);
  const channels = [0, 1, 2].map((c) => {
    const plane = new Float32Array(width * height);
    merge.picture.read(level, c, 0, 0, width, height, plane);
    return plane;
  });
  const top = channels[0]
    .map((r, i) => Math.max(r, channels[1][i], channels[2][i]))
    .filter(Number.isFinite)
    .sort();
  const offset = inputs.frames[inputs.reference].frame.development.exposureEv;
  return {
    headroomEv: Math.log2(Math.max(1e-6, top[Math.floor((top.length - 1) * BRIGHTEST)] ?? 0)),
    floorEv: floorEv(exposuresOf(inputs), inputs.noise) + offset,
  };
}

/** Noise of the merged luminance against the luminance itself for each sample of a rectangle; Infinity where no frame has light for it. */
export function noiseOfRectangle({ inputs, merge }: PreparedJob, level: number, rect: Rectangle): Float32Array {
  const n = rect.width * rect.height;
  const index = new Uint8Array(n);
  merge.dominant.read(level, 0, rect.x, rect.y, rect.width, rect.height, index);
  const light = new Float32Array(n);
  const plane = new Float32Array(n);
  LUMINANCE.forEach((weight, c) => {
    merge.picture.read(level, c, rect.x, rect.y, rect.width, rect.height, plane);
    for (let i = 0; i < n; i++) light[i] += weight * plane[i];
  });
  const { width, height } = merge.shares.spec;
  const scale = 2 ** level / SHARE_CELL;
  const cellOf = (at: number, size: number) => Math.min(size - 1, Math.floor((at + 0.5) * scale));
  const [x0, y0] = [cellOf(rect.x, width), cellOf(rect.y, height)];
  const [columns, rows] = [cellOf(rect.x + rect.width - 1, width) - x0 + 1, cellOf(rect.y + rect.height - 1, height) - y0 + 1];
  const shares = inputs.frames.map((_, k) => {
    const cells = new Uint8Array(columns * rows);
    merge.shares.read(0, k, x0, y0, columns, rows, cells);
    return cells;
  });
  const exposures = exposuresOf(inputs);
  const gain = 2 ** inputs.frames[inputs.reference].frame.development.exposureEv;
  return light.map((v, i) => {
    const cell = (cellOf(rect.y + Math.floor(i / rect.width), height) - y0) * columns + cellOf(rect.x + (i % rect.width), width) - x0;
    if (index[i] === NOBODY) return Infinity;
    return relativeNoise(v / gain, exposures[index[i]], shares[index[i]][cell] / 255, inputs.noise);
  });
}

/** Steps of two between noise and light that are told apart. */
const STEPS = 8;

/** 0 where no frame has light or noise is as large, 255 where light is 2^STEPS times its noise or more. */
export const confidenceCode = (noise: number): number => Math.round(255 * Math.min(1, Math.max(0, -Math.log2(noise) / STEPS)));
