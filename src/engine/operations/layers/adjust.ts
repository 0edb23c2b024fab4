import { valuesOf, type LayerAdjustment } from "../../../core/adjust/adjustments";
import { adjustHueBand, balanceByTone, monoMix, scaleChroma, tintByTone, veil } from "../../../core/adjust/colour";
import { detailContrast, glow, lightFalloff, reduceNoise, sharpen, type Where } from "../../../core/adjust/spatial";
import { curveResponse, encodedTable, levelsResponse, zoneTable } from "../../../core/adjust/tone";
import { LOWEST_OCTAVE, OCTAVES } from "../../../core/color/toneCurve";
import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { exp2 } from "../../../core/numeric/elementary";
import type { Scope } from "../../../kernels/Kernels";
import { each, type Planes } from "../frameSamples";

/** An adjustment at work on the planes of a rectangle, in place. */
type Apply = (scope: Scope, planes: Planes, values: Record<string, number>, where: Where) => void;

const matrix = (scope: Scope, planes: Planes, values: readonly number[]) =>
  scope.kernels.run("applyMatrix", [...each(planes), scope.matrix(values)], 0, planes.length, 16384);
const grade = (scope: Scope, planes: Planes, contrast: number, pivot: number) =>
  scope.kernels.run("gradeSamples", [...each(planes), contrast, pivot, 1], 0, planes.length, 16384);

/** Kernel memory as arrays that core functions write. */
const arrays = (scope: Scope, planes: Planes, { rect }: Where) =>
  each(planes).map((at) => scope.kernels.f32(at, rect.width * rect.height)) as [Float32Array, Float32Array, Float32Array];

/** A response of encoded values on all channels or on one. */
const byChannel =
  (response: (values: Record<string, number>) => (value: number) => number): Apply =>
  (scope, planes, values) => {
    const table = scope.matrix(encodedTable(response(values)));
    each(planes).forEach((plane, c) => {
      if (!values.channel || values.channel === c + 1) scope.kernels.run("tableSamples", [plane, table, LOWEST_OCTAVE, OCTAVES], 0, planes.length, 16384);
    });
  };

/** Light below this has no detail worth keeping apart. */
const DARKEST = 1e-5;

/** Brightens by EV that are found from log2 luminance. */
const byLogLight =
  (evOf: (light: Float32Array, values: Record<string, number>, where: Where) => Float32Array): Apply =>
  (scope, planes, values, where) => {
    const { kernels } = scope;
    const light = scope.floats(planes.length + 16);
    kernels.run("logLightSamples", [...each(planes), light, DARKEST], 0, planes.length, 16384);
    const view = kernels.f32(light, where.rect.width * where.rect.height);
    view.set(evOf(view.slice(), values, where));
    kernels.run("brightenSamples", [...each(planes), light], 0, planes.length, 16384);
  };

const APPLY: Record<LayerAdjustment, Apply> = {
  exposure: (scope, planes, { ev }) => {
    const gain = exp2(ev);
    matrix(scope, planes, [gain, 0, 0, 0, gain, 0, 0, 0, gain]);
  },
  whiteBalance: (scope, planes, { mired, duv }) => matrix(scope, planes, whiteBalanceMatrix(mired, duv)),
  contrast: (scope, planes, { factor, pivot }) => grade(scope, planes, factor, pivot),
  zones: (scope, planes, values) =>
    scope.kernels.run("lightSamples", [...each(planes), scope.matrix(zoneTable(values)), LOWEST_OCTAVE, OCTAVES], 0, planes.length, 16384),
  curve: byChannel(curveResponse),
  levels: byChannel(levelsResponse),
  chroma: (scope, planes, values, where) => scaleChroma(arrays(scope, planes, where), values),
  hueBand: (scope, planes, values, where) => adjustHueBand(arrays(scope, planes, where), values),
  tint: (scope, planes, values, where) => tintByTone(arrays(scope, planes, where), values),
  falloff: (scope, planes, values, where) => lightFalloff(arrays(scope, planes, where), values, where),
  detail: byLogLight(detailContrast),
  sharpen: byLogLight(sharpen),
  glow: (scope, planes, values, where) => glow(arrays(scope, planes, where), values, where),
  haze: (scope, planes, values, where) => veil(arrays(scope, planes, where), values),
  balance: (scope, planes, values, where) => balanceByTone(arrays(scope, planes, where), values),
  noise: (scope, planes, values, where) => reduceNoise(arrays(scope, planes, where), values, where),
  mono: (scope, planes, values, where) => monoMix(arrays(scope, planes, where), values),
  invert: byChannel(
    ({ amount }) =>
      (v) =>
        v + amount * (1 - 2 * v),
  ),
};

/** Carries an adjustment out on a rectangle, in place; values that are not given are neutral. */
export function applyAdjustment(scope: Scope, planes: Planes, adjustment: LayerAdjustment, given: Record<string, number>, where: Where): void {
  scope.kernels.withScope((inner) => APPLY[adjustment](inner, planes, valuesOf(adjustment, given), where));
}
