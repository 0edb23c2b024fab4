import { gaussianBlur } from "../raster/blur";
import type { Plane } from "../raster/raster";

/** Constants against nought, standard deviation of the window, px, and weights of the scales, finest first. @see Yeganeh and Wang 2013, "Objective quality assessment of tone-mapped images", section III (recalled from memory) */
const [C1, C2] = [0.01, 10];
const WINDOW = 1.5;
const WEIGHTS = [0.0448, 0.2856, 0.3001, 0.2363, 0.1333];
/** Cycles per degree of the finest scale, and the light that sees them, 8-bit steps. */
const [FINEST, MIDDLE] = [16, 128];
/** What the range of scene light is brought to. */
const SCENE_WHITE = 2 ** 32 - 1;

/** Sensitivity to so many cycles per degree. @see Mannos and Sakrison 1974 */
const sensitivity = (cycles: number): number => 260 * (0.0192 + 0.114 * cycles) * Math.exp(-((0.114 * cycles) ** 1.1));

/** The standard normal distribution, to 1.5e-7. @see Abramowitz and Stegun, 7.1.26 */
function normal(x: number): number {
  const z = Math.abs(x) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * z);
  const tail = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-z * z);
  return x >= 0 ? 1 - tail / 2 : tail / 2;
}

/**
 * How well a picture keeps the structure of the scene light it was made of, 0..1: local contrast that is seen in one ought to be seen in the other, and to run alike.
 * @param scene linear luminance @param shown the same picture as encoded, 0..255 @see Yeganeh and Wang 2013, equations 1 to 9
 */
export function structuralFidelity(scene: Plane, shown: Float32Array): number {
  let [low, high] = [Infinity, -Infinity];
  for (const v of scene.data) [low, high] = [Math.min(low, v), Math.max(high, v)];
  const range = Math.max(1e-12, high - low);
  let a: Plane = { ...scene, data: scene.data.map((v) => (SCENE_WHITE * (v - low)) / range) };
  let b: Plane = { ...scene, data: shown };
  let fidelity = 1;
  for (const [k, weight] of WEIGHTS.entries()) {
    if (Math.min(a.width, a.height) < 12) break;
    fidelity *= Math.max(0, atScale(a, b.data, FINEST / 2 ** k)) ** weight;
    [a, b] = [halved(a), halved(b)];
  }
  return fidelity;
}

function atScale(a: Plane, b: Float32Array, cycles: number): number {
  const mean = (of: (i: number) => number) => gaussianBlur({ ...a, data: Float32Array.from(b, (_, i) => of(i)) }, WINDOW);
  // about their middles, so that squares of large values keep their digits
  const [ma, mb] = [average(a.data), average(b)];
  const p = (i: number) => a.data[i] - ma;
  const q = (i: number) => b[i] - mb;
  const [ea, eb] = [mean(p), mean(q)];
  const [aa, bb, ab] = [mean((i) => p(i) * p(i)), mean((i) => q(i) * q(i)), mean((i) => p(i) * q(i))];
  const threshold = MIDDLE / sensitivity(cycles);
  let sum = 0;
  for (let i = 0; i < b.length; i++) {
    const [va, vb] = [Math.sqrt(Math.max(0, aa[i] - ea[i] * ea[i])), Math.sqrt(Math.max(0, bb[i] - eb[i] * eb[i]))];
    const [sa, sb] = [normal((3 * (va - threshold)) / threshold), normal((3 * (vb - threshold)) / threshold)];
    sum += ((2 * sa * sb + C1) / (sa * sa + sb * sb + C1)) * ((ab[i] - ea[i] * eb[i] + C2) / (va * vb + C2));
  }
  return sum / b.length;
}

const average = (data: Float32Array): number => data.reduce((s, v) => s + v, 0) / data.length;

function halved({ width, height, data }: Plane): Plane {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = 2 * y * width + 2 * x;
      out[y * w + x] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
    }
  return { width: w, height: h, data: out };
}
