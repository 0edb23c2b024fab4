/** A number 0..1 of whole numbers: the same in every host, tile and level. Multiply and shift, as hash functions do. */
export function hash01(x: number, y: number, z: number, seed: number): number {
  let h = (Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(z, 0x9e3779b1) ^ Math.imul(seed, 0x85ebca6b)) | 0;
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 4_294_967_296;
}

const smooth = (t: number): number => t * t * (3 - 2 * t);

/** Value noise in space, 0..1, with one knot a unit. */
function valueNoise(x: number, y: number, z: number, seed: number): number {
  const i = Math.floor(x);
  const j = Math.floor(y);
  const k = Math.floor(z);
  const u = smooth(x - i);
  const v = smooth(y - j);
  const w = smooth(z - k);
  const near =
    (1 - u) * (1 - v) * hash01(i, j, k, seed) +
    u * (1 - v) * hash01(i + 1, j, k, seed) +
    (1 - u) * v * hash01(i, j + 1, k, seed) +
    u * v * hash01(i + 1, j + 1, k, seed);
  const m = k + 1;
  const far =
    (1 - u) * (1 - v) * hash01(i, j, m, seed) +
    u * (1 - v) * hash01(i + 1, j, m, seed) +
    (1 - u) * v * hash01(i, j + 1, m, seed) +
    u * v * hash01(i + 1, j + 1, m, seed);
  return near * (1 - w) + far * w;
}

/** Octaves of clouds, each half as large and half as strong. */
const OCTAVES = 3;

/** Clouds in space, −1..1, mean 0. @param sizeM of the largest of them */
export function clouds(x: number, y: number, z: number, sizeM: number, seed: number): number {
  let sum = 0;
  let strength = 1;
  let all = 0;
  let size = sizeM;
  for (let octave = 0; octave < OCTAVES; octave++) {
    sum += strength * (2 * valueNoise(x / size, y / size, z / size, seed + octave) - 1);
    all += strength;
    strength /= 2;
    size /= 2;
  }
  return sum / all;
}
