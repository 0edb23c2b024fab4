import { LUMINANCE } from "../color/primaries";
import type { Rectangle } from "../geometry/rectangle";
import { exp2 } from "../numeric/elementary";
import { remember } from "../numeric/remember";
import type { Plane } from "../raster/raster";
import { blurReach } from "../raster/blur";
import type { Filters } from "../raster/filters";

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** Where a rectangle of a level lies in the picture. */
export interface TileRegion {
  level: number;
  rect: Rectangle;
  /** full size of the picture */
  width: number;
  height: number;
}

/** What light is multiplied by at 1024 steps of the way from the centre to the furthest corner. */
const falloffGains = remember(({ ev, start }: Record<string, number>) =>
  Float32Array.from({ length: 1025 }, (_, k) => {
    const t = Math.max(0, (k / 1024 - start) / (1 - start));
    return exp2(ev * t * t);
  }),
);

/** Light changed by EV away from a centre, in place: nothing up to `start` of the way to the furthest corner, all at that corner. */
export function lightFalloff([r, g, b]: Planes, values: Record<string, number>, { level, rect, width, height }: TileRegion): void {
  const { centreX, centreY } = values;
  const gains = falloffGains(values);
  const [cx, cy] = [centreX * width, centreY * height];
  const furthest = Math.sqrt(Math.max(cx, width - cx) ** 2 + Math.max(cy, height - cy) ** 2);
  const step = 2 ** level;
  for (let j = 0, i = 0; j < rect.height; j++) {
    const dy = (rect.y + j + 0.5) * step - cy;
    for (let k = 0; k < rect.width; k++, i++) {
      const dx = (rect.x + k + 0.5) * step - cx;
      const gain = gains[Math.min(1024, Math.round((1024 * Math.sqrt(dx * dx + dy * dy)) / furthest))];
      r[i] *= gain;
      g[i] *= gain;
      b[i] *= gain;
    }
  }
}

/** Linear light of an encoded half, the middle of the modes that raise contrast. */
const MID_GREY = 0.21404;

/** Leaves, in place, detail up to a size as grey: what a blur takes away from log2 light, about mid grey. */
export function highPass(
  [r, g, b]: Planes,
  light: Float32Array,
  { amount, radiusPx, gain }: Record<string, number>,
  { level, rect }: TileRegion,
  filters: Filters,
): void {
  const blurred = filters.gaussianBlur({ width: rect.width, height: rect.height, data: light }, radiusPx / 2 ** level);
  for (let i = 0; i < r.length; i++) {
    const grey = MID_GREY * exp2(gain * (light[i] - blurred[i]));
    r[i] += amount * (grey - r[i]);
    g[i] += amount * (grey - g[i]);
    b[i] += amount * (grey - b[i]);
  }
}

const SIZES = ["fine", "middle", "coarse"] as const;

/** Sizes of detail as standard deviations in samples of a level, growing. */
const detailSigmas = (values: Record<string, number>, level: number) => SIZES.map((s) => values[`${s}Px`] / 2 ** level).sort((a, b) => a - b);

/** EV that contrast by detail size adds: log2 light is parted by blurs of three sizes, what lies between two is made stronger or weaker. */
export function detailContrast(light: Float32Array, values: Record<string, number>, { level, rect }: TileRegion, filters: Filters): Float32Array {
  const size = { width: rect.width, height: rect.height };
  const ev = new Float32Array(light.length);
  let finer = light;
  detailSigmas(values, level).forEach((sigma, k) => {
    const coarser = filters.gaussianBlur({ ...size, data: light }, sigma);
    const strength = values[SIZES[k]];
    if (strength !== 0) finer.forEach((v, i) => (ev[i] += strength * (v - coarser[i])));
    finer = coarser;
  });
  return ev;
}

/** EV that sharpening adds: what a blur takes away from log2 light; differences below the threshold stay as they are. */
export function sharpen(
  light: Float32Array,
  { amount, radiusPx, thresholdEv }: Record<string, number>,
  { level, rect }: TileRegion,
  filters: Filters,
): Float32Array {
  const blurred = filters.gaussianBlur({ width: rect.width, height: rect.height, data: light }, radiusPx / 2 ** level);
  return light.map((v, i) => {
    const d = v - blurred[i];
    const beyond = Math.max(0, Math.abs(d) - thresholdEv);
    return amount * (d < 0 ? -beyond : beyond);
  });
}

/** Light above a limit, blurred and added, in place. */
export function glow(planes: Planes, { amount, radiusPx, fromEv }: Record<string, number>, { level, rect }: TileRegion, filters: Filters): void {
  const from = exp2(fromEv);
  const [r, g, b] = planes;
  const over = r.map((_, i) => {
    const light = LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i];
    return light > from ? (light - from) / light : 0;
  });
  for (const plane of planes) {
    const field: Plane = { width: rect.width, height: rect.height, data: plane.map((v, i) => v * over[i]) };
    filters.gaussianBlur(field, radiusPx / 2 ** level).forEach((v, i) => (plane[i] += amount * v));
  }
}

/** Radii of the windows in which brightness and colour are evened out, px. Common practice, no source. */
const NOISE_RADII = { light: 2, color: 6 };
const noiseRadii = (level: number) => [NOISE_RADII.light, NOISE_RADII.color].map((r) => Math.round(r / 2 ** level));

/**
 * Evens out what the noise explains, in place: the square root of light, which is near to the encoded value, by a guided filter on itself, the differences of red and blue
 * from it by one that follows the brightness. A display level averages, so noise falls with it.
 */
export function reduceNoise(planes: Planes, { sigma, light, color }: Record<string, number>, { level, rect }: TileRegion, filters: Filters): void {
  const size = { width: rect.width, height: rect.height };
  const [r, g, b] = planes.map((plane) => plane.map((v) => Math.sqrt(Math.max(0, v))));
  const brightness = r.map((v, i) => LUMINANCE[0] * v + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]);
  const guide: Plane = { ...size, data: brightness };
  const [small, large] = noiseRadii(level);
  const variance = (times: number) => ((times * sigma) / 2 ** level) ** 2;
  const even = (plane: Float32Array, radius: number, times: number) =>
    times > 0 && radius > 0 ? filters.guidedFilter(guide, plane, radius, variance(times)) : plane;
  const y = even(brightness, small, light);
  const differences = [r, g, b].map((channel) =>
    even(
      channel.map((v, i) => v - brightness[i]),
      large,
      color,
    ),
  );
  planes.forEach((plane, c) => differences[c].forEach((d, i) => (plane[i] = Math.max(0, y[i] + d) ** 2)));
}

/** Samples around a place that noise reduction and contrast by detail size look at, at a level. */
export const noiseReach = (level: number): number => 2 * Math.max(...noiseRadii(level));
export const detailReach = (values: Record<string, number>, level: number): number => blurReach(detailSigmas(values, level)[2]);
