import { FOREGROUND, UNKNOWN, type Band } from "../../../core/matte/trimap";
import type { Rectangle } from "../../../core/geometry/rectangle";

/** What was cut out of a picture at a display level. Outside of its rectangle nothing is in front. */
export interface LevelMatte {
  level: number;
  rect: Rectangle;
  /** BACKGROUND, UNKNOWN or FOREGROUND by sample of the rectangle */
  known: Uint8Array;
  /** the unknown samples, row by row */
  places: Int32Array;
  /** 0..1, of each of these */
  alpha: Float32Array;
}

/** The same with colours in front, linear working light, three values for each unknown sample; all others are the picture's own. */
export interface FreedMatte extends LevelMatte {
  front: Float32Array;
}

/** Alpha over its rectangle. */
export function alphaOver({ known, places, alpha }: LevelMatte): Float32Array {
  const out = new Float32Array(known.length);
  for (let i = 0; i < out.length; i++) if (known[i] === FOREGROUND) out[i] = 1;
  for (let k = 0; k < places.length; k++) out[places[k]] = alpha[k];
  return out;
}

export function compact(level: number, rect: Rectangle, known: Uint8Array, { places }: Band, alpha: Float32Array): LevelMatte {
  const own = new Float32Array(places.length);
  for (let k = 0; k < own.length; k++) own[k] = alpha[places[k]];
  return { level, rect, known, places, alpha: own };
}

/**
 * Visits what of a matte lies in a rectangle of its level.
 * @param visit place in the rectangle, alpha, and which of the unknown samples it is, or −1
 */
export function eachInFront({ rect: own, known, places, alpha }: LevelMatte, rect: Rectangle, visit: (i: number, alpha: number, k: number) => void): void {
  const [x0, x1] = [Math.max(rect.x, own.x), Math.min(rect.x + rect.width, own.x + own.width)];
  for (let y = Math.max(rect.y, own.y); y < Math.min(rect.y + rect.height, own.y + own.height); y++) {
    const row = (y - own.y) * own.width - own.x;
    let k = firstFrom(places, row + x0);
    for (let x = x0; x < x1; x++) {
      const i = row + x;
      const isOpen = known[i] === UNKNOWN;
      if (isOpen || known[i] === FOREGROUND) visit((y - rect.y) * rect.width + x - rect.x, isOpen ? alpha[k] : 1, isOpen ? k : -1);
      if (isOpen) k++;
    }
  }
}

/** The first of ascending places that is not before one. */
function firstFrom(places: Int32Array, from: number): number {
  let [low, high] = [0, places.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (places[middle] < from) low = middle + 1;
    else high = middle;
  }
  return low;
}
