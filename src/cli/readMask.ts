import { readFileSync } from "node:fs";
import { runsOf } from "../core/masks/cellRuns";
import type { FrameRecord } from "../document/records/types";
import type { NodeEngine } from "./createNodeEngine";

/** Half of white, of 8-bit codes. */
const HALF = 128;
/** Most cells of a mask along its longest side. */
const MOST_CELLS = 1500;

/** A mask as cells that are on from half of white. */
export async function readMask(node: NodeEngine, path: string, picture: FrameRecord): Promise<{ cellPx: number; runs: number[] }> {
  const { width, height, codes } = await node.ask("readCodes", { bytes: new Uint8Array(readFileSync(path)) });
  if (width !== picture.width || height !== picture.height)
    throw new Error(`${path}: ${width}×${height} px, but the picture has ${picture.width}×${picture.height}.`);
  const cellPx = Math.max(1, Math.ceil(Math.max(width, height) / MOST_CELLS));
  const [columns, rows] = [Math.ceil(width / cellPx), Math.ceil(height / cellPx)];
  const at = (k: number) => {
    const [x, y] = [(k % columns) * cellPx + (cellPx >> 1), Math.floor(k / columns) * cellPx + (cellPx >> 1)];
    return codes[Math.min(height - 1, y) * width + Math.min(width - 1, x)] >= HALF;
  };
  return {
    cellPx,
    runs: runsOf(
      Array.from({ length: columns * rows }, (_, k) => at(k)),
      columns,
      rows,
    ),
  };
}
