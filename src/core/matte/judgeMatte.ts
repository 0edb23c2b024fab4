import type { Rectangle } from "../geometry/rectangle";
import { differenceCiede2000, workingToLab } from "../color/colorDifference";
import { connectedCells } from "../masks/components";
import { edgeWidths, findStubs, type EdgeWidths } from "./judgeEdge";
import type { FreedColours } from "./freeColours";
import { halvedPlane, UNKNOWN, type Band, type MatteField, type MattePart } from "./trimap";

/** What a matte is like, in px of its field. */
export interface MatteFigures {
  /** samples that were unknown, and how wide the change from none to all is on the average */
  band: { pixels: number; widthPx: number };
  /** how much of the field is in front, 0..1 */
  share: number;
  /** how far colours of the rim still lean towards the old background, CIEDE2000, by alpha */
  spillDeltaE: number;
  /** parts apart from the largest, and gaps through which the background shows, the largest first */
  islands: MattePart[];
  holes: MattePart[];
  /** how wide its edge is by the picture and by alpha; null where too little tells */
  edge: EdgeWidths | null;
  /** thin pieces that hang on the rim and look like what lies behind, the largest first */
  stubs: MattePart[];
  /** where it ends at a border without an edge of its own, with the length of that, the longest first */
  cutOff: MattePart[];
}

/** Alpha from here on counts as there, and up to there as partly so. */
const THERE = 0.5;
const [LEAST, MOST] = [0.02, 0.98];
/** What is smaller counts as a strand or as noise, px and as a share of the thing. Common practice, no source. */
const [LEAST_PART, LEAST_SHARE] = [12, 0.0004];

/** Parts and gaps of a matte are looked for at no more samples than these. */
const MOST_LOOKED_AT = 2_000_000;

export function judgeMatte(field: MatteField, band: Band, alpha: Float32Array, freed: FreedColours): MatteFigures {
  let [plane, width, height, scale] = [alpha, field.width, field.height, 1];
  let sum = 0;
  for (let i = 0; i < alpha.length; i++) sum += alpha[i];
  const widthPx = widthOf(alpha, width);
  while (width * height > MOST_LOOKED_AT) {
    plane = halvedPlane(plane, width, height);
    [width, height, scale] = [(width + 1) >> 1, (height + 1) >> 1, 2 * scale];
  }
  const there = new Uint8Array(plane.length);
  for (let i = 0; i < there.length; i++) there[i] = plane[i] >= THERE ? 1 : 0;
  const parts = connectedCells(there, width, height).sort((p, q) => q.length - p.length);
  const gaps = connectedCells(
    there.map((on) => 1 - on),
    width,
    height,
  ).filter((cells) => !cells.some((i) => isBorder(i, width, height)));
  const least = Math.max(LEAST_PART, LEAST_SHARE * sum);
  return {
    band: { pixels: band.places.length, widthPx },
    share: sum / alpha.length,
    spillDeltaE: spillOf(field, band, alpha, freed),
    islands: partsOf(parts.slice(1), width, scale, least),
    holes: partsOf(gaps, width, scale, least),
    edge: edgeWidths(field, alpha),
    stubs: findStubs(field, alpha, least),
    cutOff: [],
  };
}

/** A border that is crossed over so many samples or fewer is crossed by chance. Common practice, no source. */
const LEAST_CUT = 3;
/** Light on both sides of a border is the same thing's where it differs by no more than this share of it. Common practice, no source. */
const SAME_LIGHT = 0.2;
const DARK = 0.003;

/**
 * Where a matte ends at a box, or at the border of the picture, though what it shows goes on.
 * @param box in samples of the field @param within how far inside and outside it is looked, samples: as wide as the band about a border
 * @returns places along the border, `area` being a length, the longest first
 */
export function endsAtBorders({ width, height, rgb }: MatteField, alpha: Float32Array, box: Rectangle, within: number): MattePart[] {
  const found: MattePart[] = [];
  const isCut = (x: number, y: number, dx: number, dy: number): boolean => {
    const [u, v, p, q] = [x + dx * within, y + dy * within, x - dx * within, y - dy * within];
    if (u < 0 || v < 0 || u >= width || v >= height) return false;
    const inner = v * width + u;
    if (alpha[inner] < THERE) return false;
    // beyond the picture anything goes on
    if (p < 0 || q < 0 || p >= width || q >= height) return true;
    const outer = q * width + p;
    return rgb.every((plane) => Math.abs(plane[inner] - plane[outer]) < SAME_LIGHT * Math.max(plane[inner], plane[outer]) + DARK);
  };
  const along = (x: number, y: number, length: number, dx: number, dy: number) => {
    for (let t = 0, from = -1; t <= length; t++) {
      const isThere = t < length && isCut(x + t * Math.abs(dy), y + t * Math.abs(dx), dx, dy);
      if (isThere && from < 0) from = t;
      if (isThere || from < 0) continue;
      const middle = (from + t - 1) >> 1;
      if (t - from > LEAST_CUT) found.push({ x: x + middle * Math.abs(dy), y: y + middle * Math.abs(dx), area: t - from });
      from = -1;
    }
  };
  const [right, bottom] = [box.x + box.width - 1, box.y + box.height - 1];
  along(box.x, box.y, box.width, 0, 1);
  along(box.x, bottom, box.width, 0, -1);
  along(box.x, box.y, box.height, 1, 0);
  along(right, box.y, box.height, -1, 0);
  return found.sort((p, q) => q.area - p.area);
}

function isBorder(i: number, width: number, height: number): boolean {
  const x = i % width;
  return x === 0 || x === width - 1 || i < width || i >= width * (height - 1);
}

function partsOf(areas: number[][], width: number, scale: number, least: number): MattePart[] {
  return areas
    .filter((cells) => cells.length * scale * scale >= least)
    .sort((p, q) => q.length - p.length)
    .map((cells) => {
      const x = cells.reduce((sum, i) => sum + (i % width), 0) / cells.length;
      const y = cells.reduce((sum, i) => sum + Math.floor(i / width), 0) / cells.length;
      return { x: Math.round((x + 0.5) * scale - 0.5), y: Math.round((y + 0.5) * scale - 0.5), area: cells.length * scale * scale };
    });
}

/** Samples that are partly there for each px of the border between there and not. */
function widthOf(alpha: Float32Array, width: number): number {
  let [partly, length] = [0, 0];
  for (let i = 0; i < alpha.length; i++) {
    if (alpha[i] > LEAST && alpha[i] < MOST) partly++;
    if ((i % width) + 1 < width && alpha[i] >= THERE !== alpha[i + 1] >= THERE) length++;
    if (i + width < alpha.length && alpha[i] >= THERE !== alpha[i + width] >= THERE) length++;
  }
  // steps along rows and columns are longer than the line that they follow, by 4/π on the average over all directions
  return length ? partly / (length * (Math.PI / 4)) : 0;
}

/** Samples of the rim are held to what lies so far inside, px. */
const INSIDE = 12;
const MOST_SAMPLES = 20_000;

function spillOf({ width, height, rgb, known }: MatteField, { places }: Band, alpha: Float32Array, { front, back }: FreedColours): number {
  const stride = Math.max(1, Math.floor(places.length / MOST_SAMPLES));
  let [sum, weight] = [0, 0];
  for (let k = 0; k < places.length; k += stride) {
    const i = places[k];
    const a = alpha[i];
    if (a < 0.1 || a > MOST) continue;
    const inner = insideOf(i, width, height, alpha, known);
    if (inner < 0) continue;
    const at = 3 * k;
    const core = [rgb[0][inner], rgb[1][inner], rgb[2][inner]];
    const rim = [front[at], front[at + 1], front[at + 2]];
    const behind = [back[at], back[at + 1], back[at + 2]];
    const way = behind.map((v, c) => v - core[c]);
    const size = way.reduce((s, v) => s + v * v, 0);
    const leans = size > 1e-8 ? Math.min(1, Math.max(0, way.reduce((s, v, c) => s + v * (rim[c] - core[c]), 0) / size)) : 0;
    const spilt = core.map((v, c) => v + leans * way[c]);
    sum += a * differenceCiede2000(workingToLab(core), workingToLab(spilt));
    weight += a;
  }
  return weight ? sum / weight : 0;
}

/** The nearest sample inwards that is wholly there, along rows, columns and diagonals. @returns −1 where none is near */
function insideOf(i: number, width: number, height: number, alpha: Float32Array, known: Uint8Array): number {
  const x = i % width;
  const y = (i - x) / width;
  for (let t = 1; t <= INSIDE; t++) {
    for (let v = -1; v <= 1; v++) {
      for (let u = -1; u <= 1; u++) {
        const [px, py] = [x + u * t, y + v * t];
        if (px < 0 || py < 0 || px >= width || py >= height) continue;
        const j = py * width + px;
        if (alpha[j] > MOST && (known[j] !== UNKNOWN || t > 1)) return j;
      }
    }
  }
  return -1;
}
