import type { Rectangle } from "../geometry/rectangle";

/** Uniform 0..1 of a place, the same for the same place. @see Jarzynski, Olano 2020 (PCG hash, constants recalled from memory) */
function hash(x: number, y: number): number {
  let v = (Math.imul(x, 1664525) + Math.imul(y, 22695477) + 1013904223) | 0;
  v = Math.imul(v ^ (v >>> 16), 0x7feb352d);
  v = Math.imul(v ^ (v >>> 15), 0x846ca68b);
  return ((v ^ (v >>> 16)) >>> 0) / 4294967296;
}

/**
 * Grain of standard deviation 1 and mean 0 over places of the picture: the sum of three uniform values, on a grid of `sizePx` between
 * which it is linear. It lies on the picture, not on the screen.
 */
export function grain(sizePx: number, level: number, rect: Rectangle): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  const step = 2 ** level / sizePx;
  const at = (x: number, y: number) => (hash(x, y) + hash(x + 7919, y) + hash(x, y + 7919) - 1.5) * 2;
  for (let j = 0, i = 0; j < rect.height; j++) {
    const v = (rect.y + j + 0.5) * step;
    const y = Math.floor(v);
    for (let k = 0; k < rect.width; k++, i++) {
      const u = (rect.x + k + 0.5) * step;
      const x = Math.floor(u);
      const [s, t] = [u - x, v - y];
      const sum = (1 - s) * (1 - t) * at(x, y) + s * (1 - t) * at(x + 1, y) + (1 - s) * t * at(x, y + 1) + s * t * at(x + 1, y + 1);
      // mixing four values lowers their spread
      out[i] = sum / Math.sqrt(((1 - s) ** 2 + s * s) * ((1 - t) ** 2 + t * t));
    }
  }
  return out;
}
