import { OKLAB } from "../../../core/color/oklab";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { fillCells, runsOf } from "../../../core/masks/cellRuns";
import { findSky } from "../../../core/masks/findAreas";
import { gaussianBlur } from "../../../core/raster/blur";
import { findBorders } from "../../../core/weave/findBorders";
import { proposeAim, rankFrames, type CellMeasures } from "../../../core/weave/judgeRegions";
import { measureRegions, type WeaveFrame } from "../../../core/weave/measureRegions";
import { findPieces, regionsOf, splitRegion, type Pieces } from "../../../core/weave/segment";
import { nameRegions } from "../../../core/weave/nameRegions";
import type { Records } from "../../../document/records/types";
import type { WeaveRecord, WeaveRegion } from "../../../document/records/weaveTypes";
import { frameNumber, workingSetIdOf } from "../../../document/selectors";
import { newId } from "../../../document/edits";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { each } from "../frames/frameSamples";
import { readLayer } from "../merge/readLayer";
import type { MergeFrame, MergeInputs } from "../merge/mergeTypes";

/** Longest side of the level regions are found on, cells. */
const SIDE = 480;
/** Levels by which fine detail is judged finer than regions. */
const FINER = 2;
/** Frames whose look decides where regions end; of more, evenly spread ones. */
const MOST_LOOKS = 6;
const DARKEST = 1e-5;
const CLIPPED = 0.97;
const LOST = 0.0015;
/** Weight of colour and of texture against lightness in telling things apart. Common practice, no source. */
const COLOUR_WEIGHT = 2;
const TEXTURE_WEIGHT = 0.35;

/** All that the weave knows of the frames, at one level. */
interface Overview {
  level: number;
  width: number;
  height: number;
  frames: WeaveFrame[];
  pieces: Pieces;
  sky: Uint8Array | null;
}

const OVERVIEW_VERSION = 1;

function overviewOf(ctx: EngineContext, inputs: MergeInputs, task: Task): Promise<Overview> {
  return ctx.cache.takeLong(contentKey("overview", OVERVIEW_VERSION, [inputs.key, inputs.noise]), () => makeOverview(ctx, inputs, task), bytesHeld);
}

async function makeOverview(ctx: EngineContext, inputs: MergeInputs, task: Task): Promise<Overview> {
  const level = levelOfSide(inputs, SIDE);
  const { width, height } = sizeAtLevel(inputs.width, inputs.height, level);
  const frames: WeaveFrame[] = [];
  for (const [i, input] of inputs.frames.entries()) {
    await task.step(i, inputs.frames.length + 1, "task.looking");
    frames.push(await lookAt(ctx, inputs, input, { level, width, height }, task));
  }
  await task.step(inputs.frames.length, inputs.frames.length + 1, "task.regions");
  const stride = Math.max(1, frames.length / MOST_LOOKS);
  const looks = Array.from({ length: Math.min(frames.length, MOST_LOOKS) }, (_, i) => frames[Math.floor(i * stride)]);
  const sky = skyOf(looks, width, height);
  const pieces = findPieces(
    looks.flatMap((f) => featuresOf(f, width, height)),
    width,
    height,
    sky,
  );
  return { level, width, height, frames, pieces, sky };
}

/** Below this a sky is not taken for one. */
const SURE_OF_SKY = 0.85;

/** The sky as most frames show it, or null. */
function skyOf(frames: WeaveFrame[], width: number, height: number): Uint8Array | null {
  const found = frames.map(({ lab }) => findSky({ width, height, lab })).filter((sky) => sky && sky.confidence >= SURE_OF_SKY);
  if (found.length <= frames.length / 2) return null;
  return Uint8Array.from({ length: width * height }, (_, i) => (found.reduce((sum, sky) => sum + sky!.mask[i], 0) > found.length / 2 ? 1 : 0));
}

/** What tells things apart: lightness, colour and how rough a place is. */
function featuresOf({ lab, detail }: WeaveFrame, width: number, height: number): Float32Array[] {
  const smooth = (data: Float32Array, sigma: number) => gaussianBlur({ width, height, data }, sigma);
  const [L, a, b] = lab.map((plane) => smooth(plane, 1));
  const rough = smooth(detail, 3).map((v) => TEXTURE_WEIGHT * Math.min(1, Math.sqrt(Math.max(0, v))));
  return [L, a.map((v) => COLOUR_WEIGHT * v), b.map((v) => COLOUR_WEIGHT * v), rough];
}

/** The grid that regions are found on. */
type Grid = Pick<Overview, "level" | "width" | "height">;

async function lookAt(ctx: EngineContext, inputs: MergeInputs, input: MergeFrame, grid: Grid, task: Task): Promise<WeaveFrame> {
  const { level, width, height } = grid;
  const { kernels } = ctx;
  const n = width * height;
  const whole = { x: 0, y: 0, width, height };
  const look = kernels.withScope((scope): Omit<WeaveFrame, "detail"> => {
    const planes = readLayer(scope, input, level, whole, 0);
    const [r, g, b] = each(planes).map((at) => kernels.f32(at, n));
    const lost = new Uint8Array(n);
    const noise = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      lost[i] = Math.max(r[i], g[i], b[i]) < LOST ? 3 : Number(r[i] > CLIPPED) + Number(g[i] > CLIPPED) + Number(b[i] > CLIPPED);
      const x = Math.max(g[i], 1e-4);
      noise[i] = Math.sqrt(inputs.noise.shot * x + inputs.noise.readSquared) / x;
    }
    const out = scope.floats(planes.length + 16);
    kernels.run("logLightSamples", [...each(planes), out, DARKEST], 0, planes.length, 16384);
    const light = kernels.f32(out, n).slice();
    kernels.run("oklabSamples", [...each(planes), scope.matrix(OKLAB.in.into), scope.matrix(OKLAB.in.out)], 0, planes.length, 16384);
    return { light, lost, noise, lab: [r.slice(), g.slice(), b.slice()] };
  });
  return { ...look, detail: await detailOf(ctx, inputs, input, grid, task) };
}

const ROWS = 64;

/** Mean square of the difference between a place and its neighbours on log light, judged FINER levels finer, for each cell. */
async function detailOf(ctx: EngineContext, inputs: MergeInputs, input: MergeFrame, { level, width, height }: Grid, task: Task): Promise<Float32Array> {
  const fine = Math.max(0, level - FINER);
  const size = sizeAtLevel(inputs.width, inputs.height, fine);
  const times = 2 ** (level - fine);
  const sums = new Float32Array(width * height);
  const counts = new Uint16Array(width * height);
  for (let y = 1; y < size.height - 1; y += ROWS) {
    await task.step(y, size.height, "task.judging");
    const rows = Math.min(ROWS, size.height - 1 - y);
    const rect: Rectangle = { x: 0, y: y - 1, width: size.width, height: rows + 2 };
    ctx.kernels.withScope((scope) => {
      const planes = readLayer(scope, input, fine, rect, 0);
      const out = scope.floats(planes.length + 16);
      ctx.kernels.run("logLightSamples", [...each(planes), out, LOST], 0, planes.length, 16384);
      const light = ctx.kernels.f32(out, rect.width * rect.height);
      for (let v = 1; v <= rows; v++) {
        for (let x = 1; x < size.width - 1; x++) {
          const i = v * rect.width + x;
          const d = light[i] - (light[i - 1] + light[i + 1] + light[i - rect.width] + light[i + rect.width]) / 4;
          const cell = Math.floor((y - 1 + v) / times) * width + Math.floor(x / times);
          sums[cell] += d * d;
          counts[cell]++;
        }
      }
    });
  }
  return sums.map((v, i) => v / Math.max(1, counts[i]));
}

export const FEWEST_REGIONS = 2;
export const MOST_REGIONS = 40;

/** Regions of the scene, each with what every frame is worth there and the frame proposed. */
export async function proposeWeave(ctx: EngineContext, records: Records, inputs: MergeInputs, count: number, task: Task): Promise<WeaveRecord> {
  const overview = await overviewOf(ctx, inputs, task);
  const label = regionsOf(overview.pieces, Math.min(MOST_REGIONS, Math.max(FEWEST_REGIONS, Math.round(count))));
  const regions = label.reduce((top, v) => Math.max(top, v), 0) + 1;
  const setId = workingSetIdOf(records);
  const { width: columns, height: rows, level } = overview;
  const empty: WeaveRecord = {
    kind: "weave",
    id: `weave-${setId}`,
    setId,
    cellPx: 2 ** level,
    columns,
    rows,
    frameIds: inputs.frames.map((f) => f.frame.id),
    regions: [],
  };
  return { ...empty, regions: judged(records, overview, label, regions, empty) };
}

/** Regions as a label plane, measured, named, each with an aim and a proposal. */
function judged(records: Records, overview: Overview, label: Uint8Array, count: number, { frameIds }: WeaveRecord): WeaveRegion[] {
  const { frames, width, height } = overview;
  const numbers = frameIds.map((id) => frameNumber(records, id));
  const measures = measureRegions(frames, label, count, width, height);
  const places = placesOf(label, count, width, height);
  const isSky = skiesAmong(overview.sky, label, count);
  const names = nameRegions(places).map((name, k) => (isSky[k] ? "Sky" : name));
  return measures.map((cells, k): WeaveRegion => {
    const aim = proposeAim({ ...places[k], isSky: isSky[k], cells });
    const { order } = rankFrames(aim, cells, numbers);
    const runs = runsOf(
      label.map((v) => (v === k ? 1 : 0)),
      width,
      height,
    );
    return { id: newId("area"), name: names[k], aim, runs, cells, choice: frameIds[order[0]], byHand: false };
  });
}

/** Regions most of which are sky. */
function skiesAmong(sky: Uint8Array | null, label: Uint8Array, count: number): boolean[] {
  const [inside, all] = [new Float64Array(count), new Float64Array(count)];
  if (sky)
    label.forEach((k, i) => {
      if (k >= count) return;
      all[k]++;
      inside[k] += sky[i];
    });
  return Array.from(inside, (v, k) => v > 0.5 * all[k]);
}

/** Where regions lie: their middle and top as shares of the height, their middle across, their share of the picture. */
function placesOf(label: Uint8Array, count: number, width: number, height: number) {
  const sums = Array.from({ length: count }, () => ({ n: 0, x: 0, y: 0, top: height, left: width, right: 0 }));
  label.forEach((k, i) => {
    const s = sums[k];
    if (!s) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    s.n++;
    s.x += x;
    s.y += y;
    s.top = Math.min(s.top, y);
    s.left = Math.min(s.left, x);
    s.right = Math.max(s.right, x);
  });
  return sums.map(({ n, x, y, top, left, right }) => ({
    across: x / Math.max(1, n) / width,
    middle: y / Math.max(1, n) / height,
    top: top / height,
    spans: (right - left + 1) / width,
    share: n / label.length,
  }));
}

/** Parts one region in two and judges both anew; null where it cannot be parted. */
export async function splitWeaveRegion(
  ctx: EngineContext,
  records: Records,
  inputs: MergeInputs,
  weave: WeaveRecord,
  regionId: string,
  task: Task,
): Promise<WeaveRegion[] | null> {
  const overview = await overviewOf(ctx, inputs, task);
  const region = weave.regions.find((r) => r.id === regionId);
  if (!region) return null;
  const inside = fillCells(region.runs, { x: 0, y: 0, width: overview.width, height: overview.height });
  const first = splitRegion(overview.pieces, inside);
  if (!first) return null;
  const halves = judged(
    records,
    overview,
    inside.map((on, i) => (on ? (first[i] ? 0 : 1) : 2)),
    3,
    weave,
  ).slice(0, 2);
  return halves.map((half, i) => ({ ...half, name: `${region.name} ${i + 1}` }));
}

/** What every frame is worth in an area, as for a region of the weave. */
export async function measureArea(ctx: EngineContext, inputs: MergeInputs, runs: number[], task: Task): Promise<CellMeasures[]> {
  const overview = await overviewOf(ctx, inputs, task);
  const { frames, width, height } = overview;
  const label = fillCells(runs, { x: 0, y: 0, width, height }).map((on) => (on ? 0 : 1));
  return measureRegions(frames, label, 2, width, height)[0];
}

/** Cells that each chosen frame gives, with borders where they show least. */
export async function weaveBorders(ctx: EngineContext, inputs: MergeInputs, weave: WeaveRecord, task: Task): Promise<{ frameId: string; runs: number[] }[]> {
  const overview = await overviewOf(ctx, inputs, task);
  const { width, height, level } = overview;
  const none = inputs.frames.length;
  const wanted = new Uint8Array(width * height).fill(none);
  const area = { x: 0, y: 0, width, height };
  for (const { runs, choice } of weave.regions) {
    const index = inputs.frames.findIndex((f) => f.frame.id === choice);
    if (index < 0) continue;
    fillCells(runs, area).forEach((on, i) => on && (wanted[i] = index));
  }
  const encoded: Float32Array[][] = [];
  for (const [i, input] of inputs.frames.entries()) {
    await task.step(i, inputs.frames.length, "task.borders");
    encoded.push(
      wanted.includes(i) || wanted.includes(none)
        ? ctx.kernels.withScope((scope) =>
            each(readLayer(scope, input, level, area, 0)).map((at) => ctx.kernels.f32(at, width * height).map((v) => encodeSrgb(Math.min(1, Math.max(0, v))))),
          )
        : [],
    );
  }
  const label = findBorders(wanted, none, encoded, width, height);
  return inputs.frames.flatMap(({ frame }, index) => {
    const runs = runsOf(
      label.map((v) => (v === index ? 1 : 0)),
      width,
      height,
    );
    return runs.length ? [{ frameId: frame.id, runs }] : [];
  });
}
