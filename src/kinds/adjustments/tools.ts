import type { TileRegion } from "../../core/adjust/spatial";
import { OKLAB } from "../../core/color/oklab";
import { LOWEST_OCTAVE, OCTAVES } from "../../core/color/toneCurve";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { Filters } from "../../core/raster/filters";
import type { EngineContext } from "../../engine/EngineContext";
import type { DerivedCache } from "../../engine/graph/DerivedCache";
import { each, type Planes } from "../../engine/operations/frames/frameSamples";
import type { Scope } from "../../kernels/Kernels";

type Values = Record<string, number>;
type Triple = [Float32Array, Float32Array, Float32Array];

/** The planes of a rectangle that an adjustment works on, in place, and what it may take of the engine. */
export interface Site {
  scope: Scope;
  planes: Planes;
  where: TileRegion;
  cache: DerivedCache;
  filters: Filters;
  /** whether the light is the scene's, not yet brought to a screen */
  isSceneLight: boolean;
  /** what was prepared for the layer; undefined where nothing was */
  prepared: unknown;
}
export type Operation = (on: Site, values: Values) => void;

/** What an adjustment needs of all that lies below it, found before anything is drawn. */
export interface Preparation<P> {
  version: number;
  /** the values it is made from; null where nothing is needed */
  parameters: (values: Values) => unknown[] | null;
  /** @param size of the picture and the display levels there are @param read what lies below, in any rectangle of a level */
  make: (
    ctx: EngineContext,
    size: { width: number; height: number; levels: number },
    values: Values,
    read: (level: number, rect: Rectangle, scope: Scope) => Planes,
  ) => P;
}

type PlaneKernel = "applyMatrix" | "gradeSamples" | "lightSamples" | "oklabSamples" | "lightOfOklab" | "logLightSamples" | "brightenSamples" | "toneSamples";

/** Runs a kernel over the three planes. */
export const run = ({ scope, planes }: Site, kernel: PlaneKernel, ...parameters: number[]): void =>
  scope.kernels.run(kernel, [...each(planes), ...parameters], 0, planes.length, 16384);

export const applyMatrix = (on: Site, matrix: readonly number[]): void => run(on, "applyMatrix", on.scope.matrix(matrix));

/** Kernel memory as arrays that core functions write. */
export const lightOf = ({ scope, planes, where: { rect } }: Site): Triple =>
  each(planes).map((at) => scope.kernels.f32(at, rect.width * rect.height)) as Triple;

/** Tables take longer to make than to use on a small rectangle. */
export const remembered = (cache: DerivedCache, of: unknown, make: () => Float32Array): Float32Array =>
  cache.take(`table/${JSON.stringify(of)}`, make, (table) => table.byteLength);

/** Works on linear light. */
export const byLight =
  (change: (light: Triple, values: Values, where: TileRegion, filters: Filters) => void): Operation =>
  (on, values) =>
    change(lightOf(on), values, on.where, on.filters);

/** A table of light on all channels or on one. */
export const byChannel =
  (name: string, tableOf: (values: Values) => Float32Array): Operation =>
  ({ scope, planes, cache }, values) => {
    const table = scope.matrix(remembered(cache, [name, values], () => tableOf(values)));
    each(planes).forEach((plane, c) => {
      if (!values.channel || values.channel === c + 1) scope.kernels.run("tableSamples", [plane, table, LOWEST_OCTAVE, OCTAVES], 0, planes.length, 16384);
    });
  };

/** Light below this has no detail worth keeping apart. */
const DARKEST = 1e-5;

/** log2 luminance of the planes. */
export function logLightOf(on: Site): Float32Array {
  const light = on.scope.floats(on.planes.length + 16);
  run(on, "logLightSamples", light, DARKEST);
  return on.scope.kernels.f32(light, on.where.rect.width * on.where.rect.height);
}

/** Brightens by EV that are found from log2 luminance. */
export const byLogLight =
  (evOf: (light: Float32Array, values: Values, where: TileRegion, filters: Filters) => Float32Array): Operation =>
  (on, values) => {
    const light = logLightOf(on);
    light.set(evOf(light.slice(), values, on.where, on.filters));
    run(on, "brightenSamples", light.byteOffset);
  };

/** Works on Oklab. */
export const byOklab =
  (change: (lab: Triple, values: Values) => void): Operation =>
  (on, values) => {
    const convert = (kernel: "oklabSamples" | "lightOfOklab", { into, out }: { into: readonly number[]; out: readonly number[] }) =>
      run(on, kernel, on.scope.matrix(into), on.scope.matrix(out));
    convert("oklabSamples", OKLAB.in);
    change(lightOf(on), values);
    convert("lightOfOklab", OKLAB.back);
  };
