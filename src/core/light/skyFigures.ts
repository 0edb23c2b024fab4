import { boundsOfCells, connectedCells } from "../masks/components";
import { findSky } from "../masks/findAreas";
import { median, quantile } from "../numeric/statistics";
import { toOklab } from "../color/oklab";

/** What a picture shows of its sky, in its own samples. Colours linear: red, green, blue. */
export interface SkyFigures {
  /** how much of the picture it is, 0..1 */
  share: number;
  /** the last row that is sky nearly all across, and the row at which land begins */
  bottom: number;
  horizon: number;
  /** whether land shows below it */
  hasLand: boolean;
  /** what lights the land: the median of it, and what it shows just above its horizon */
  color: number[];
  horizonColor: number[];
  /** the middle of its sun; null: none shows */
  sun: [number, number] | null;
}

/** A picture of nothing but sky. */
const ALL_SKY = 0.97;
/** Share of the columns whose sky ends above the last row that is sky nearly all across. */
const ENDS = 0.05;
/** Rows above the horizon that tell its colour, a share of the height. */
const LOW = 0.08;
/** The sun is nearly clipped, as bright as the brightest, small, round, and brighter than what is around it by so much, EV. */
const LEAST_SUN = 0.8;
const [BRIGHTEST, LARGEST, LEAST_FILLED, LEAST_OVER_EV] = [0.97, 0.03, 0.5, 0.25];
const SUN_RINGS = [2.5, 4];
const PLACES = 24;

/** @param rgb linear planes of the whole picture at about 480 px @param luminance weights of them @returns null where it shows no sky */
export function skyFigures(rgb: readonly Float32Array[], width: number, height: number, luminance: readonly number[]): SkyFigures | null {
  const n = width * height;
  const lab = [0, 1, 2].map(() => new Float32Array(n)) as unknown as [Float32Array, Float32Array, Float32Array];
  const out = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    toOklab(rgb[0][i], rgb[1][i], rgb[2][i], out);
    for (let c = 0; c < 3; c++) lab[c][i] = out[c];
  }
  const mask = findSky({ width, height, lab })?.mask ?? (isNothingElse(lab[0], width, height) ? new Uint8Array(n).fill(1) : null);
  if (!mask) return null;
  const share = mask.reduce((sum, on) => sum + on, 0) / n;
  const ends: number[] = [];
  for (let x = 0; x < width; x++) {
    let y = 0;
    while (y < height && mask[y * width + x]) y++;
    if (y > 0) ends.push(y - 1);
  }
  if (ends.length === 0) return null;
  const hasLand = share < ALL_SKY;
  const bottom = hasLand ? quantile(ends, ENDS) : height - 1;
  // what stands up before it ends the sky too soon
  const horizon = hasLand ? quantile(ends, 1 - ENDS) : height - 1;
  const of = (isIn: (y: number) => boolean): number[] | null => {
    const places = [...mask.keys()].filter((i) => mask[i] && isIn(Math.floor(i / width)));
    return places.length ? rgb.map((plane) => median(places.map((i) => plane[i]))) : null;
  };
  const color = of(() => true)!;
  // the sun's own disc may not be taken for sky
  const light = Float32Array.from(mask, (_, i) => (Math.floor(i / width) <= horizon ? luminance.reduce((sum, w, c) => sum + w * rgb[c][i], 0) : 0));
  return {
    share,
    bottom,
    horizon,
    hasLand,
    color,
    horizonColor: of((y) => y > bottom - LOW * height && y <= horizon) ?? color,
    sun: sunOf(light, width, height),
  };
}

/** How rough clouds are, by lightness from a sample to the next, at most; and how far the lower edge of a sky may be from its middle. Common practice, no source. */
const [ROUGHEST, SAME_LIGHT] = [0.02, 0.25];

/** Whether a picture shows clouds from edge to edge, in which no land parts from a sky: soft all over, and below as it is above. */
function isNothingElse(L: Float32Array, width: number, height: number): boolean {
  let [steps, count] = [0, 0];
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      steps += Math.abs(L[i + 1] - L[i]) + Math.abs(L[i + width] - L[i]);
      count += 2;
    }
  }
  const strip = (from: number, to: number) => median(L.subarray(Math.floor(from * height) * width, Math.floor(to * height) * width));
  return steps / count < ROUGHEST && Math.abs(strip(0.9, 1) - strip(0.4, 0.6)) < SAME_LIGHT;
}

function sunOf(light: Float32Array, width: number, height: number): [number, number] | null {
  const most = light.reduce((a, b) => Math.max(a, b), 0);
  if (most < LEAST_SUN) return null;
  const areas = connectedCells(
    Uint8Array.from(light, (v) => (v > 0 && v >= BRIGHTEST * most ? 1 : 0)),
    width,
    height,
  );
  let best: { count: number; at: [number, number] } | null = null;
  for (const area of areas) {
    const { x0, y0, x1, y1, count } = boundsOfCells(area, width);
    if (count > LARGEST * light.length || count < LEAST_FILLED * (x1 - x0 + 1) * (y1 - y0 + 1) || (best && count <= best.count)) continue;
    const at: [number, number] = [area.reduce((s, i) => s + (i % width), 0) / count, area.reduce((s, i) => s + Math.floor(i / width), 0) / count];
    const radius = Math.max(1, Math.sqrt(count / Math.PI));
    const around = SUN_RINGS.map((r) => ringOf(light, width, height, at, r * radius));
    if (around.some((v) => v === null || Math.log2(most / Math.max(1e-9, v)) < LEAST_OVER_EV)) continue;
    best = { count, at };
  }
  return best?.at ?? null;
}

function ringOf(light: Float32Array, width: number, height: number, [x, y]: [number, number], r: number): number | null {
  const seen: number[] = [];
  for (let k = 0; k < PLACES; k++) {
    const angle = ((k + 0.5) / PLACES) * 2 * Math.PI;
    const [i, j] = [Math.round(x + r * Math.cos(angle)), Math.round(y + r * Math.sin(angle))];
    if (i >= 0 && j >= 0 && i < width && j < height && light[j * width + i] > 0) seen.push(light[j * width + i]);
  }
  return seen.length ? median(seen) : null;
}
