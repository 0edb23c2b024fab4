/** What is known of a sample before a matte is solved. */
export const [BACKGROUND, UNKNOWN, FOREGROUND] = [0, 1, 2];
/** A sample whose alpha was solved before and stays as it is. */
export const HELD = 3;

/** Linear light, a plane each of red, green and blue. */
export type Colours = readonly [Float32Array, Float32Array, Float32Array];

/** What a matte is solved from. */
export interface MatteField {
  width: number;
  height: number;
  rgb: Colours;
  /** BACKGROUND, UNKNOWN or FOREGROUND, by sample */
  known: Uint8Array;
  /** what lies behind everything, where it was photographed too or is even */
  plate: Colours | null;
}

/** The samples of a field that are unknown, row by row. */
export interface Band {
  /** where in the field each lies */
  places: Int32Array;
  /** where in the band each sample of the field lies, or −1 */
  index: Int32Array;
}

export function bandOf(known: Uint8Array): Band {
  let count = 0;
  for (let i = 0; i < known.length; i++) if (known[i] === UNKNOWN) count++;
  const places = new Int32Array(count);
  const index = new Int32Array(known.length).fill(-1);
  for (let i = 0, at = 0; i < known.length; i++) {
    if (known[i] !== UNKNOWN) continue;
    index[i] = at;
    places[at++] = i;
  }
  return { places, index };
}

/** A field of half the size: samples averaged two by two; what is not known of all of them is unknown. */
export function halvedField({ width, height, rgb, known, plate }: MatteField): MatteField {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const half = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const above = 2 * y * width;
    const below = Math.min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) {
      const [u, v] = [2 * x, Math.min(width - 1, 2 * x + 1)];
      const own = known[above + u];
      half[y * w + x] = own === known[above + v] && own === known[below + u] && own === known[below + v] ? own : UNKNOWN;
    }
  }
  const halved = ([r, g, b]: Colours): Colours => [halvedPlane(r, width, height), halvedPlane(g, width, height), halvedPlane(b, width, height)];
  return { width: w, height: h, rgb: halved(rgb), known: half, plate: plate && halved(plate) };
}

/** Means of two by two samples; the last row and column of an odd side count twice. */
export function halvedPlane(plane: Float32Array, width: number, height: number): Float32Array {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const above = 2 * y * width;
    const below = Math.min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) {
      const [u, v] = [2 * x, Math.min(width - 1, 2 * x + 1)];
      out[y * w + x] = (plane[above + u] + plane[above + v] + plane[below + u] + plane[below + v]) / 4;
    }
  }
  return out;
}

/** A separate part of a matte, or a gap in it. */
export interface MattePart {
  x: number;
  y: number;
  /** px */
  area: number;
}
