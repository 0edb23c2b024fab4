import { message } from "../../../messages/message";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { toFrame } from "../../../core/geometry/lens";
import { invert, project } from "../../../core/geometry/matrix3";
import { intersect, levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { findSpots } from "../../../core/retouch/findDust";
import { findTwins, type Twin } from "../../../core/retouch/findTwins";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { layersOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composedLight } from "../layers/composedLight";
import { each } from "../frames/frameSamples";
import { finding, type Finding } from "../../../document/finding";
import { maskBounds } from "./retouch";
import { readLayer } from "../merge/readLayer";
import type { MergeFrame } from "../merge/mergeTypes";
import type { PreparedJob } from "../layers/PreparedJob";

/** Longest side of the level on which repeated patches are looked for. */
const TWIN_SIDE = 2000;
const DARKEST = 1e-5;
const STRIP = 512;

/** Patches that stand twice in the picture, px of the reference. */
export async function findTwinPatches(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Twin[]> {
  const { width: w, height: h } = job.inputs;
  const level = levelOfSide(job.inputs, TWIN_SIDE);
  const size = sizeAtLevel(w, h, level);
  const light = await composedLight(ctx, job, level, { x: 0, y: 0, ...size }, task);
  const twins = findTwins({ ...size, data: greyOf(light) });
  const s = 2 ** level;
  return twins.map((t) => ({ ax: t.ax * s, ay: t.ay * s, bx: t.bx * s, by: t.by * s, radius: t.radius * s, count: t.count }));
}

/** Longest side of what is looked at around one retouch, px at full size before a coarser level is taken. */
const NEAR_SIDE = 700;
const NEAR_MARGIN = 24;

/** Patches that a retouch makes stand twice: its area with its source, or what lies around a filled area. */
export async function findTwinsOf(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<Twin[]> {
  const { content } = layer;
  const area = maskBounds(ctx, job, layer);
  if (content.type !== "retouch" || content.method === "smooth" || !area) return [];
  const around = content.method === "fill" ? Math.max(area.width, area.height) : 0;
  const [dx, dy] = content.method === "fill" ? [0, 0] : [content.dx, content.dy];
  const [x, y] = [Math.min(area.x, area.x + dx) - NEAR_MARGIN - around, Math.min(area.y, area.y + dy) - NEAR_MARGIN - around];
  const [width, height] = [area.width + Math.abs(dx) + 2 * (NEAR_MARGIN + around), area.height + Math.abs(dy) + 2 * (NEAR_MARGIN + around)];
  const level = levelOfSide({ width, height }, NEAR_SIDE);
  const s = 2 ** level;
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rect = intersect({ x: Math.floor(x / s), y: Math.floor(y / s), width: Math.ceil(width / s), height: Math.ceil(height / s) }, { x: 0, y: 0, ...size });
  const twins = findTwins({ width: rect.width, height: rect.height, data: greyOf(await composedLight(ctx, job, level, rect, task)) });
  return twins.map((t) => ({ ...t, ax: (t.ax + rect.x) * s, ay: (t.ay + rect.y) * s, bx: (t.bx + rect.x) * s, by: (t.by + rect.y) * s, radius: t.radius * s }));
}

const greyOf = (light: Float32Array) => light.map((v) => encodeSrgb(Math.min(1, 2 ** v)));

/** Patches that stand twice, as findings, where some layer clones or fills. */
export async function twinFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const copies = layersOf(job.records).filter((l) => l.visible && l.content.type === "retouch" && l.content.method !== "smooth");
  if (copies.length === 0) return [];
  const toOutput = invert(outputToReference(outputGeometry(job.records), job.inputs));
  const { crop } = outputGeometry(job.records);
  return (await findTwinPatches(ctx, job, task)).map((t, k): Finding => {
    const [x, y] = project(toOutput, t.bx, t.by);
    const [u, v] = project(toOutput, t.ax, t.ay);
    const r = 1.5 * t.radius;
    const values = { number: k + 1, apartPx: Math.round(Math.hypot(x - u, y - v)), details: t.count };
    return finding("twins", values, {
      id: `twins-${Math.round(t.ax / 16)}-${Math.round(t.ay / 16)}-${Math.round(t.bx / 16)}-${Math.round(t.by / 16)}`,
      place: { x: Math.round(x - r), y: Math.round(y - r), width: Math.round(2 * r), height: Math.round(2 * r) },
      share: (4 * r * r) / (crop.width * crop.height),
      weight: 0.5,
      cause: "compose",
      remedy: { kind: "show" },
    });
  });
}

/** A speck that is likely dust, px of the reference. */
export interface DustSpot {
  x: number;
  y: number;
  radiusPx: number;
  contrastEv: number;
  /** 0..1 */
  certainty: number;
  /** other frames that show it at the same place of the sensor, of those in which the scene lies elsewhere there */
  frames: number;
  of: number;
}

const DUST_LEVELS = 3;
const MOST_SPOTS = 400;
/** Frames that are compared with the reference, and samples that strips overlap by so that no speck is cut. */
const MOST_OTHERS = 4;
const OVERLAP = 16;
/** Two finds nearer than this many radii are one. */
const SAME = 1.5;

/** Specks of the reference frame, those first that stand at the same place of the sensor in other frames too. */
export async function findDust(ctx: EngineContext, job: PreparedJob, task: Task): Promise<DustSpot[]> {
  const { frames, reference, panorama } = job.inputs;
  if (panorama) return [];
  const own = await specksOf(ctx, job, frames[reference], task);
  const others = frames.filter((_, i) => i !== reference).slice(0, MOST_OTHERS);
  const seen: DustSpot[][] = [];
  for (const other of others) seen.push(await specksOf(ctx, job, other, task));
  return own
    .map((spot): DustSpot => {
      // a place of the sensor is the same px of every frame as shot; the reference is placed as shot
      const [u, v] = [spot.x, spot.y];
      const near = SAME * Math.max(3, spot.radiusPx);
      // where the scene lies at the same place of both frames, what stands in it does so too: that says nothing
      const telling = others.map(({ inverse, lens, frame }) => {
        const [a, b] = toFrame(inverse, lens, frame, u, v);
        return Math.hypot(a - u, b - v) > 2 * near;
      });
      const of = telling.filter((t) => t).length;
      const hits = others.filter((frame, k) => {
        if (!telling[k]) return false;
        return seen[k].some((s) => {
          const [a, b] = toFrame(frame.inverse, frame.lens, frame.frame, s.x, s.y);
          return Math.hypot(a - u, b - v) < near;
        });
      }).length;
      const alike = of ? (hits / of) * 0.5 : 0.25;
      return { ...spot, certainty: Math.min(1, spot.certainty * 0.5 + alike), frames: hits, of };
    })
    .sort((a, b) => b.certainty - a.certainty || b.contrastEv - a.contrastEv)
    .slice(0, MOST_SPOTS);
}

async function specksOf(ctx: EngineContext, job: PreparedJob, frame: MergeFrame, task: Task): Promise<DustSpot[]> {
  const { kernels } = ctx;
  const out: DustSpot[] = [];
  for (let level = 0; level < DUST_LEVELS; level++) {
    const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
    for (let y = 0; y < size.height; y += STRIP) {
      await task.step(y + level * size.height, DUST_LEVELS * size.height, message("task.specks", { name: frame.frame.fileName }));
      const rect = intersect({ x: 0, y: y - OVERLAP, width: size.width, height: STRIP + 2 * OVERLAP }, { x: 0, y: 0, ...size });
      const light = kernels.withScope((scope) => {
        const planes = readLayer(scope, frame, level, rect, 0);
        const at = scope.floats(planes.length + 16);
        kernels.run("logLightSamples", [...each(planes), at, DARKEST], 0, planes.length, 16384);
        return kernels.f32(at, rect.width * rect.height).slice();
      });
      const s = 2 ** level;
      for (const spot of findSpots(light, rect.width, rect.height)) {
        const row = rect.y + spot.y;
        if (row < y || row >= y + STRIP) continue;
        const [px, py] = [(spot.x + 0.5) * s - 0.5, (row + 0.5) * s - 0.5];
        if (out.some((o) => Math.hypot(o.x - px, o.y - py) < SAME * spot.radius * s)) continue;
        out.push({ x: px, y: py, radiusPx: spot.radius * s, contrastEv: spot.contrastEv, certainty: 1 - Math.exp(-spot.clear / 8), frames: 0, of: 0 });
      }
    }
  }
  return out;
}
