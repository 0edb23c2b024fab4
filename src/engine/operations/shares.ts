import type { EngineContext } from "../EngineContext";
import type { Task } from "../task";
import type { RasterFile } from "../tiles/RasterStore";

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

/** Share of the whole picture that each frame gave, 0..1. */
export async function totalShares(shares: RasterFile, task: Task): Promise<number[]> {
  const { width, height, channels } = shares.spec;
  const totals: number[] = [];
  const plane = new Uint8Array(width * height);
  for (let k = 0; k < channels; k++) {
    await task.step(k, channels, "Counting what each frame gave");
    shares.read(0, k, 0, 0, width, height, plane);
    totals.push(plane.reduce((a, b) => a + b, 0));
  }
  const all = totals.reduce((a, b) => a + b, 0);
  return totals.map((t) => (all > 0 ? t / all : 0));
}
