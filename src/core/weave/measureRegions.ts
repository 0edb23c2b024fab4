import { boxMean } from "../raster/boxMean";
import type { CellMeasures } from "./judgeRegions";

/** A frame at the level regions are found on, as it was shot. */
export interface WeaveFrame {
  /** log2 luminance, EV against white */
  light: Float32Array;
  lab: [Float32Array, Float32Array, Float32Array];
  /** 3 where all is lost in black or clipped, else how many channels are clipped */
  lost: Uint8Array;
  /** mean square of fine detail on log light, judged at a finer level, EV² */
  detail: Float32Array;
  /** noise against the signal */
  noise: Float32Array;
}

/** Light and shade are what lies between these two radii, samples. Common practice, no source. */
const SHADE_FINE = 1;
const SHADE_COARSE = 16;
const RIPPLE = 2;
const AROUND = 6;
/** Deviations of normalised light, and of light itself in EV, from which a place is unlike the others. Common practice, no source. */
const UNLIKE = 1.2;
const UNLIKE_EV = 0.4;

/** Measures of every frame in every region. @param label a region 0..regions − 1 for each sample @returns by region, then by frame */
export function measureRegions(frames: WeaveFrame[], label: Uint8Array, regions: number, width: number, height: number): CellMeasures[][] {
  const n = width * height;
  const box = (data: Float32Array, radius: number) => boxMean({ width, height, data }, radius);
  const shade = frames.map(({ light }) => {
    const [fine, coarse] = [box(light, SHADE_FINE), box(light, SHADE_COARSE)];
    return fine.map((v, i) => v - coarse[i]);
  });
  const unlike = frames.length > 2 ? unlikeOthers(frames, box) : null;
  const ripple = frames.map(({ light }) => {
    const even = box(light, RIPPLE);
    return light.map((v, i) => v - even[i]);
  });
  const mean = new Float32Array(n);
  for (const { light } of frames) for (let i = 0; i < n; i++) mean[i] += light[i] / frames.length;
  const sums = Array.from({ length: regions }, () => frames.map(() => new Float64Array(12)));
  const planes = Array.from({ length: regions }, () => frames.map(() => new Float64Array(9)));
  frames.forEach((frame, f) => {
    const relative = box(
      frame.light.map((v, i) => v - mean[i]),
      AROUND,
    );
    for (let i = 0; i < n; i++) {
      const s = sums[label[i]][f];
      s[0]++;
      s[1] += frame.lost[i] / 3;
      s[2] += frame.noise[i];
      s[3] += frame.detail[i];
      s[4] += Math.sqrt(frame.lab[1][i] ** 2 + frame.lab[2][i] ** 2);
      s[5] += Math.min(0, frame.light[i]);
      s[6] += shade[f][i] ** 2;
      s[7] += unlike ? unlike[f][i] : 0;
      s[8] += ripple[f][i] ** 2;
      s[9] += frame.lab[1][i];
      s[10] += frame.lab[2][i];
      s[11] += frame.lab[1][i] ** 2 + frame.lab[2][i] ** 2;
      const p = planes[label[i]][f];
      const [x, y, z] = [i % width, Math.floor(i / width), relative[i]];
      [x, y, x * x, y * y, x * y, z, x * z, y * z].forEach((v, k) => (p[k] += v));
    }
  });
  const alike = correlations(ripple, label, regions);
  return sums.map((row, region) =>
    row.map(([count, lost, noise, detail, chroma, light, shades, alone, ripples, a, b, ab], f): CellMeasures => {
      const m = Math.max(1, count);
      const [fromDeg, fromEv] = slopeOf(planes[region][f], m);
      return {
        clipped: lost / m,
        noise: noise / m,
        detailEv: Math.sqrt(detail / m),
        rippleEv: Math.sqrt(ripples / m),
        steady: frames.length > 1 ? (alike[region].reduce((sum, row) => sum + row[f], 0) - 1) / (frames.length - 1) : 1,
        chroma: chroma / m,
        colourRange: Math.sqrt(Math.max(0, ab / m - (a / m) ** 2 - (b / m) ** 2)),
        lightEv: light / m,
        shadeEv: Math.sqrt(shades / m),
        alone: alone / m,
        lightFromDeg: fromDeg,
        lightFromEv: fromEv,
      };
    }),
  );
}

/** Correlations of planes with each other within each region: by region, plane and plane. */
function correlations(planes: Float32Array[], label: Uint8Array, regions: number): Float64Array[][] {
  const d = planes.length;
  const products = Array.from({ length: regions }, () => Array.from({ length: d }, () => new Float64Array(d)));
  for (let i = 0; i < label.length; i++) {
    const p = products[label[i]];
    for (let f = 0; f < d; f++) for (let g = f; g < d; g++) p[f][g] += planes[f][i] * planes[g][i];
  }
  return products.map((p) => p.map((row, f) => row.map((_, g) => (f === g ? 1 : (f < g ? p[f][g] : p[g][f]) / Math.sqrt(Math.max(1e-12, p[f][f] * p[g][g]))))));
}

/** Where a frame shows something that most others do not, whatever their light. */
function unlikeOthers(frames: WeaveFrame[], box: (data: Float32Array, radius: number) => Float32Array): Uint8Array[] {
  const apart = frames.map(({ light }) => {
    const mean = box(light, AROUND);
    return light.map((v, i) => v - mean[i]);
  });
  const normal = apart.map((plane) => {
    const power = box(
      plane.map((v) => v * v),
      AROUND,
    );
    return plane.map((v, i) => v / (Math.sqrt(power[i]) + 0.1));
  });
  const n = frames[0].light.length;
  const out = frames.map(() => new Uint8Array(n));
  const [z, e] = [new Float64Array(frames.length), new Float64Array(frames.length)];
  const middle = (v: Float64Array) => {
    const sorted = Float64Array.from(v).sort();
    return (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
  };
  for (let i = 0; i < n; i++) {
    for (let f = 0; f < frames.length; f++) [z[f], e[f]] = [normal[f][i], apart[f][i]];
    const [mz, me] = [middle(z), middle(e)];
    for (let f = 0; f < frames.length; f++) if (Math.abs(z[f] - mz) > UNLIKE && Math.abs(e[f] - me) > UNLIKE_EV) out[f][i] = 1;
  }
  return out;
}

/** Least-squares plane through light: where it rises to, degrees clockwise from the top, and by how much over the width of a region. */
function slopeOf([sx, sy, sxx, syy, sxy, sz, sxz, syz]: Float64Array, count: number): [number, number] {
  const [cxx, cyy, cxy] = [sxx - (sx * sx) / count, syy - (sy * sy) / count, sxy - (sx * sy) / count];
  const [cxz, cyz] = [sxz - (sx * sz) / count, syz - (sy * sz) / count];
  const det = cxx * cyy - cxy * cxy;
  if (!(det > 1e-6 * cxx * cyy)) return [0, 0];
  const [gx, gy] = [(cxz * cyy - cyz * cxy) / det, (cyz * cxx - cxz * cxy) / det];
  const deg = (Math.atan2(gx, -gy) * 180) / Math.PI;
  return [(deg + 360) % 360, Math.sqrt(gx * gx + gy * gy) * Math.sqrt(count)];
}
