import { levelOf, type GreyPyramid } from "../register/greyPyramid";
import { mapAbout, mapped, measurePatch, strongestCorner, type Finder } from "../register/localShifts";
import { createPhotometry, lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "../register/photometry";
import { detectFeatures, type Convolve, type Feature } from "../register/features/detectFeatures";
import type { Size } from "../geometry/lens";
import type { Tie } from "./adjustCameras";
import { between, inside, type Camera } from "./camera";

/** A frame as the panorama looks at it. */
export interface PanoramaFrame extends Size {
  /** grey of the frame, possibly of a display level of it */
  grey: GreyPyramid;
  /** the display level that the grey begins at */
  level: number;
}

/** Px of a level → px at full size and back, X = (x + 0.5)·2^l − 0.5. */
export const up = (v: number, level: number) => (v + 0.5) * 2 ** level - 0.5;
export const down = (v: number, level: number) => (v + 0.5) / 2 ** level - 0.5;

const FEATURE_SIDE = 900;
const MOST_FEATURES = 1300;
/** Fewer than this, and weaker ones are taken too. */
const FEW_FEATURES = 500;

/** Distinct places of a frame, px at full size. Clipped and black areas have none. @param mirrored as if the frame were flipped sideways */
export function featuresOf({ grey, level }: PanoramaFrame, convolve?: Convolve, mirrored = false): Feature[] {
  const most = grey.levels.length - 1;
  const l = Math.max(0, Math.min(most, Math.ceil(Math.log2(Math.max(grey.width, grey.height) / FEATURE_SIDE) - 0.25)));
  const { width, height, data } = levelOf(grey, l);
  const { fixed } = createPhotometry(0);
  const values = new Float32Array(data.length);
  for (let i = 0; i < values.length; i++) values[i] = lookUp(fixed, Math.min(USABLE_HIGH, Math.max(USABLE_LOW, data[i])));
  if (mirrored) for (let y = 0; y < height; y++) values.subarray(y * width, (y + 1) * width).reverse();
  const plane = { width, height, data: values };
  let found = detectFeatures(plane, MOST_FEATURES, 0.008, convolve);
  if (found.length < FEW_FEATURES) found = detectFeatures(plane, MOST_FEATURES, 0.0025, convolve);
  const scale = 2 ** (l + level);
  return found.map((f) => ({ ...f, x: up(f.x, l + level), y: up(f.y, l + level), sigma: f.sigma * scale }));
}

/** Exposure of b against a, EV, from the light about the same places. @param places x, y in a, u, v in b, px at full size */
export function exposureBetween(a: PanoramaFrame, b: PanoramaFrame, places: { x: number; y: number; u: number; v: number }[]): number {
  const table = createPhotometry(0).fixed;
  const light = (f: PanoramaFrame, x: number, y: number): number => {
    const l = Math.min(2, f.grey.levels.length - 1);
    const { width, height, data } = levelOf(f.grey, l);
    const [px, py] = [Math.round(down(x, f.level + l)), Math.round(down(y, f.level + l))];
    const value = data[Math.max(0, Math.min(height - 1, py)) * width + Math.max(0, Math.min(width - 1, px))];
    return value > USABLE_HIGH || value < USABLE_LOW ? NaN : lookUp(table, value) ** 2.2;
  };
  const ratios = places.map((p) => Math.log2(light(b, p.u, p.v) / light(a, p.x, p.y))).filter(Number.isFinite);
  return ratios.length < 5 ? 0 : ratios.sort((p, q) => p - q)[ratios.length >> 1];
}

/** Correlation below which a patch shows something else. Common practice, no source. */
export const ALIKE = 0.75;
/** Farther than this from where it should be, in px of the level, it is another thing. */
const REACH = 8;

/** Where b shows what a shows, as the turn has it, and one place with structure in each cell of a that b sees; px of the level. @param columns cells across frame a */
export function structuredOverlap(frames: PanoramaFrame[], cameras: Camera[], a: number, b: number, table: Float32Array, l: number, columns: number) {
  const [fixed, moving] = [levelOf(frames[a].grey, l), levelOf(frames[b].grey, l)];
  const [la, lb] = [frames[a].level + l, frames[b].level + l];
  const rows = Math.max(3, Math.round((columns * fixed.height) / fixed.width));
  const map: Finder = (x, y) => {
    const p = between(cameras[a], cameras[b], up(x, la), up(y, la));
    return p ? [down(p[0], lb), down(p[1], lb)] : [NaN, NaN];
  };
  const seen = (x: number, y: number) => {
    const p = map(x, y);
    return !Number.isNaN(p[0]) && inside(moving, p, MARGIN);
  };
  const selection = { bounds: { x: 0, y: 0, width: fixed.width, height: fixed.height }, counts: seen };
  const places: [number, number][] = [];
  for (let ty = 0; ty < rows; ty++) {
    for (let tx = 0; tx < columns; tx++) {
      const cell = {
        x0: Math.floor((tx * fixed.width) / columns),
        x1: Math.floor(((tx + 1) * fixed.width) / columns),
        y0: Math.floor((ty * fixed.height) / rows),
        y1: Math.floor(((ty + 1) * fixed.height) / rows),
      };
      if (![cell.x0, (cell.x0 + cell.x1) / 2, cell.x1].some((x) => [cell.y0, (cell.y0 + cell.y1) / 2, cell.y1].some((y) => seen(x, y)))) continue;
      const place = strongestCorner(fixed, table, cell, selection);
      if (place) places.push(place);
    }
  }
  return { fixed, moving, map, places };
}

/**
 * Measures, patch by patch, where frame b shows what frame a shows, to a small part of a px.
 * @param l level of the greys @param columns cells across frame a that a patch is looked for in
 */
export function measureTies(frames: PanoramaFrame[], cameras: Camera[], a: number, b: number, relativeEv: number, l: number, columns: number): Tie[] {
  const photometry: Photometry = createPhotometry(relativeEv);
  const { fixed, moving, map, places } = structuredOverlap(frames, cameras, a, b, photometry.fixed, l, columns);
  const [la, lb] = [frames[a].level + l, frames[b].level + l];
  return places.flatMap(([x, y]): Tie[] => {
    const about = mapAbout(map, x, y);
    const shift = about && measurePatch(fixed, moving, photometry, about);
    if (!shift || shift.correlation < ALIKE || Math.hypot(shift.dx, shift.dy) > REACH) return [];
    const [u, v] = mapped(about, shift.x + shift.dx, shift.y + shift.dy);
    return [{ a, b, x: up(shift.x, la), y: up(shift.y, la), u: up(u, lb), v: up(v, lb), weight: 1 }];
  });
}

/** Half a patch and what its interpolation reaches. */
export const MARGIN = 18;
