import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import type { Effect } from "../../../document/history";
import { stripRows } from "../../../document/layerReach";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeRect, prepareJob } from "../layers/compose";
import { each } from "../frames/frameSamples";

const SIDE = 1024;
/** ΔE2000 below this is not counted as a change. */
const VISIBLE = 0.5;

/** What a step did, at a fixed level of about 1024 px: share of the picture changed and by how much. Null where the two cannot be compared. */
export async function measureEffect(ctx: EngineContext, before: Records, after: Records, task: Task): Promise<Effect | null> {
  const p = await prepareJob(ctx, before, task);
  const q = await prepareJob(ctx, after, task);
  if (p.inputs.width !== q.inputs.width || p.inputs.height !== q.inputs.height) return null;
  const level = levelOfSide(p.inputs, SIDE);
  const { width, height } = sizeAtLevel(p.inputs.width, p.inputs.height, level);
  let changed = 0;
  let sum = 0;
  let counted = 0;
  const rows = Math.max(stripRows(before, level), stripRows(after, level));
  for (let y = 0; y < height; y += rows) {
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    const n = width * rect.height;
    ctx.kernels.withScope((scope) => {
      const a = each(composeRect(ctx, p, level, rect, "finish", scope)).map((at) => ctx.kernels.f32(at, n));
      const b = each(composeRect(ctx, q, level, rect, "finish", scope)).map((at) => ctx.kernels.f32(at, n));
      // every second pixel is enough for a share and a mean
      for (let i = y % 2; i < n; i += 2) {
        counted++;
        if (a[0][i] === b[0][i] && a[1][i] === b[1][i] && a[2][i] === b[2][i]) continue;
        const clip = (v: number) => Math.min(1, Math.max(0, v));
        const delta = differenceCiede2000(workingToLab(a.map((s) => clip(s[i]))), workingToLab(b.map((s) => clip(s[i]))));
        if (delta > VISIBLE) {
          changed++;
          sum += delta;
        }
      }
    });
    await task.step(y, height, "Measuring the effect");
  }
  return { share: changed / counted, meanDeltaE: changed ? sum / changed : 0 };
}
