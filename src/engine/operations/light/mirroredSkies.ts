import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { gaussianBlur } from "../../../core/raster/blur";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { each } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";
import { eachInFront } from "../matte/LevelMatte";
import { readMerge } from "../merge/readLayer";

/** What water mirrors of a plate's sky and of another one, coarsely, as ripples smear it anyway. */
export interface MirroredSkies {
  /** by what light is multiplied that water mirrors from a place of the plate, px: red, green, blue */
  ratioAt(x: number, y: number, out: Float64Array): void;
  bytes: number;
}

/** Longest side of what is compared, samples, and how far ripples smear it there. */
const SIDE = 200;
const SMEAR = 2.5;
/** No water gets brighter or darker than that by another sky. */
const MOST = 24;
const DARKEST = 1e-5;

/** @param land by what light on the land is multiplied @param readSky planes of the other sky */
export function mirroredSkies(
  ctx: EngineContext,
  job: PreparedJob,
  layerId: string,
  land: readonly number[],
  readSky: (level: number, rect: Rectangle, scope: Scope) => Float32Array[],
): MirroredSkies {
  const { width, height } = job.inputs;
  const level = Math.max(0, levelOfSide({ width, height }, SIDE));
  const size = sizeAtLevel(width, height, level);
  const rect = { x: 0, y: 0, ...size };
  const n = size.width * size.height;
  const alpha = new Float32Array(n);
  const cutter = job.cutouts.get(layerId);
  if (cutter) eachInFront(cutter.at(level), rect, (i, a) => (alpha[i] = a));
  const ratios = ctx.kernels.withScope((scope) => {
    const old = each(readMerge(scope, job.merge, level, rect)).map((plane) => ctx.kernels.f32(plane, n));
    const other = readSky(level, rect, scope);
    const smear = (data: Float32Array) => gaussianBlur({ data, ...size }, SMEAR);
    return old.map((plane, c) => {
      // what shows of the land stays, lit anew
      const before = smear(plane.slice());
      const after = smear(plane.map((v, i) => alpha[i] * v * land[c] + (1 - alpha[i]) * other[c][i]));
      return after.map((v, i) => Math.min(MOST, Math.max(1 / MOST, (v + DARKEST) / (before[i] + DARKEST))));
    });
  });
  const scale = 2 ** level;
  return {
    bytes: 12 * n,
    ratioAt: (x, y, out) => {
      const u = Math.min(size.width - 1.001, Math.max(0, (x + 0.5) / scale - 0.5));
      const v = Math.min(size.height - 1.001, Math.max(0, (y + 0.5) / scale - 0.5));
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const [s, t] = [u - i, v - j];
      const k = j * size.width + i;
      for (let c = 0; c < 3; c++) {
        const r = ratios[c];
        out[c] = (r[k] * (1 - s) + r[k + 1] * s) * (1 - t) + (r[k + size.width] * (1 - s) + r[k + size.width + 1] * s) * t;
      }
    },
  };
}
