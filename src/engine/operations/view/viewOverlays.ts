import { cutInto, gridAround } from "../../../core/raster/planeParts";
import { FRAME_COLORS } from "../../../core/color/frameColors";
import { CELL } from "../../../core/focus/sharpness";
import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { RESIDUAL_EV } from "../../../core/retouch/findRemnants";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { layerOf, layersOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { noiseOfRectangle } from "../merge/confidence";
import { NOBODY } from "../../../core/merge/frameShares";
import { maskPlane } from "../masks/maskPlane";
import { residualLight } from "../retouch/remnants";
import type { ViewSpec } from "./ViewSpec";
import type { PreparedJob } from "../layers/PreparedJob";

/** Draws what a view shows over the picture, or in its place. */
export function overlay(ctx: EngineContext, job: PreparedJob, view: ViewSpec, level: number, rect: Rectangle, bytes: Uint8ClampedArray): void {
  if (view.kind === "provenance" || (view.kind === "merge" && job.method === "radiance")) {
    const index = new Uint8Array(rect.width * rect.height);
    job.merge.dominant.read(level, 0, rect.x, rect.y, rect.width, rect.height, index);
    if (view.kind === "provenance") tint(index, bytes);
    // the surround shows through
    index.forEach((k, i) => k === NOBODY && (bytes[i * 4 + 3] = 0));
  }
  if (view.kind === "compose" && job.method === "radiance") clearUnlit(ctx, job, level, rect, bytes);
  if (view.kind === "confidence") drawConfidence(noiseOfRectangle(job, level, rect), rect, bytes);
  if (view.kind === "depth" && job.merge.depth) drawDepth(job.merge.depth, job.inputs.frames.length, level, rect, bytes);
  if (view.kind === "mask") {
    const layer = layerOf(job.records, view.layerId);
    if (!layer) return;
    if (view.as === "edge") {
      drawEdge(ctx, job, layer, level, rect, bytes);
      return;
    }
    const mask = maskPlane(ctx, job, layer, level, rect);
    for (let i = 0; i < mask.length; i++) {
      const m = mask[i];
      if (view.as === "alone") {
        for (let c = 0; c < 3; c++) bytes[i * 4 + c] = m * 255;
        continue;
      }
      // fine diagonal hatch over what is concealed
      const x = rect.x + (i % rect.width);
      const y = rect.y + Math.floor(i / rect.width);
      const phase = (x + y) & 7;
      const tone = phase < 2 ? 230 : phase < 4 ? 30 : -1;
      if (tone >= 0) for (let c = 0; c < 3; c++) bytes[i * 4 + c] += (tone - bytes[i * 4 + c]) * 0.45 * (1 - m);
    }
  }
}

/** Layers that show something of their own; the others change what is there. */
const SHOW = ["frame", "fill", "retouch"];

/** Side of a square that is looked at by itself, samples. */
const SQUARE = 64;

/** Where no frame has light for the merge the surround shows through, but for what a layer lays there. */
function clearUnlit(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, bytes: Uint8ClampedArray): void {
  const index = new Uint8Array(rect.width * rect.height);
  job.merge.dominant.read(level, 0, rect.x, rect.y, rect.width, rect.height, index);
  if (!index.includes(NOBODY)) return;
  const showing = layersOf(job.records).filter((l) => l.visible && l.opacity > 0 && SHOW.includes(l.content.type));
  // such places are a rim; masks are read there alone
  for (let y = 0; y < rect.height; y += SQUARE) {
    for (let x = 0; x < rect.width; x += SQUARE) {
      const square = { x, y, width: Math.min(SQUARE, rect.width - x), height: Math.min(SQUARE, rect.height - y) };
      const given = new Uint8Array(square.width * square.height);
      cutInto(given, index, { ...rect, x: 0, y: 0 }, square);
      if (!given.includes(NOBODY)) continue;
      const masks = showing.map((layer) => maskPlane(ctx, job, layer, level, { ...square, x: rect.x + x, y: rect.y + y }));
      given.forEach((k, i) => {
        if (k !== NOBODY || masks.some((mask) => mask[i] > 0)) return;
        bytes[((y + Math.floor(i / square.width)) * rect.width + x + (i % square.width)) * 4 + 3] = 0;
      });
    }
  }
}

/** A double line, light and dark, where a mask goes through one half. */
function drawEdge(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, level: number, rect: Rectangle, bytes: Uint8ClampedArray): void {
  const wide = widen(rect, 1, sizeAtLevel(job.inputs.width, job.inputs.height, level));
  const mask = maskPlane(ctx, job, layer, level, wide);
  for (let i = 0; i < rect.width * rect.height; i++) {
    const [x, y] = [rect.x - wide.x + (i % rect.width), rect.y - wide.y + Math.floor(i / rect.width)];
    const at = y * wide.width + x;
    const inside = mask[at] >= 0.5;
    const crosses =
      (x > 0 && mask[at - 1] >= 0.5 !== inside) ||
      (x + 1 < wide.width && mask[at + 1] >= 0.5 !== inside) ||
      (y > 0 && mask[at - wide.width] >= 0.5 !== inside) ||
      (y + 1 < wide.height && mask[at + wide.width] >= 0.5 !== inside);
    if (crosses) bytes.fill(inside ? 255 : 0, i * 4, i * 4 + 3);
  }
}

/** Grey where nothing is left, hatched where there is nothing to compare; the border of the mask is drawn over it. */
export async function drawResidual(
  ctx: EngineContext,
  job: PreparedJob,
  layerId: string,
  level: number,
  rect: Rectangle,
  bytes: Uint8ClampedArray,
  task: Task,
): Promise<void> {
  const layer = layerOf(job.records, layerId);
  const left = layer && (await residualLight(ctx, job, layer, level, rect, task));
  for (let i = 0; i < rect.width * rect.height; i++) {
    const hatched = !left && ((rect.x + (i % rect.width) + rect.y + Math.floor(i / rect.width)) & 7) < 2;
    bytes.fill(hatched ? 90 : 127.5 * (1 + (left ? left[i] : 0) / RESIDUAL_EV), i * 4, i * 4 + 3);
    bytes[i * 4 + 3] = 255;
  }
  if (layer) drawEdge(ctx, job, layer, level, rect, bytes);
}

/** Each px in the colour of the frame that gives most of it. */
function tint(index: Uint8Array, bytes: Uint8ClampedArray): void {
  for (let i = 0; i < index.length; i++) {
    const grey = 0.3 * bytes[i * 4] + 0.59 * bytes[i * 4 + 1] + 0.11 * bytes[i * 4 + 2];
    const color = FRAME_COLORS[index[i] % FRAME_COLORS.length];
    for (let c = 0; c < 3; c++) bytes[i * 4 + c] = 0.35 * grey + 0.65 * color[c];
  }
}

/** Doublings of light against its noise at which the map is black and white: noise of 12 % and of 0.4 %. */
const [NOISY, CLEAN] = [3, 8];

/** Dark where noise is large against the light, light where it is small; hatched where no frame has light. */
function drawConfidence(noise: Float32Array, rect: Rectangle, bytes: Uint8ClampedArray): void {
  noise.forEach((v, i) => {
    const hatched = v === Infinity && ((rect.x + (i % rect.width) + rect.y + Math.floor(i / rect.width)) & 7) < 3;
    bytes.fill(hatched ? 255 : (255 * (-Math.log2(v) - NOISY)) / (CLEAN - NOISY), i * 4, i * 4 + 3);
  });
}

/** Below this confidence nothing stands out at a place. Common practice, no source. */
const DOUBTFUL = 0.08;

/** The depth as grey, first frame dark, last light; hatched where no frame stands out. */
function drawDepth(depth: RasterFile, frames: number, level: number, rect: Rectangle, bytes: Uint8ClampedArray): void {
  const { width, height } = depth.spec;
  const step = 2 ** level / CELL;
  const held = gridAround(depth.spec, step, rect);
  const [index, confidence] = [0, 1].map((channel) => {
    const plane = new Float32Array(held.width * held.height);
    depth.read(0, channel, held.x, held.y, held.width, held.height, plane);
    return plane;
  });
  for (let i = 0; i < rect.width * rect.height; i++) {
    const [x, y] = [rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)];
    const [column, row] = [Math.min(width - 1, Math.floor((x + 0.5) * step)), Math.min(height - 1, Math.floor((y + 0.5) * step))];
    const cell = (row - held.y) * held.width + column - held.x;
    const tone = 30 + (200 * index[cell]) / Math.max(1, frames - 1);
    const dimmed = confidence[cell] < DOUBTFUL && ((x + y) & 7) < 2 ? tone * 0.6 : tone;
    for (let c = 0; c < 3; c++) bytes[i * 4 + c] = dimmed;
  }
}
