import { valuesOf, type LayerAdjustment } from "../../../core/adjust/adjustments";
import { adjustHueBand, balanceByTone, monoMix, scaleChroma, tintByTone, veil } from "../../../core/adjust/colour";
import { detailContrast, glow, highPass, lightFalloff, reduceNoise, sharpen, type Where } from "../../../core/adjust/spatial";
import { curveTable, encodedTable, levelsResponse, zoneTable } from "../../../core/adjust/tone";
import { OKLAB } from "../../../core/color/oklab";
import { LOWEST_OCTAVE, OCTAVES } from "../../../core/color/toneCurve";
import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { exp2 } from "../../../core/numeric/elementary";
import type { Filters } from "../../../core/raster/filters";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { DerivedCache } from "../../graph/DerivedCache";
import { each, type Planes } from "../frames/frameSamples";

/** What adjustments take of the engine. */
type Means = Pick<EngineContext, "cache" | "filters">;
/** An adjustment at work on the planes of a rectangle, in place. */
type Apply = (scope: Scope, planes: Planes, values: Record<string, number>, where: Where, means: Means) => void;

const matrix = (scope: Scope, planes: Planes, values: readonly number[]) =>
  scope.kernels.run("applyMatrix", [...each(planes), scope.matrix(values)], 0, planes.length, 16384);
const grade = (scope: Scope, planes: Planes, contrast: number, pivot: number) =>
  scope.kernels.run("gradeSamples", [...each(planes), contrast, pivot, 1], 0, planes.length, 16384);

/** Kernel memory as arrays that core functions write. */
const arrays = (scope: Scope, planes: Planes, { rect }: Where) =>
  each(planes).map((at) => scope.kernels.f32(at, rect.width * rect.height)) as [Float32Array, Float32Array, Float32Array];

/** Tables take longer to make than to use on a small rectangle. */
const remembered = (cache: DerivedCache, of: unknown, make: () => Float32Array): Float32Array =>
  cache.take(`table/${JSON.stringify(of)}`, make, (table) => table.byteLength);

/** A table of light on all channels or on one. */
const byChannel =
  (name: string, tableOf: (values: Record<string, number>) => Float32Array): Apply =>
  (scope, planes, values, _where, { cache }) => {
    const table = scope.matrix(remembered(cache, [name, values], () => tableOf(values)));
    each(planes).forEach((plane, c) => {
      if (!values.channel || values.channel === c + 1) scope.kernels.run("tableSamples", [plane, table, LOWEST_OCTAVE, OCTAVES], 0, planes.length, 16384);
    });
  };

/** Light below this has no detail worth keeping apart. */
const DARKEST = 1e-5;

/** log2 luminance of the planes. */
function logLight(scope: Scope, planes: Planes, { rect }: Where): Float32Array {
  const light = scope.floats(planes.length + 16);
  scope.kernels.run("logLightSamples", [...each(planes), light, DARKEST], 0, planes.length, 16384);
  return scope.kernels.f32(light, rect.width * rect.height);
}

/** Brightens by EV that are found from log2 luminance. */
const byLogLight =
  (evOf: (light: Float32Array, values: Record<string, number>, where: Where, filters: Filters) => Float32Array): Apply =>
  (scope, planes, values, where, { filters }) => {
    const light = logLight(scope, planes, where);
    light.set(evOf(light.slice(), values, where, filters));
    scope.kernels.run("brightenSamples", [...each(planes), light.byteOffset], 0, planes.length, 16384);
  };

/** Works on Oklab. */
const byOklab =
  (change: (lab: [Float32Array, Float32Array, Float32Array], values: Record<string, number>) => void): Apply =>
  (scope, planes, values, where) => {
    const run = (kernel: "oklabSamples" | "lightOfOklab", { into, out }: { into: readonly number[]; out: readonly number[] }) =>
      scope.kernels.run(kernel, [...each(planes), scope.matrix(into), scope.matrix(out)], 0, planes.length, 16384);
    run("oklabSamples", OKLAB.in);
    change(arrays(scope, planes, where), values);
    run("lightOfOklab", OKLAB.back);
  };

const inverted = ({ amount }: Record<string, number>) => encodedTable((v) => v + amount * (1 - 2 * v));

const APPLY: Record<LayerAdjustment, Apply> = {
  exposure: (scope, planes, { ev }) => {
    const gain = exp2(ev);
    matrix(scope, planes, [gain, 0, 0, 0, gain, 0, 0, 0, gain]);
  },
  whiteBalance: (scope, planes, { mired, duv }) => matrix(scope, planes, whiteBalanceMatrix(mired, duv)),
  contrast: (scope, planes, { factor, pivot }) => grade(scope, planes, factor, pivot),
  zones: (scope, planes, values, _where, { cache }) =>
    scope.kernels.run(
      "lightSamples",
      [...each(planes), scope.matrix(remembered(cache, ["zones", values], () => zoneTable(values))), LOWEST_OCTAVE, OCTAVES],
      0,
      planes.length,
      16384,
    ),
  curve: byChannel("curve", curveTable),
  levels: byChannel("levels", (values) => encodedTable(levelsResponse(values))),
  chroma: byOklab(scaleChroma),
  hueBand: byOklab(adjustHueBand),
  tint: (scope, planes, values, where) => tintByTone(arrays(scope, planes, where), values),
  falloff: (scope, planes, values, where) => lightFalloff(arrays(scope, planes, where), values, where),
  detail: byLogLight(detailContrast),
  sharpen: byLogLight(sharpen),
  highPass: (scope, planes, values, where, { filters }) =>
    highPass(arrays(scope, planes, where), logLight(scope, planes, where).slice(), values, where, filters),
  glow: (scope, planes, values, where, { filters }) => glow(arrays(scope, planes, where), values, where, filters),
  haze: (scope, planes, values, where) => veil(arrays(scope, planes, where), values),
  balance: (scope, planes, values, where) => balanceByTone(arrays(scope, planes, where), values),
  noise: (scope, planes, values, where, { filters }) => reduceNoise(arrays(scope, planes, where), values, where, filters),
  mono: (scope, planes, values, where) => monoMix(arrays(scope, planes, where), values),
  invert: byChannel("invert", inverted),
};

/** Carries an adjustment out on a rectangle, in place; values that are not given are neutral. */
export function applyAdjustment(means: Means, scope: Scope, planes: Planes, adjustment: LayerAdjustment, given: Record<string, number>, where: Where): void {
  scope.kernels.withScope((inner) => APPLY[adjustment](inner, planes, valuesOf(adjustment, given), where, means));
}
