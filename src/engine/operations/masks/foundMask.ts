import type { PlainCode } from "../../../messages/message";
import { OKLAB } from "../../../core/color/oklab";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { findEven, findNear, findSky, findSubject, type AreaField, type FoundArea } from "../../../core/masks/findAreas";
import { sampleGrid } from "../../../core/raster/planeParts";
import { allParts, type MaskPart } from "../../../kinds/maskParts/records";
import { layersOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { each } from "../frames/frameSamples";
import { readMerge } from "../merge/readLayer";
import type { PreparedJob } from "../layers/PreparedJob";

export type FoundPart = Pick<MaskPart & { kind: "found" }, "what" | "x0" | "y0" | "x1" | "y1" | "tolerance">;

const FOUND_VERSION = 1;
/** Longest side of the level areas are found on. */
const SIDE = 480;
const DARKEST = 1e-5;
/** Radius and even variance (EV²) by which an area found coarsely follows finer edges. Common practice, no source. */
const RADIUS = 2;
const EVEN_VARIANCE = 0.02;

/** An area found in the merge, with the linear map from light to mask by which it is carried to finer levels. */
export interface FoundMask {
  level: number;
  width: number;
  height: number;
  slope: Float32Array;
  offset: Float32Array;
  /** 0..1; 0 where nothing was found */
  confidence: number;
  share: number;
}

/** Finds an area in the merge, once for each merge and each thing that is looked for. */
export function findInMerge(ctx: EngineContext, job: PreparedJob, part: FoundPart): FoundMask {
  const { what, x0, y0, x1, y1, tolerance } = part;
  const place = what === "sky" || what === "even" ? null : [x0, y0, x1, y1, tolerance];
  const key = contentKey("found", FOUND_VERSION, [job.merge.key, job.finest, what, place]);
  return ctx.cache.take(key, () => make(ctx, job, part), bytesHeld);
}

const LOOKING: Record<FoundPart["what"], PlainCode> = {
  sky: "task.sky",
  even: "task.surfaces",
  subject: "task.subject",
  near: "task.around",
};

/** Finds what masks of the job ask for before anything is drawn, so that it can be said and stopped. */
export async function findAreas(ctx: EngineContext, job: PreparedJob, task: Task): Promise<void> {
  const parts = layersOf(job.records).flatMap(({ mask }) => allParts(mask.parts).map(({ part }) => part));
  for (const part of parts) {
    if (part.kind !== "found") continue;
    await task.step(0, 1, LOOKING[part.what]);
    findInMerge(ctx, job, part);
  }
}

function make(ctx: EngineContext, job: PreparedJob, part: FoundPart): FoundMask {
  const { width: w, height: h } = job.inputs;
  const level = Math.max(job.finest, levelOfSide(job.inputs, SIDE));
  const size = sizeAtLevel(w, h, level);
  const { field, light } = fieldOf(ctx, job, level, { x: 0, y: 0, ...size });
  const area = find(field, part, level);
  const mask = Float32Array.from(area?.mask ?? new Uint8Array(light.length));
  const { slope, offset } = ctx.filters.guidedCoefficients({ ...size, data: light }, mask, RADIUS, EVEN_VARIANCE);
  return { level, ...size, slope, offset, confidence: area?.confidence ?? 0, share: mask.reduce((sum, v) => sum + v, 0) / mask.length };
}

function find(field: AreaField, { what, x0, y0, x1, y1, tolerance }: FoundPart, level: number): FoundArea | null {
  const at = (v: number) => (v + 0.5) / 2 ** level - 0.5;
  switch (what) {
    case "sky":
      return findSky(field);
    case "even":
      return findEven(field);
    case "subject":
      return findSubject(field, { x0: at(Math.min(x0, x1)), y0: at(Math.min(y0, y1)), x1: at(Math.max(x0, x1)), y1: at(Math.max(y0, y1)) });
    case "near":
      return findNear(field, at(x0), at(y0), tolerance);
  }
}

function fieldOf(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle): { field: AreaField; light: Float32Array } {
  const { kernels } = ctx;
  const n = rect.width * rect.height;
  return kernels.withScope((scope) => {
    const planes = readMerge(scope, job.merge, level, rect);
    const out = scope.floats(planes.length + 16);
    kernels.run("logLightSamples", [...each(planes), out, DARKEST], 0, planes.length, 16384);
    const light = kernels.f32(out, n).slice();
    kernels.run("oklabSamples", [...each(planes), scope.matrix(OKLAB.in.into), scope.matrix(OKLAB.in.out)], 0, planes.length, 16384);
    const [L, a, b] = each(planes).map((at) => kernels.f32(at, n).slice());
    return { field: { width: rect.width, height: rect.height, lab: [L, a, b] }, light };
  });
}

/** The mask of an area at any level, by its linear map and the light there. @param light log2 light of the rectangle */
export function foundMask(found: FoundMask, level: number, rect: Rectangle, light: Float32Array): Float32Array {
  const { width, height } = found;
  const [slope, offset] = [found.slope, found.offset].map((grid) => sampleGrid(grid, width, height, 2 ** (level - found.level), rect));
  return light.map((guide, i) => Math.min(1, Math.max(0, slope[i] * guide + offset[i])));
}
