import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";

/** Side of a cell of the shares, px. */
export const SHARE_CELL = 4;

export function shareSize(width: number, height: number): { width: number; height: number } {
  return { width: Math.ceil(width / SHARE_CELL), height: Math.ceil(height / SHARE_CELL) };
}

/** Writes what one frame gave in rows from y0 (a multiple of SHARE_CELL) as means of cells, 0..255. @param plane kernel address of 0..1 */
export function writeShares(ctx: EngineContext, shares: RasterFile, frame: number, plane: number, width: number, y0: number, rows: number): void {
  const { kernels } = ctx;
  const cells = shareSize(width, rows);
  kernels.withScope((scope) => {
    const out = scope.bytes(cells.width * cells.height);
    kernels.run("shareRows", [plane, width, rows, out], 0, cells.height);
    shares.write(0, frame, y0 / SHARE_CELL, kernels.u8(out, cells.width * cells.height));
  });
}

/** The same for all frames at once where each sample is of one frame or of none; a label is the number of the frame. */
export function writeLabelShares(shares: RasterFile, label: Uint8Array, width: number, y0: number, rows: number): void {
  const cells = shareSize(width, rows);
  const planes = Array.from({ length: shares.spec.channels }, () => new Uint8Array(cells.width * cells.height));
  const counts = new Uint16Array(256);
  for (let cy = 0, cell = 0; cy < cells.height; cy++) {
    const top = cy * SHARE_CELL;
    const bottom = Math.min(rows, top + SHARE_CELL);
    for (let cx = 0; cx < cells.width; cx++, cell++) {
      const left = cx * SHARE_CELL;
      const right = Math.min(width, left + SHARE_CELL);
      const first = label[top * width + left];
      let all = right - left === SHARE_CELL;
      for (let y = top, p = top * width + left; y < bottom && all; y++, p += width) {
        all = label[p] === first && label[p + 1] === first && label[p + 2] === first && label[p + 3] === first;
      }
      if (all) {
        if (first < planes.length) planes[first][cell] = 255;
        continue;
      }
      for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) counts[label[y * width + x]]++;
      planes.forEach((plane, k) => {
        if (counts[k]) plane[cell] = Math.round((255 * counts[k]) / ((bottom - top) * (right - left)));
      });
      counts.fill(0);
    }
  }
  planes.forEach((plane, k) => shares.write(0, k, y0 / SHARE_CELL, plane));
}

/** Share of the whole picture that each frame gave, 0..1. */
export async function totalShares(shares: RasterFile, task: Task): Promise<number[]> {
  const { width, height, channels } = shares.spec;
  const totals: number[] = [];
  const plane = new Uint8Array(width * height);
  for (let k = 0; k < channels; k++) {
    await task.step(k, channels, "task.countingShares");
    shares.read(0, k, 0, 0, width, height, plane);
    let sum = 0;
    for (let i = 0; i < plane.length; i++) sum += plane[i];
    totals.push(sum);
  }
  const all = totals.reduce((a, b) => a + b, 0);
  return totals.map((t) => (all > 0 ? t / all : 0));
}
