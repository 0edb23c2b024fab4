import type { Band, MatteField } from "./trimap";

/** Variance of colours that is even, linear light squared. Common practice, no source. */
const EVEN_VARIANCE = 1e-5;
/** Coefficients a sample: three slopes and an offset. */
const PARTS = 4;

/**
 * Alpha that was solved on half the size, at the places of a band of the whole: in windows of 3 × 3 it is a linear function of the colours, whose coefficients are carried.
 * @param half the field of half the size @param out receives alpha for each place of the band
 * @see He, Sun 2015, "Fast guided filter"
 */
export function carryAlpha(half: MatteField, coarse: Float32Array, { width, rgb }: MatteField, { places }: Band, out: Float64Array): void {
  const { width: w, height: h } = half;
  const maps = new Float32Array(PARTS * w * h);
  const made = new Uint8Array(w * h);
  const fit = (x: number, y: number) => {
    const i = y * w + x;
    if (made[i]) return;
    made[i] = 1;
    fitWindow(half, coarse, x, y, maps, PARTS * i);
  };
  const sum = new Float64Array(PARTS);
  for (let k = 0; k < places.length; k++) {
    const i = places[k];
    const column = i % width;
    const x = Math.max(0, (column - 0.5) / 2);
    const y = Math.max(0, ((i - column) / width - 0.5) / 2);
    const [x0, y0] = [Math.floor(x), Math.floor(y)];
    const [x1, y1] = [Math.min(w - 1, x0 + 1), Math.min(h - 1, y0 + 1)];
    const [fx, fy] = [x - x0, y - y0];
    sum.fill(0);
    for (let corner = 0; corner < 4; corner++) {
      const [u, v] = [corner & 1 ? x1 : x0, corner & 2 ? y1 : y0];
      fit(u, v);
      const weight = (corner & 1 ? fx : 1 - fx) * (corner & 2 ? fy : 1 - fy);
      for (let p = 0; p < PARTS; p++) sum[p] += weight * maps[PARTS * (v * w + u) + p];
    }
    out[k] = Math.min(1, Math.max(0, sum[0] * rgb[0][i] + sum[1] * rgb[1][i] + sum[2] * rgb[2][i] + sum[3]));
  }
}

/** Least squares of alpha on colours in the window about a place. */
function fitWindow({ width, height, rgb: [R, G, B] }: MatteField, alpha: Float32Array, x: number, y: number, out: Float32Array, at: number): void {
  let [n, mr, mg, mb, ma, rr, rg, rb, gg, gb, bb, ra, ga, ba] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const i = v * width + u;
      const [r, g, b, a] = [R[i], G[i], B[i], alpha[i]];
      n++;
      mr += r;
      mg += g;
      mb += b;
      ma += a;
      rr += r * r;
      rg += r * g;
      rb += r * b;
      gg += g * g;
      gb += g * b;
      bb += b * b;
      ra += r * a;
      ga += g * a;
      ba += b * a;
    }
  }
  mr /= n;
  mg /= n;
  mb /= n;
  ma /= n;
  rr = rr / n - mr * mr + EVEN_VARIANCE;
  gg = gg / n - mg * mg + EVEN_VARIANCE;
  bb = bb / n - mb * mb + EVEN_VARIANCE;
  rg = rg / n - mr * mg;
  rb = rb / n - mr * mb;
  gb = gb / n - mg * mb;
  ra = ra / n - mr * ma;
  ga = ga / n - mg * ma;
  ba = ba / n - mb * ma;
  const [A, C, E] = [gg * bb - gb * gb, rb * gb - rg * bb, rg * gb - rb * gg];
  const scale = 1 / (rr * A + rg * C + rb * E);
  const [F, H, K] = [rr * bb - rb * rb, rg * rb - rr * gb, rr * gg - rg * rg];
  const r = (A * ra + C * ga + E * ba) * scale;
  const g = (C * ra + F * ga + H * ba) * scale;
  const b = (E * ra + H * ga + K * ba) * scale;
  out[at] = r;
  out[at + 1] = g;
  out[at + 2] = b;
  out[at + 3] = ma - r * mr - g * mg - b * mb;
}
