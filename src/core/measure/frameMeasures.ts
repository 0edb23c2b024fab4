import { linearOfGrey } from "./relativeExposure";
import { quantile } from "../numeric/statistics";
import type { SourceRaster } from "../raster/raster";

export interface Clipping {
  high: [number, number, number];
  low: [number, number, number];
}

/** Share of samples at the top (last code) and at the bottom (first code) of the range, per channel. */
export function measureClipping(source: SourceRaster): Clipping {
  const top = source.bits === 8 ? 255 : source.bits === 16 ? 65535 : Infinity;
  const high: [number, number, number] = [0, 0, 0];
  const low: [number, number, number] = [0, 0, 0];
  const { data } = source;
  for (let i = 0; i < data.length; i += 3) {
    for (let c = 0; c < 3; c++) {
      const v = data[i + c];
      if (v >= top) high[c]++;
      else if (v <= 0) low[c]++;
    }
  }
  const n = data.length / 3;
  return { high: high.map((v) => v / n) as Clipping["high"], low: low.map((v) => v / n) as Clipping["low"] };
}

interface Grey {
  width: number;
  height: number;
  data: Uint16Array;
}

const BLOCK = 24;

/**
 * Noise in the flattest areas: the blocks whose coarse structure is least, then Immerkær's estimate on the fine scale.
 * @returns sigma in encoded 8-bit steps and the linear mean 0..1 of the areas; sigma 0 where nothing flat and unclipped is found
 * @see Immerkær 1996, "Fast noise variance estimation" (median absolute value instead of the mean, against texture)
 */
export function measureNoise(grey: Grey): { sigma: number; linearMean: number } {
  const { width: w, height: h, data } = grey;
  const blocks: { x: number; y: number; structure: number; mean: number }[] = [];
  for (let y = 2; y + BLOCK + 2 < h; y += BLOCK) {
    for (let x = 2; x + BLOCK + 2 < w; x += BLOCK) {
      const cells: number[] = [];
      for (let cy = 0; cy < 3; cy++) {
        for (let cx = 0; cx < 3; cx++) {
          let sum = 0;
          for (let v = 0; v < 8; v++) for (let u = 0; u < 8; u++) sum += data[(y + cy * 8 + v) * w + x + cx * 8 + u];
          cells.push(sum / 64);
        }
      }
      const mean = cells.reduce((a, b) => a + b, 0) / 9;
      if (mean < 2500 || mean > 60000) continue;
      blocks.push({ x, y, mean, structure: Math.max(...cells) - Math.min(...cells) });
    }
  }
  if (blocks.length === 0) return { sigma: 0, linearMean: 0 };
  blocks.sort((a, b) => a.structure - b.structure);
  const flat = blocks.slice(0, Math.max(4, Math.min(60, Math.floor(blocks.length * 0.03))));
  const responses: number[] = [];
  let mean = 0;
  for (const b of flat) {
    mean += linearOfGrey(b.mean) / flat.length;
    for (let v = 1; v < BLOCK - 1; v++) {
      for (let u = 1; u < BLOCK - 1; u++) {
        const i = (b.y + v) * w + b.x + u;
        const corners = data[i - w - 1] + data[i - w + 1] + data[i + w - 1] + data[i + w + 1];
        const sides = data[i - w] + data[i + w] + data[i - 1] + data[i + 1];
        responses.push(Math.abs(corners - 2 * sides + 4 * data[i]));
      }
    }
  }
  // the mask's gain on white noise is 6
  return { sigma: (1.4826 * quantile(responses, 0.5)) / 6 / 257, linearMean: mean };
}

const EDGE_REACH = 6;

/**
 * Width of the sharpest edges, px: contrast across an edge over its steepest slope, which for a
 * Gaussian edge is 2.507 sigma; its 10 to 90 % width is 2.563 sigma.
 * Independent of exposure and contrast. @param reach how far an edge is followed to either side, px @returns 0 where the frame has no usable edge
 */
export function measureEdgeWidth(grey: Grey, reach = EDGE_REACH): number {
  const { width: w, height: h, data } = grey;
  const widths: number[] = [];
  const tile = Math.max(24, Math.floor(Math.max(w, h) / 64));
  for (let ty = reach + 1; ty + tile < h - reach; ty += tile) {
    for (let tx = reach + 1; tx + tile < w - reach; tx += tile) {
      let best = 0;
      let at = -1;
      let across = 1;
      for (let y = ty; y < ty + tile; y += 2) {
        for (let x = tx; x < tx + tile; x++) {
          const i = y * w + x;
          const gx = Math.abs(data[i + 1] - data[i]);
          const gy = Math.abs(data[i + w] - data[i]);
          if (gx > best || gy > best) {
            best = Math.max(gx, gy);
            at = i;
            across = gx >= gy ? 1 : w;
          }
        }
      }
      if (at < 0 || best < 2500) continue;
      // walk monotonically from the steepest place to both ends of the edge
      const rising = data[at + across] > data[at - across] ? 1 : -1;
      let low = at;
      let highAt = at;
      for (let k = 0; k < reach && (data[low] - data[low - across]) * rising > 0; k++) low -= across;
      for (let k = 0; k < reach && (data[highAt + across] - data[highAt]) * rising > 0; k++) highAt += across;
      const contrast = Math.abs(data[highAt] - data[low]);
      if (data[highAt] > 64000 || data[low] > 64000) continue;
      widths.push(((2.563 / 2.507) * contrast) / best);
    }
  }
  return widths.length < 6 ? 0 : quantile(widths, 0.1);
}
