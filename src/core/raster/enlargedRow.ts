import type { Plane } from "./raster";

/** Row y of a field enlarged `times`, linear between the middles of its places. @param out as wide as the part of the row is to be @param x0 where that begins */
export function enlargedRow({ width, height, data }: Plane, times: number, y: number, out: Float32Array, x0 = 0): void {
  const v = Math.max(0, Math.min(height - 1, (y + 0.5) / times - 0.5));
  const upper = Math.floor(v) * width;
  const lower = Math.min(height - 1, Math.floor(v) + 1) * width;
  const t = v - Math.floor(v);
  for (let x = 0; x < out.length; x++) {
    const u = Math.max(0, Math.min(width - 1, (x0 + x + 0.5) / times - 0.5));
    const a = Math.floor(u);
    const b = Math.min(width - 1, a + 1);
    const s = u - a;
    const above = data[upper + a] + (data[upper + b] - data[upper + a]) * s;
    const below = data[lower + a] + (data[lower + b] - data[lower + a]) * s;
    out[x] = above + (below - above) * t;
  }
}
