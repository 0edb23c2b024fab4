import { connectedCells, boundsOfCells } from "../masks/components";
import { quantile } from "../numeric/statistics";
import type { Plane } from "../raster/raster";

/** Something in a picture that shines, samples. */
export interface FoundLamp {
  x: number;
  y: number;
  radius: number;
  /** brighter than what surrounds it by so much, EV, at least: it may be clipped */
  overEv: number;
}

/** What shines is brighter than what surrounds it by so much, EV; and no darker than that against the brightest of the picture. */
const LEAST_OVER_EV = 2.5;
const LEAST_OF_BRIGHTEST_EV = -2;
/** How large a lamp may be, a share of the picture's area, and how much of the box around it it fills. */
const LARGEST = 0.004;
const LEAST_FILLED = 0.35;
/** Samples of one, at least: a glint is less. */
const FEWEST = 4;
/** Share of what surrounds it, and of the picture, that a lamp has to be brighter than: beside a glint lie others. */
const MOST_OF_IT = 0.9;
/** Where what surrounds a lamp is looked at, in its radii, and places of such a ring. */
const AROUND = [3, 5];
const PLACES = 24;
/** No more are told, the brightest of them. */
export const MOST_LAMPS = 12;

/** What of a picture is far brighter than its surroundings and small: lamps, windows, the moon. The sky is neither. @param light linear luminance */
export function findLamps({ data, width, height }: Plane): FoundLamp[] {
  const brightest = data.reduce((most, v) => Math.max(most, v), 0);
  const least = brightest * 2 ** LEAST_OF_BRIGHTEST_EV;
  const usual = quantile(data, MOST_OF_IT);
  const areas = connectedCells(
    Uint8Array.from(data, (v) => (v > 0 && v >= least ? 1 : 0)),
    width,
    height,
  );
  return areas
    .flatMap((area) => {
      const { x0, y0, x1, y1, count } = boundsOfCells(area, width);
      if (count < FEWEST || count > LARGEST * width * height || count < LEAST_FILLED * (x1 - x0 + 1) * (y1 - y0 + 1)) return [];
      let [sum, sx, sy] = [0, 0, 0];
      for (const i of area) [sum, sx, sy] = [sum + data[i], sx + data[i] * (i % width), sy + data[i] * Math.floor(i / width)];
      const [x, y] = [sx / sum, sy / sum];
      const radius = Math.sqrt(count / Math.PI);
      const around = AROUND.map((r) => surroundings(data, width, height, x, y, r * Math.max(1, radius)));
      const seen = Math.max(usual, ...around.flat());
      const overEv = Math.log2(sum / count / Math.max(1e-9, seen));
      return overEv >= LEAST_OVER_EV ? [{ x, y, radius, overEv }] : [];
    })
    .sort((a, b) => b.overEv - a.overEv)
    .slice(0, MOST_LAMPS);
}

/** Light of a ring that most of it is darker than; none where it lies outside. */
function surroundings(data: ArrayLike<number>, width: number, height: number, x: number, y: number, r: number): number[] {
  const seen = Array.from({ length: PLACES }, (_, k) => {
    const angle = ((k + 0.5) / PLACES) * 2 * Math.PI;
    const [i, j] = [Math.round(x + r * Math.cos(angle)), Math.round(y + r * Math.sin(angle))];
    return i >= 0 && j >= 0 && i < width && j < height ? data[j * width + i] : null;
  }).filter((v) => v !== null);
  return seen.length ? [quantile(seen, MOST_OF_IT)] : [];
}
