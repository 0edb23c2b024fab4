import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { intersect, levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Effect } from "../../../document/history";
import { finestChange } from "../../../document/finestChange";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { hashOf } from "../../graph/keys";
import type { Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob } from "../layers/compose";
import { readyCutouts } from "../matte/cutouts";
import type { PreparedJob } from "../layers/PreparedJob";
import { stackKey } from "../layers/stackKeys";

const SIDE = 1024;
/** ΔE2000 below this is not counted as a change. */
const VISIBLE = 0.5;
/** Side of the places that are looked at, samples, and how many of those that may have changed. */
const PLACE = 128;
const MOST_PLACES = 60;
/** Pixels that are enough for a share and a mean. */
const MOST_SAMPLES = 60_000;

/**
 * What a step did: the share of the picture that changed and by how much. It is looked at at about 1024 px, or finer where the step works on finer detail, in
 * places spread over all that may have changed; what the keys of a place say is the same is not looked at. Null where the two cannot be compared.
 * @param sure whether all that may have changed is looked at before nothing is said to
 */
export async function measureEffect(ctx: EngineContext, before: Records, after: Records, task: Task, sure = false): Promise<Effect | null> {
  const p = await prepareJob(ctx, before, task);
  const q = await prepareJob(ctx, after, task);
  if (p.inputs.width !== q.inputs.width || p.inputs.height !== q.inputs.height) return null;
  const overview = levelOfSide(p.inputs, SIDE);
  const level = Math.max(0, Math.min(overview, Math.floor(Math.log2(finestChange(before, after)))));
  for (const job of [p, q]) await readyCutouts(job, level, task);
  const { width, height } = sizeAtLevel(p.inputs.width, p.inputs.height, level);
  const all = placesOf(width, height);
  const changed = all.filter((rect) => placeKey(p, level, rect) !== placeKey(q, level, rect));
  const looked = evenly(changed, MOST_PLACES);
  const rest = sure ? changed.filter((rect) => !looked.includes(rect)) : [];
  const area = (of: Rectangle[]) => of.reduce((total, r) => total + r.width * r.height, 0);
  // odd, so that columns take turns
  const stride = Math.max(1, Math.floor(area(looked) / MOST_SAMPLES)) | 1;
  let [visible, sum, counted] = [0, 0, 0];
  for (const [i, rect] of [...looked, ...rest].entries()) {
    if (i >= looked.length && visible > 0) break;
    await task.step(i, looked.length + rest.length, "task.effect");
    const seen = differencesIn(ctx, p, q, level, rect, stride);
    counted += seen.counted;
    visible += seen.visible;
    sum += seen.sum;
  }
  return { share: counted ? (visible / counted) * (area(changed) / (width * height)) : 0, meanDeltaE: visible ? sum / visible : 0 };
}

/** Visible differences of two jobs in a rectangle. @param stride one of so many pixels is looked at */
function differencesIn(
  ctx: EngineContext,
  p: PreparedJob,
  q: PreparedJob,
  level: number,
  rect: Rectangle,
  stride: number,
): { counted: number; visible: number; sum: number } {
  const n = rect.width * rect.height;
  const clip = (v: number) => Math.min(1, Math.max(0, v));
  let [visible, sum, counted] = [0, 0, 0];
  ctx.kernels.withScope((scope) => {
    const [a, b] = [p, q].map((job) => each(composeRect(ctx, job, level, rect, "finish", scope)).map((at) => ctx.kernels.f32(at, n)));
    for (let k = 0; k < n; k += stride) {
      counted++;
      if (a[0][k] === b[0][k] && a[1][k] === b[1][k] && a[2][k] === b[2][k]) continue;
      const delta = differenceCiede2000(workingToLab(a.map((s) => clip(s[k]))), workingToLab(b.map((s) => clip(s[k]))));
      if (delta <= VISIBLE) continue;
      visible++;
      sum += delta;
    }
  });
  return { counted, visible, sum };
}

function placesOf(width: number, height: number): Rectangle[] {
  const out: Rectangle[] = [];
  for (let y = 0; y < height; y += PLACE)
    for (let x = 0; x < width; x += PLACE) out.push(intersect({ x, y, width: PLACE, height: PLACE }, { x: 0, y: 0, width, height }));
  return out;
}

/** Everything that a place of the finished picture depends on. */
function placeKey(job: PreparedJob, level: number, rect: Rectangle): string {
  return hashOf([job.method, stackKey(job, { level, rect })]);
}

/** So many of a list, spread evenly over it. */
function evenly<T>(list: T[], most: number): T[] {
  if (list.length <= most) return list;
  return Array.from({ length: most }, (_, i) => list[Math.floor(((i + 0.5) * list.length) / most)]);
}
