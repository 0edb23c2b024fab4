import { differenceCiede2000, workingToLab } from "../color/colorDifference";
import { connectedCells } from "../masks/components";
import { median } from "../numeric/statistics";
import { boxMean } from "../raster/boxMean";
import type { Colours, MattePart } from "./trimap";

/** How wide the edge of a thing is in its picture, and in its matte, samples. */
export interface EdgeWidths {
  own: number;
  matte: number;
}

/** A picture and what is known of it is held to. */
interface Judged {
  width: number;
  height: number;
  rgb: Colours;
}

/** Alpha from which a place is wholly there, and up to which it is not. */
const [IN, OUT] = [0.98, 0.02];
/** How far from its middle an edge is followed, samples, and how far beyond it both sides are read. */
const [REACH, BEYOND] = [16, 4];
/** Both sides of an edge differ by this share of their light at least; so many places make a figure. Common practice, no source. */
const [CONTRAST, FEWEST] = [0.15, 24];
const MOST_PLACES = 20_000;

/**
 * How wide edges are by the picture, where what is in front and what lies behind are told apart by their light, and how wide by alpha at the same places: a matte that is narrower
 * looks cut with scissors, a wider one like a veil. Widths are those of a straight ramp, along the row or the column that crosses the edge.
 * @returns null where too few places tell
 */
export function edgeWidths({ width, height, rgb }: Judged, alpha: Float32Array): EdgeWidths | null {
  const [own, matte]: [number[], number[]] = [[], []];
  const look = (i: number, step: number, place: number, length: number) => {
    const rises = alpha[i] < 0.5 && alpha[i + step] >= 0.5;
    if (!rises && !(alpha[i] >= 0.5 && alpha[i + step] < 0.5)) return;
    const inwards = rises ? step : -step;
    const room = Math.min(rises ? length - 1 - place : place, REACH + BEYOND + 2);
    const back = Math.min(rises ? place : length - 1 - place, REACH + BEYOND + 2);
    let [a, b] = [0, 0];
    while (a < room && alpha[i + a * inwards] < IN) a++;
    while (b < back && alpha[i - b * inwards] > OUT) b++;
    if (a + BEYOND + 2 > room || b + BEYOND + 2 > back || a > REACH || b > REACH) return;
    const side = (from: number) => [0, 1, 2].map((c) => [from - 1, from, from + 1].reduce((s, t) => s + rgb[c][i + t * inwards], 0) / 3);
    const [front, behind] = [side(a + BEYOND), side(-b - BEYOND)];
    const way = front.map((v, c) => v - behind[c]);
    const size = way.reduce((s, v) => s + v * v, 0);
    const light = front.reduce((s, v, c) => s + (v + behind[c]) ** 2, 0);
    if (size < CONTRAST ** 2 * light) return;
    let [p, q] = [0, 0];
    for (let t = -b - BEYOND; t <= a + BEYOND; t++) {
      const at = i + t * inwards;
      const share = Math.min(1, Math.max(0, way.reduce((s, v, c) => s + v * (rgb[c][at] - behind[c]), 0) / size));
      p += share * (1 - share);
      q += alpha[at] * (1 - alpha[at]);
    }
    // of a straight ramp of one sample it sums to a sixth
    own.push(6 * p);
    matte.push(6 * q);
  };
  const stride = Math.max(1, Math.floor(alpha.length / (MOST_PLACES * 50)));
  for (let i = 0; i < alpha.length; i += stride) {
    const x = i % width;
    const y = (i - x) / width;
    if (x + 1 < width && y > 0 && y + 1 < height && Math.abs(alpha[i + 1] - alpha[i]) >= Math.abs(alpha[i + width] - alpha[i - width]) / 2)
      look(i, 1, x, width);
    if (y + 1 < height && x > 0 && x + 1 < width && Math.abs(alpha[i + width] - alpha[i]) >= Math.abs(alpha[i + 1] - alpha[i - 1]) / 2)
      look(i, width, y, height);
  }
  return own.length < FEWEST ? null : { own: median(own), matte: median(matte) };
}

/** Whether a matte is clearly narrower or wider than the edge itself: twice, and by more than this, px. Common practice, no source. */
const CLEARLY_PX = 1.5;
export const edgeIs = ({ own, matte }: EdgeWidths): "hard" | "soft" | "right" =>
  own > 2 * matte && own - matte > CLEARLY_PX ? "hard" : matte > 2 * own && matte - own > CLEARLY_PX ? "soft" : "right";

/** What is thinner than this share of a thing's size may be a stub, samples at least; what is larger than this share of it is none. Common practice, no source. */
const [THIN, LEAST_THIN, MOST_STUB] = [0.03, 2, 0.03];
/** A stub looks so much more like what lies behind it than like what it hangs on. Common practice, no source. */
const MORE_LIKE = 0.5;

/**
 * Thin pieces that hang on the rim and look like what lies behind: a reed that was taken along, a bit of the ground.
 * @param least samples of the smallest that counts @returns the largest first
 */
export function findStubs({ width, height, rgb }: Judged, alpha: Float32Array, least: number): MattePart[] {
  const there = Float32Array.from(alpha, (a) => (a >= 0.5 ? 1 : 0));
  const area = there.reduce((sum, v) => sum + v, 0);
  if (area === 0) return [];
  const r = Math.max(LEAST_THIN, Math.round((THIN * Math.sqrt(area)) / 2));
  const eroded = boxMean({ width, height, data: there }, r).map((v) => (v > 1 - 1e-6 ? 1 : 0));
  const opened = boxMean({ width, height, data: eroded }, r + 1).map((v) => (v > 1e-6 ? 1 : 0));
  const rest = Uint8Array.from(there, (v, i) => (v && !opened[i] ? 1 : 0));
  const found: MattePart[] = [];
  for (const cells of connectedCells(rest, width, height)) {
    if (cells.length < least || cells.length > MOST_STUB * area) continue;
    const [x, y] = middleOf(cells, width);
    const reach = 3 * r + Math.ceil(Math.sqrt(cells.length));
    const near = around(x, y, reach, width, height);
    const own = meanLab(rgb, cells);
    const core = meanLab(
      rgb,
      near.filter((i) => opened[i] === 1),
    );
    const behind = meanLab(
      rgb,
      near.filter((i) => alpha[i] < OUT),
    );
    if (!own || !core || !behind) continue;
    if (differenceCiede2000(own, behind) < MORE_LIKE * differenceCiede2000(own, core)) found.push({ x, y, area: cells.length });
  }
  return found.sort((p, q) => q.area - p.area);
}

function middleOf(cells: number[], width: number): [number, number] {
  const x = cells.reduce((sum, i) => sum + (i % width), 0) / cells.length;
  const y = cells.reduce((sum, i) => sum + Math.floor(i / width), 0) / cells.length;
  // the sample of it that comes nearest, as a bent piece lies around its middle
  const nearest = cells.reduce((best, i) => (far(i, x, y, width) < far(best, x, y, width) ? i : best));
  return [nearest % width, Math.floor(nearest / width)];
}
const far = (i: number, x: number, y: number, width: number) => Math.hypot((i % width) - x, Math.floor(i / width) - y);

function around(x: number, y: number, reach: number, width: number, height: number): number[] {
  const out: number[] = [];
  for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++) {
    for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++) out.push(v * width + u);
  }
  return out;
}

function meanLab(rgb: Colours, cells: number[]) {
  if (cells.length === 0) return null;
  return workingToLab(rgb.map((plane) => cells.reduce((sum, i) => sum + plane[i], 0) / cells.length));
}
