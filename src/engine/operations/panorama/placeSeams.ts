import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { differenceCiede2000, workingToLab, type Lab } from "../../../core/color/colorDifference";
import { NOBODY } from "../../../core/merge/frameShares";
import { findSeams, spreadLabels, type SeamFrame } from "../../../core/panorama/findSeams";
import { overlapOf, rayOf } from "../../../core/panorama/camera";
import { viewMap } from "../../../core/panorama/layout";
import type { SeamFacts } from "../../../document/records/panoramaTypes";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { coverageOfGrid } from "./projectFrame";
import { readProjected } from "./panoramaInputs";
import type { MergeInputs } from "../merge/mergeTypes";
import type { PanoramaParts } from "./PanoramaParts";

/** Px of the grid that seams are found on. */
const MOST_SAMPLES = 260_000;
/** Px of that grid inside a frame's border that seams keep away from where they can. */
const RIM = 3;

/** Which frame each px is taken from, at a display level of the picture. */
export interface Seams {
  level: number;
  width: number;
  height: number;
  /** frame by px; every px has one, also where nobody sees anything */
  label: Uint8Array;
  facts: SeamFacts[];
}

/** Finds the seams of a panorama and measures how visible they would be without blending. */
export async function placeSeams(ctx: EngineContext, inputs: MergeInputs, parts: PanoramaParts, task: Task): Promise<Seams> {
  const { view } = parts;
  const level = Math.max(0, Math.ceil(Math.log2((view.width * view.height) / MOST_SAMPLES) / 2));
  const { width, height } = sizeAtLevel(view.width, view.height, level);
  const frames: (SeamFrame | null)[] = [];
  for (const k of parts.projected.keys()) {
    await task.step(0.5 * k, parts.projected.length, "task.findingSeams");
    frames.push(seamFrame(ctx, inputs, parts, k, level, width, height));
  }
  const rest = portion(task, 0.5, 1);
  const found = await findSeams(width, height, frames, orderOf(parts), (done) => rest.step(done, 1, "task.findingSeams"));
  return { level, width, height, label: spreadLabels(found, width, height), facts: factsOf(found, frames, inputs, width, level) };
}

/** From the frame that overlaps most others on, always the one that overlaps those before it most. */
function orderOf({ projected }: PanoramaParts): number[] {
  const n = projected.length;
  const shared = projected.map((p, a) => projected.map((q, b) => (a === b ? 0 : overlapOf(p.camera, q.camera))));
  const total = shared.map((row) => row.reduce((sum, v) => sum + v, 0));
  const order = [total.indexOf(Math.max(...total))];
  while (order.length < n) {
    let [best, most] = [-1, -1];
    for (let i = 0; i < n; i++) {
      if (order.includes(i)) continue;
      const share = order.reduce((sum, j) => sum + shared[i][j], 0);
      if (share > most) [best, most] = [i, share];
    }
    order.push(best);
  }
  return order;
}

/** A frame on the grid, over the rectangle that it covers. */
function seamFrame(
  ctx: EngineContext,
  { frames }: MergeInputs,
  parts: PanoramaParts,
  k: number,
  level: number,
  width: number,
  height: number,
): SeamFrame | null {
  const { view, projected } = parts;
  const { camera } = projected[k];
  const { toPixel } = viewMap(view);
  const s = 2 ** -level;
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  const N = 24;
  for (let j = 0; j <= N; j++) {
    for (let i = 0; i <= N; i++) {
      const p = toPixel(rayOf(camera, (i / N) * (camera.width - 1), (j / N) * (camera.height - 1)));
      if (!p) continue;
      [x0, x1] = [Math.min(x0, p[0] * s), Math.max(x1, p[0] * s)];
      [y0, y1] = [Math.min(y0, p[1] * s), Math.max(y1, p[1] * s)];
    }
  }
  const x = Math.max(0, Math.floor(x0) - 2);
  const y = Math.max(0, Math.floor(y0) - 2);
  const rect = { x, y, width: Math.min(width, Math.ceil(x1) + 3) - x, height: Math.min(height, Math.ceil(y1) + 3) - y };
  if (rect.width < 1 || rect.height < 1) return null;
  const n = rect.width * rect.height;
  return ctx.kernels.withScope((scope) => {
    const { planes, grid, size } = readProjected(scope, parts, frames[k].color, k, level, rect);
    for (const plane of each(planes)) ctx.kernels.run("rootSamples", [plane], 0, planes.length, 65536);
    const seen = new Uint8Array(n);
    const well = new Uint8Array(n);
    coverageOfGrid(grid, size, seen);
    coverageOfGrid(grid, size, well, RIM);
    for (let i = 0; i < n; i++) seen[i] += well[i];
    const copies = each(planes).map((plane) => ctx.kernels.f32(plane, n).slice()) as SeamFrame["planes"];
    return { ...rect, planes: copies, seen };
  });
}

/** Every pair of frames that meet, with the colour difference between them where they do. */
function factsOf(label: Uint8Array, frames: (SeamFrame | null)[], inputs: MergeInputs, width: number, level: number): SeamFacts[] {
  const seams = new Map<string, { a: number; b: number; sum: number; n: number; worst: SeamFacts["worst"] }>();
  const scale = 2 ** level;
  const meet = (i: number, j: number) => {
    const [p, q] = [label[i], label[j]];
    if (p === q || p === NOBODY || q === NOBODY) return;
    const [a, b] = p < q ? [p, q] : [q, p];
    const [x, y] = [i % width, Math.floor(i / width)];
    const [first, second] = [colorAt(frames[a], x, y), colorAt(frames[b], x, y)];
    if (!first || !second) return;
    const deltaE = differenceCiede2000(first, second);
    const key = `${a}-${b}`;
    const seam = seams.get(key) ?? { a, b, sum: 0, n: 0, worst: { x: 0, y: 0, deltaE: -1 } };
    seam.sum += deltaE;
    seam.n++;
    if (deltaE > seam.worst.deltaE) seam.worst = { x: Math.round((x + 0.5) * scale), y: Math.round((y + 0.5) * scale), deltaE };
    seams.set(key, seam);
  };
  for (let i = 0; i < label.length; i++) {
    if ((i % width) + 1 < width) meet(i, i + 1);
    if (i + width < label.length) meet(i, i + width);
  }
  const id = (k: number) => inputs.frames[k].frame.id;
  return [...seams.values()]
    .map(({ a, b, sum, n, worst }) => ({ aId: id(a), bId: id(b), lengthPx: n * scale, deltaE: sum / n, worst }))
    .sort((p, q) => q.deltaE - p.deltaE);
}

/** Px about a seam over which a step is measured, so that noise is none. */
const AROUND = 2;

/** L*a*b* of a frame about a px of the grid, as a screen would show it; null where it does not see all of it. */
function colorAt(frame: SeamFrame | null, x: number, y: number): Lab | null {
  if (!frame) return null;
  const [u, v] = [x - frame.x, y - frame.y];
  if (u < AROUND || v < AROUND || u >= frame.width - AROUND || v >= frame.height - AROUND) return null;
  const sum = [0, 0, 0];
  for (let j = v - AROUND; j <= v + AROUND; j++) {
    for (let i = j * frame.width + u - AROUND; i <= j * frame.width + u + AROUND; i++) {
      if (!frame.seen[i]) return null;
      // squares of the roots: working light, clipped as a screen clips
      for (let c = 0; c < 3; c++) sum[c] += Math.min(1, Math.max(0, frame.planes[c][i]) ** 2);
    }
  }
  return workingToLab(sum.map((v) => v / (2 * AROUND + 1) ** 2));
}
