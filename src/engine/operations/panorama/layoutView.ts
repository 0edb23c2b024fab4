import { Refusal } from "../../../core/refusal";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { PanoramaView } from "../../../core/panorama/layout";
import type { Records } from "../../../document/records/types";
import { panoramaOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, each, type Planes } from "../frames/frameSamples";
import { openPanoramaInputs, readProjected } from "./panoramaInputs";
import { GRID_STEP, type NodeGrid } from "./projectFrame";
import type { MergeInputs } from "../merge/mergeTypes";

/** A panorama laid out but not joined: frames give way to each other evenly. @param view how it would be shown; null: as it is */
export async function openLayout(ctx: EngineContext, records: Records, view: PanoramaView | null): Promise<MergeInputs> {
  const panorama = panoramaOf(records);
  if (!panorama) throw new Refusal("notPanorama", "panorama.notOne");
  return openPanoramaInputs(ctx, records, view ? { ...panorama, view } : panorama);
}

/** Working light of a rectangle of a level; each frame counts by how far inside its border a px lies. */
export function layoutPlanes({ frames, panorama }: MergeInputs, level: number, rect: Rectangle, scope: Scope): Planes {
  const { kernels } = scope;
  const n = rect.width * rect.height;
  const out = allocatePlanes(scope, n);
  const sums = each(out).map((at) => kernels.f32(at, n).fill(0));
  const total = new Float32Array(n);
  const weight = new Float32Array(n);
  for (const k of frames.keys()) {
    kernels.withScope((inner) => {
      const { planes, grid, size } = readProjected(inner, panorama!, frames[k].color, k, level, rect);
      if (!weigh(grid, size, weight)) return;
      each(planes).forEach((at, c) => {
        const light = kernels.f32(at, n);
        const sum = sums[c];
        for (let i = 0; i < n; i++) sum[i] += weight[i] * light[i];
      });
      for (let i = 0; i < n; i++) total[i] += weight[i];
    });
  }
  for (const sum of sums) for (let i = 0; i < n; i++) sum[i] = total[i] > 0 ? sum[i] / total[i] : 0;
  return out;
}

/** How far inside a frame's border each px lies, cubed, 0 outside. @returns whether any lies inside */
function weigh({ rect, columns, nodes }: NodeGrid, size: { width: number; height: number }, out: Float32Array): boolean {
  let some = false;
  const [w, h] = [size.width - 1, size.height - 1];
  for (let y = 0, p = 0; y < rect.height; y++) {
    const j = Math.floor(y / GRID_STEP);
    const b = (y - j * GRID_STEP) / GRID_STEP;
    for (let x = 0; x < rect.width; x++, p++) {
      const i = Math.floor(x / GRID_STEP);
      const t = (x - i * GRID_STEP) / GRID_STEP;
      const a = (j * columns + i) * 2;
      const c = a + columns * 2;
      const u = (nodes[a] * (1 - t) + nodes[a + 2] * t) * (1 - b) + (nodes[c] * (1 - t) + nodes[c + 2] * t) * b;
      const v = (nodes[a + 1] * (1 - t) + nodes[a + 3] * t) * (1 - b) + (nodes[c + 1] * (1 - t) + nodes[c + 3] * t) * b;
      const inside = Math.min(u / w, 1 - u / w, v / h, 1 - v / h);
      // also false where a node cannot be seen
      out[p] = inside > 0 ? inside ** 3 + 1e-6 : 0;
      some ||= inside > 0;
    }
  }
  return some;
}
