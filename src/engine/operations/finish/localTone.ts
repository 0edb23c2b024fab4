import { localBase, type LocalBase } from "../../../core/color/localTone";
import { LUMINANCE } from "../../../core/color/primaries";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { log2 } from "../../../core/numeric/elementary";
import type { MergeMethod } from "../../../core/merge/mergeMethods";
import type { Records } from "../../../document/records/types";
import { adjustmentValues } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import { each, type Planes } from "../frames/frameSamples";
import type { MergeInputs, MergeResult } from "../merge/mergeTypes";

const LOCAL_VERSION = 2;
/** Longer side at which the base is found, px. */
const SIDE = 900;
const ROWS = 64;

/** The base of a picture and the level it was found at. */
export interface LocalTone {
  base: LocalBase;
  level: number;
}

/** Planes of the picture up to its layers. */
type LayersAt = (level: number, rect: Rectangle, scope: Scope) => Planes;

/** What the local tone response needs of the whole picture; null where it is off. @param layersKey of all that `layersAt` shows */
export function prepareLocalTone(
  ctx: EngineContext,
  { records, inputs, merge, method }: { records: Records; inputs: MergeInputs; merge: MergeResult; method: MergeMethod },
  layersKey: string,
  layersAt: LayersAt,
): LocalTone | null {
  const { strength, scale } = adjustmentValues(records, "local");
  if (method !== "radiance" || strength === 0) return null;
  const key = contentKey("local", LOCAL_VERSION, [layersKey, scale]);
  return ctx.cache.take(key, () => findBase(ctx, inputs, merge, scale, layersAt), bytesHeld);
}

function findBase(ctx: EngineContext, inputs: MergeInputs, merge: MergeResult, scale: number, layersAt: LayersAt): LocalTone {
  const level = Math.max(0, Math.min(merge.picture.spec.levels - 1, Math.ceil(Math.log2(Math.max(inputs.width, inputs.height) / SIDE))));
  const { width, height } = sizeAtLevel(inputs.width, inputs.height, level);
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y += ROWS) {
    const rows = Math.min(ROWS, height - y);
    ctx.kernels.withScope((scope) => {
      const planes = layersAt(level, { x: 0, y, width, height: rows }, scope);
      const [r, g, b] = each(planes).map((at) => ctx.kernels.f32(at, width * rows));
      for (let i = 0; i < r.length; i++) data[y * width + i] = log2(Math.max(DARKEST, LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]));
    });
  }
  return { base: localBase({ width, height, data }, Math.max(2, Math.round((scale * Math.max(width, height)) / 2))), level };
}

/** Light below this has no detail worth keeping apart. */
const DARKEST = 1e-5;

/** Evens out the base of a rectangle in place: each EV between floor and ceiling counts less, detail stays. */
export function applyLocalTone(records: Records, local: LocalTone, level: number, rect: Rectangle, planes: Planes, scope: Scope): void {
  const { kernels } = scope;
  const { strength, floorEv, ceilingEv, pivotEv } = adjustmentValues(records, "local");
  const { base } = local;
  const put = (plane: Float32Array) => {
    const at = scope.floats(plane.length + 16);
    kernels.f32(at, plane.length).set(plane);
    return at;
  };
  const parameters = scope.matrix([
    ...LUMINANCE,
    strength,
    pivotEv,
    Math.min(floorEv, ceilingEv),
    Math.max(floorEv, ceilingEv),
    DARKEST,
    2 ** (level - local.level),
  ]);
  kernels.run(
    "localToneRows",
    [...each(planes), rect.width, rect.x, rect.y, put(base.slope), put(base.offset), base.width, base.height, parameters],
    0,
    rect.height,
    16,
  );
}
