import type { MotionRegion } from "../../document/records/types";
import { frameNumber } from "../../document/selectors";
import type { EngineContext } from "../EngineContext";
import type { PreparedJob } from "./compose";
import { allocatePlanes, readLinear } from "./frameSamples";
import { outputGeometry } from "../../document/outputGeometry";

const CELL = 4;
/** Cells whose exposure-normalised light differs by more than this are taken as changed. Common practice, no source. */
const THRESHOLD_EV = 0.4;
const FEWEST_CELLS = 6;

/** Finds where neighbours of the ladder disagree after equal exposure: something moved. Measured on cells, so that a fraction of a pixel of misfit does not count. */
export function detectMotion(ctx: EngineContext, job: PreparedJob): MotionRegion[] {
  const { width, height, frames } = job.inputs;
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / 1400)));
  const size = { width: Math.ceil(width / 2 ** level), height: Math.ceil(height / 2 ** level) };
  const columns = Math.floor(size.width / CELL);
  const rows = Math.floor(size.height / CELL);
  const order = frames.map((_, i) => i).sort((a, b) => frames[a].relativeEv - frames[b].relativeEv);
  const cells = new Map<number, Float32Array>();
  const cellsOf = (k: number): Float32Array => {
    let found = cells.get(k);
    if (!found) {
      found = cellMeans(ctx, job, k, level, size, columns, rows);
      cells.set(k, found);
      if (cells.size > 2) cells.delete(cells.keys().next().value!);
    }
    return found;
  };
  const found: MotionRegion[] = [];
  const inside = outputGeometry(job.records).crop;
  const whole = (c: Component, scale: number) =>
    c.x0 * scale >= inside.x && c.y0 * scale >= inside.y && (c.x1 + 1) * scale <= inside.x + inside.width && (c.y1 + 1) * scale <= inside.y + inside.height;
  for (let n = 0; n + 1 < order.length; n++) {
    const [a, b] = [order[n], order[n + 1]];
    const [p, q] = [cellsOf(a), cellsOf(b)];
    const gain = 2 ** (frames[b].relativeEv - frames[a].relativeEv);
    const changed = new Uint8Array(columns * rows);
    for (let i = 0; i < changed.length; i++) {
      if (p[i] > 0 && q[i] > 0 && Math.abs(Math.log2(q[i] / (p[i] * gain))) > THRESHOLD_EV) changed[i] = 1;
    }
    for (const region of components(changed, columns, rows)) {
      const scale = CELL * 2 ** level;
      if (region.count < FEWEST_CELLS || !whole(region, scale)) continue;
      found.push({
        rectangle: { x: region.x0 * scale, y: region.y0 * scale, width: (region.x1 - region.x0 + 1) * scale, height: (region.y1 - region.y0 + 1) * scale },
        frames: [frameNumber(job.records, frames[a].frame.id), frameNumber(job.records, frames[b].frame.id)].sort((x, y) => x - y) as [number, number],
        areaPx: region.count * scale * scale,
      });
    }
  }
  return found.sort((a, b) => b.areaPx - a.areaPx).slice(0, 24);
}

/** Mean linear green of each cell; −1 where a part of the cell is clipped or too dark to compare. */
function cellMeans(
  ctx: EngineContext,
  job: PreparedJob,
  k: number,
  level: number,
  size: { width: number; height: number },
  columns: number,
  rows: number,
): Float32Array {
  const input = job.inputs.frames[k];
  const out = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    ctx.kernels.withScope((scope) => {
      const rect = { x: 0, y: row * CELL, width: size.width, height: CELL };
      const planes = allocatePlanes(scope, size.width * CELL);
      readLinear(scope, input.file, input.color, level, rect, planes);
      const green = ctx.kernels.f32(planes.g, planes.length);
      for (let x = 0; x < columns; x++) {
        let sum = 0;
        let usable = true;
        for (let v = 0; v < CELL; v++) {
          for (let u = 0; u < CELL; u++) {
            const value = green[v * size.width + x * CELL + u];
            if (value > 0.85 || value < 0.003) usable = false;
            sum += value;
          }
        }
        out[row * columns + x] = usable ? sum / (CELL * CELL) : -1;
      }
    });
  }
  return out;
}

export interface Component {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  count: number;
}

/** Connected areas (eight neighbours) of a binary grid. */
export function components(on: Uint8Array, columns: number, rows: number): Component[] {
  const seen = new Uint8Array(on.length);
  const found: Component[] = [];
  const stack: number[] = [];
  for (let start = 0; start < on.length; start++) {
    if (!on[start] || seen[start]) continue;
    const c: Component = { x0: columns, y0: rows, x1: 0, y1: 0, count: 0 };
    stack.push(start);
    seen[start] = 1;
    while (stack.length) {
      const i = stack.pop()!;
      const x = i % columns;
      const y = (i - x) / columns;
      c.count++;
      c.x0 = Math.min(c.x0, x);
      c.x1 = Math.max(c.x1, x);
      c.y0 = Math.min(c.y0, y);
      c.y1 = Math.max(c.y1, y);
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy];
          const j = v * columns + u;
          if (u < 0 || v < 0 || u >= columns || v >= rows || !on[j] || seen[j]) continue;
          seen[j] = 1;
          stack.push(j);
        }
      }
    }
    found.push(c);
  }
  return found;
}
