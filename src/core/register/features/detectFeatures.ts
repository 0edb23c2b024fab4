import type { Plane } from "../../raster/raster";

/** A place that can be found again, with its own scale and direction. */
export interface Feature {
  /** px of the plane given, pixel centres are integers */
  x: number;
  y: number;
  /** radius of the blob, px */
  sigma: number;
  /** direction of the strongest gradient, radians */
  angle: number;
  strength: number;
  /** 128 values of unit length, square roots of a gradient histogram */
  descriptor: Float32Array;
}

const SCALES = 3;
const BASE_SIGMA = 1.6;
/** blur that a picture is taken to have already */
const GIVEN_SIGMA = 0.6;
const EDGE_RATIO = 10;

/**
 * Extrema of the difference of Gaussians with gradient histograms. @see Lowe 2004, "Distinctive image features from
 * scale-invariant keypoints"; histograms compared by their square roots after Arandjelović and Zisserman 2012. Forms recalled
 * from memory. @param plane values of about 0 to 1, NaN nowhere @param convolve a faster way, where there is one
 */
export function detectFeatures(plane: Plane, most = 2500, contrast = 0.008, convolve: Convolve = convolvePlainly): Feature[] {
  const blur = (p: Plane, sigma: number): Plane => ({ ...p, data: convolve(p, gaussianWeights(sigma)) });
  let base: Plane = blur(plane, Math.sqrt(BASE_SIGMA ** 2 - GIVEN_SIGMA ** 2));
  const found: { extremum: Extremum; octave: number; gaussian: Plane }[] = [];
  for (let octave = 0; Math.min(base.width, base.height) >= 24; octave++) {
    const gaussians = [base];
    for (let s = 1; s < SCALES + 3; s++) {
      const before = BASE_SIGMA * 2 ** ((s - 1) / SCALES);
      const after = BASE_SIGMA * 2 ** (s / SCALES);
      gaussians.push(blur(gaussians[s - 1], Math.sqrt(after * after - before * before)));
    }
    const differences = gaussians.slice(1).map((g, s) => subtract(g, gaussians[s]));
    for (let s = 1; s <= SCALES; s++) {
      for (const extremum of extremaOf(differences, s, contrast)) {
        found.push({ extremum, octave, gaussian: gaussians[Math.min(SCALES, Math.max(1, Math.round(extremum.s)))] });
      }
    }
    base = everySecond(gaussians[SCALES]);
  }
  // nearly each has a direction and some two, so that no more need be described
  const strongest = found.sort((a, b) => b.extremum.strength - a.extremum.strength).slice(0, most);
  const features = strongest.flatMap(({ extremum: { x, y, s, strength }, octave, gaussian }): Feature[] => {
    const sigma = BASE_SIGMA * 2 ** (s / SCALES);
    const scale = 2 ** octave;
    return directions(gaussian, x, y, sigma).map((angle) => {
      const descriptor = describe(gaussian, x, y, sigma, angle);
      return { x: x * scale, y: y * scale, sigma: sigma * scale, angle, strength, descriptor };
    });
  });
  return features.slice(0, most);
}

/** A plane convolved down and across with symmetric weights, the middle one first; its border repeats. */
export type Convolve = (plane: Plane, weights: number[]) => Float32Array;

function gaussianWeights(sigma: number): number[] {
  const radius = Math.max(1, Math.ceil(sigma * 3.2));
  const half = Array.from({ length: radius + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)));
  const total = half.reduce((sum, v, k) => sum + (k ? 2 * v : v), 0);
  return half.map((v) => v / total);
}

function convolvePlainly(p: Plane, weights: number[]): Float32Array {
  const radius = weights.length - 1;
  const { width: w, height: h, data } = p;
  const across = new Float32Array(w * h);
  // doubles: the sums would else be rounded at every step, which costs more than it saves
  const line = new Float64Array(w + 2 * radius);
  for (let y = 0; y < h; y++) {
    line.fill(data[y * w], 0, radius);
    line.set(data.subarray(y * w, y * w + w), radius);
    line.fill(data[y * w + w - 1], radius + w);
    for (let x = 0; x < w; x++) {
      const middle = x + radius;
      let v = weights[0] * line[middle];
      for (let k = 1; k <= radius; k++) v += weights[k] * (line[middle - k] + line[middle + k]);
      across[y * w + x] = v;
    }
  }
  const out = new Float32Array(w * h);
  const sum = new Float64Array(w);
  const row = (y: number) => across.subarray(Math.max(0, Math.min(h - 1, y)) * w, Math.max(0, Math.min(h - 1, y)) * w + w);
  for (let y = 0; y < h; y++) {
    const here = row(y);
    for (let x = 0; x < w; x++) sum[x] = weights[0] * here[x];
    for (let k = 1; k <= radius; k++) {
      const [above, below, weight] = [row(y - k), row(y + k), weights[k]];
      for (let x = 0; x < w; x++) sum[x] += weight * (above[x] + below[x]);
    }
    out.set(sum, y * w);
  }
  return out;
}

function subtract(a: Plane, b: Plane): Plane {
  const data = new Float32Array(a.data.length);
  for (let i = 0; i < data.length; i++) data[i] = a.data[i] - b.data[i];
  return { ...a, data };
}

function everySecond(p: Plane): Plane {
  const width = p.width >> 1;
  const height = p.height >> 1;
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data[y * width + x] = p.data[2 * y * p.width + 2 * x];
  return { width, height, data };
}

/** A place between samples and scales, px of its octave. */
interface Extremum {
  x: number;
  y: number;
  s: number;
  strength: number;
}

function* extremaOf(levels: Plane[], s: number, contrast: number): Generator<Extremum> {
  const { width: w, height: h } = levels[s];
  const [below, here, above] = [levels[s - 1].data, levels[s].data, levels[s + 1].data];
  const border = 8;
  for (let y = border; y < h - border; y++) {
    for (let x = border; x < w - border; x++) {
      const i = y * w + x;
      const v = here[i];
      if (Math.abs(v) < contrast * 0.6) continue;
      let top = v > here[i - 1] && v > here[i + 1];
      let bottom = v < here[i - 1] && v < here[i + 1];
      for (let k = i - w - 1; k <= i + w - 1 && (top || bottom); k += w) {
        for (let m = k; m < k + 3; m++) {
          if (m !== i && here[m] >= v) top = false;
          if (m !== i && here[m] <= v) bottom = false;
          if (below[m] >= v || above[m] >= v) top = false;
          if (below[m] <= v || above[m] <= v) bottom = false;
        }
      }
      if (!top && !bottom) continue;
      // one Newton step of a parabola along each axis places the extremum between the samples
      const [gx, gy, gs] = [(here[i + 1] - here[i - 1]) / 2, (here[i + w] - here[i - w]) / 2, (above[i] - below[i]) / 2];
      const [xx, yy, ss] = [here[i + 1] + here[i - 1] - 2 * v, here[i + w] + here[i - w] - 2 * v, above[i] + below[i] - 2 * v];
      const xy = (here[i + w + 1] - here[i + w - 1] - here[i - w + 1] + here[i - w - 1]) / 4;
      const det = xx * yy - xy * xy;
      if (det <= 0 || (xx + yy) ** 2 / det > (EDGE_RATIO + 1) ** 2 / EDGE_RATIO) continue;
      const ox = (xy * gy - yy * gx) / det;
      const oy = (xy * gx - xx * gy) / det;
      const os = ss !== 0 ? -gs / ss : 0;
      if (Math.abs(ox) > 1 || Math.abs(oy) > 1 || Math.abs(os) > 1) continue;
      const value = Math.abs(v + (gx * ox + gy * oy + gs * os) / 2);
      if (value < contrast) continue;
      yield { x: x + ox, y: y + oy, s: s + os, strength: value };
    }
  }
}

const BINS = 36;

/** Direction of a vector, radians, right to 1e-5, in a fraction of the time of atan2. @see Abramowitz and Stegun 1964, 4.4.47 (recalled from memory) */
function directionOf(x: number, y: number): number {
  const a = Math.abs(x);
  const b = Math.abs(y);
  const most = Math.max(a, b);
  if (most === 0) return 0;
  const t = Math.min(a, b) / most;
  const t2 = t * t;
  let angle = t * (0.999866 + t2 * (-0.3302995 + t2 * (0.180141 + t2 * (-0.085133 + t2 * 0.0208351))));
  if (b > a) angle = Math.PI / 2 - angle;
  if (x < 0) angle = Math.PI - angle;
  return y < 0 ? -angle : angle;
}

/** The strongest directions around a place; a second one where it is nearly as strong. */
function directions({ width: w, height: h, data }: Plane, x: number, y: number, sigma: number): number[] {
  const spread = 1.5 * sigma;
  const radius = Math.round(spread * 3);
  const histogram = new Float32Array(BINS);
  const [cx, cy] = [Math.round(x), Math.round(y)];
  const fall = (middle: number, centre: number) =>
    Float64Array.from({ length: 2 * radius + 1 }, (_, k) => Math.exp(-((middle + k - radius - centre) ** 2) / (2 * spread * spread)));
  const [across, down] = [fall(cx, x), fall(cy, y)];
  for (let v = Math.max(1, cy - radius); v <= Math.min(h - 2, cy + radius); v++) {
    for (let u = Math.max(1, cx - radius); u <= Math.min(w - 2, cx + radius); u++) {
      const i = v * w + u;
      const gx = data[i + 1] - data[i - 1];
      const gy = data[i + w] - data[i - w];
      const bin = Math.floor(((directionOf(gx, gy) + Math.PI) / (2 * Math.PI)) * BINS) % BINS;
      histogram[bin] += across[u - cx + radius] * down[v - cy + radius] * Math.sqrt(gx * gx + gy * gy);
    }
  }
  for (let pass = 0; pass < 2; pass++) {
    const old = histogram.slice();
    for (let b = 0; b < BINS; b++) histogram[b] = (old[(b + BINS - 1) % BINS] + 2 * old[b] + old[(b + 1) % BINS]) / 4;
  }
  const top = Math.max(...histogram);
  const found: { angle: number; value: number }[] = [];
  for (let b = 0; b < BINS; b++) {
    const [l, c, r] = [histogram[(b + BINS - 1) % BINS], histogram[b], histogram[(b + 1) % BINS]];
    if (c <= l || c <= r || c < 0.8 * top) continue;
    const offset = (0.5 * (l - r)) / (l - 2 * c + r);
    found.push({ angle: ((b + 0.5 + offset) / BINS) * 2 * Math.PI - Math.PI, value: c });
  }
  return found
    .sort((a, b) => b.value - a.value)
    .slice(0, 2)
    .map((d) => d.angle);
}

/** A Gaussian over the 16×16 samples of a descriptor. */
const WINDOW = Float64Array.from({ length: 256 }, (_, k) => Math.exp(-(((k % 16) - 7.5) ** 2 + (Math.floor(k / 16) - 7.5) ** 2) / 128));

/** 4×4 cells of 8 directions, sampled on a turned 16×16 grid, shared out linearly between cells and directions. */
function describe({ width: w, height: h, data }: Plane, x: number, y: number, sigma: number, angle: number): Float32Array {
  const out = new Float32Array(128);
  const step = 0.75 * sigma;
  const [c, s] = [Math.cos(angle) * step, Math.sin(angle) * step];
  for (let j = 0; j < 16; j++) {
    for (let i = 0; i < 16; i++) {
      const [a, b] = [i - 7.5, j - 7.5];
      const u = Math.round(x + c * a - s * b);
      const v = Math.round(y + s * a + c * b);
      if (u < 1 || v < 1 || u >= w - 1 || v >= h - 1) continue;
      const k = v * w + u;
      const gx = data[k + 1] - data[k - 1];
      const gy = data[k + w] - data[k - w];
      const weight = Math.sqrt(gx * gx + gy * gy) * WINDOW[j * 16 + i];
      const [bx, by] = [i / 4 - 0.375, j / 4 - 0.375];
      const bo = (((directionOf(gx, gy) - angle) / (2 * Math.PI) + 2) % 1) * 8;
      const [x0, y0, o0] = [Math.floor(bx), Math.floor(by), Math.floor(bo)];
      const [fx, fy, fo] = [bx - x0, by - y0, bo - o0];
      for (let dy = 0; dy < 2; dy++) {
        const yy = y0 + dy;
        if (yy < 0 || yy > 3) continue;
        const wy = weight * (dy ? fy : 1 - fy);
        for (let dx = 0; dx < 2; dx++) {
          const xx = x0 + dx;
          if (xx < 0 || xx > 3) continue;
          const wx = wy * (dx ? fx : 1 - fx);
          const cell = (yy * 4 + xx) * 8;
          out[cell + (o0 & 7)] += wx * (1 - fo);
          out[cell + ((o0 + 1) & 7)] += wx * fo;
        }
      }
    }
  }
  // no single gradient may rule; then square roots, so that the dot product compares histograms by Hellinger's distance
  let length = Math.sqrt(out.reduce((sum, v) => sum + v * v, 0)) || 1;
  for (let i = 0; i < 128; i++) out[i] = Math.min(0.2, out[i] / length);
  length = out.reduce((sum, v) => sum + v, 0) || 1;
  for (let i = 0; i < 128; i++) out[i] = Math.sqrt(out[i] / length);
  return out;
}
