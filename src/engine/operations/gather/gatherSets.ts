import { toFrame } from "../../../core/geometry/lens";
import { project, transform } from "../../../core/geometry/matrix3";
import { describeMatrix } from "../../../core/geometry/describeMatrix";
import { CELL_SAMPLES, CLEAN_GRID, lonelyCells } from "../../../core/measure/sets/cleanPlate";
import type { FrameParity } from "../../../core/measure/sets/parity";
import {
  isDoubtful,
  joinScattered,
  mayBeScattered,
  partByContent,
  proposeSets,
  type GatheredFrame,
  type Link,
  type ProposedSet,
} from "../../../core/measure/sets/proposeSets";
import { shootingOrder } from "../../../core/measure/sets/shootingOrder";
import { median } from "../../../core/numeric/statistics";
import type { Plane } from "../../../core/raster/raster";
import { searchCoarse, zScoreOfLight } from "../../../core/register/coarseSearch";
import { proposeReference } from "../../../document/proposeReference";
import { gatheredFrame } from "../../../document/sets";
import type { FrameRecord, Records } from "../../../document/records/types";
import { exposuresOf } from "../../../document/selectors";
import { pictureIdOf } from "../../../document/sourceIds";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { EngineContext } from "../../EngineContext";
import { atATime } from "../../../core/numeric/atATime";
import { portion, type Task } from "../../task";
import { measureLadder } from "../register/registerFrames";
import { linearFrame } from "../frames/linearFrame";
import { heldGrey } from "../frames/greyCache";
import { greyOfSource } from "../frames/greyOfSource";
import { colorOf, SOURCE_VERSION } from "../frames/sources";

/** Longest side at which neighbours are compared. */
const LINK_SIDE = 128;
/** Longest side at which the frames of a set are laid on each other to compare them. */
const PARITY_SIDE = 1300;

/** Longest side at which a doubtful neighbour is looked at closely. */
const CONFIRM_SIDE = 640;

/** A proposed set with how its frames follow each other. */
export type LinkedSet = ProposedSet & { links: Link[] };

export interface GatheredSets {
  sets: LinkedSet[];
  /** all frames in the order in which they were taken */
  order: string[];
  /** EV of each frame from the pixels, measured within what shows the same place; only differences inside a set mean something */
  measuredEv: Record<string, number>;
}

/** Groups frames into sets from their metadata and from what they show; the same sets in whatever order the files come. @param given in any order */
export async function gatherSets(ctx: EngineContext, records: Records, given: FrameRecord[], task: Task): Promise<GatheredSets> {
  const shots = given.map((f) => ({ fileName: f.fileName, ...gatheredFrame(records, f) }));
  const frames = shootingOrder(shots).map((i) => given[i]);
  const prints: Plane[] = [];
  for (const [i, frame] of frames.entries()) {
    await task.step(i, 2 * frames.length, "task.grouping");
    prints.push(await smallPicture(ctx, frame));
  }
  let done = 0;
  const pause = () => task.step(frames.length + done, 2 * frames.length, "task.grouping");
  const links = await atATime(
    frames.slice(1).map((frame, i) => async () => {
      await pause();
      const link = linkBetween(prints[i], prints[i + 1]);
      const sure = isDoubtful(link) ? await closeLink(ctx, frames[i], frame, pause) : link;
      done++;
      return sure;
    }),
    ctx.pool.size,
  );
  const measuredEv: Record<string, number> = {};
  const known = frames.map((f) => gatheredFrame(records, f));
  for (const part of partByContent(known, links)) {
    Object.assign(
      measuredEv,
      await measureLadder(
        ctx,
        part.frames.map(({ id }) => frames.find((f) => f.id === id)!),
      ),
    );
  }
  const sets = proposeSets(
    known.map((f) => ({ ...f, measuredEv: measuredEv[f.id] ?? null })),
    links,
  ).map((set) => {
    const at = frames.findIndex((f) => f.id === set.frameIds[0]);
    return { ...set, links: links.slice(at, at + set.frameIds.length - 1) };
  });
  const joined = joinScattered(sets, await scatteredLinks(ctx, frames, known, sets, prints, task));
  // sets stand as their files were given
  const placeOf = (set: ProposedSet) => Math.min(...set.frameIds.map((id) => given.findIndex((f) => f.id === id)));
  return { sets: joined.sort((a, b) => placeOf(a) - placeOf(b)), order: frames.map((f) => f.id), measuredEv };
}

/** Frames that are looked at beyond their neighbours, and links among them that are looked at closely. */
const MOST_SCATTERED = 24;
const MOST_CONFIRMED = 60;
/** Correlation at a small size below which a closer look is not worth its time. Common practice, no source. */
const WORTH_LOOKING = 0.22;

/** Links between lone frames and panoramas that do not follow each other. */
async function scatteredLinks(
  ctx: EngineContext,
  frames: FrameRecord[],
  known: GatheredFrame[],
  sets: ProposedSet[],
  prints: Plane[],
  task: Task,
): Promise<{ a: string; b: string; link: Link }[]> {
  const loose = sets.filter((s) => s.kind === "single" || s.kind === "panorama");
  const ids = loose.flatMap((s) => s.frameIds);
  if (loose.length < 2 || ids.length < 3 || ids.length > MOST_SCATTERED) return [];
  const pairs = loose.flatMap((s, i) => loose.slice(i + 1).flatMap((t) => s.frameIds.flatMap((a) => t.frameIds.map((b) => [a, b]))));
  const at = (id: string) => frames.findIndex((f) => f.id === id);
  const worth: [a: number, b: number][] = [];
  for (const [k, [a, b]] of pairs.entries()) {
    await task.step(k, pairs.length, "task.grouping");
    const [i, j] = [at(a), at(b)];
    if (worth.length >= MOST_CONFIRMED || Math.abs(i - j) < 2 || !mayBeScattered(known[i], known[j])) continue;
    if (linkBetween(prints[i], prints[j]).score >= WORTH_LOOKING) worth.push([i, j]);
  }
  const pause = () => task.step(pairs.length, pairs.length, "task.grouping");
  return atATime(
    worth.map(([i, j]) => async () => ({ a: frames[i].id, b: frames[j].id, link: await closeLink(ctx, frames[i], frames[j], pause) })),
    ctx.pool.size,
  );
}

/** Scale, as log2, up to which frames can belong to one set. Common practice, no source. */
const MOST_SCALED = 1.15;

const LINK_VERSION = 1;

/** Registers two frames at a small size; what cannot be registered is another scene. It is known the next time, when more frames have come or they come in another order. */
function closeLink(ctx: EngineContext, a: FrameRecord, b: FrameRecord, pause: () => Promise<void>): Promise<Link> {
  const key = contentKey("link", LINK_VERSION, [SOURCE_VERSION, ...[a, b].map((f) => [pictureIdOf(f), f.width, f.height])]);
  return ctx.cache.takeLong(key, () => registerLink(ctx, a, b, pause), bytesHeld);
}

async function registerLink(ctx: EngineContext, a: FrameRecord, b: FrameRecord, pause: () => Promise<void>): Promise<Link> {
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(a.width, a.height, b.width, b.height) / CONFIRM_SIDE)));
  const ev = await measureLadder(ctx, [a, b]);
  const [fixed, moving] = [await greyOfSource(ctx, a, level), await greyOfSource(ctx, b, level)];
  const options = { model: "homography", effort: 2 } as const;
  const pair = await ctx.pool.run("registerPair", { fixed, moving, relativeEv: ev[b.id] - ev[a.id], options, marked: null }, pause);
  const scale = pair ? describeMatrix(pair.matrix, fixed.width, fixed.height).scale : 0;
  // a detail beside the whole is another picture, however well the one lies in the other
  if (!pair || Math.abs(Math.log2(scale)) > MOST_SCALED) return { score: 0, dx: 0, dy: 0 };
  const [u, v] = project(pair.matrix, fixed.width / 2, fixed.height / 2);
  return { score: pair.agreement.agreeing, dx: (u - moving.width / 2) / moving.width, dy: (v - moving.height / 2) / moving.height };
}

/** Local z-score of a frame at a small size. */
async function smallPicture(ctx: EngineContext, frame: FrameRecord): Promise<Plane> {
  const { planes, width, height } = await linearFrame(ctx, frame, LINK_SIDE);
  const step = Math.max(1, Math.ceil(Math.max(width, height) / LINK_SIDE));
  const [w, h] = [Math.max(24, Math.floor(width / step)), Math.max(24, Math.floor(height / step))];
  const light = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (let v = 0; v < step; v++) {
        for (let u = 0; u < step; u++) sum += planes[1][Math.min(height - 1, y * step + v) * width + Math.min(width - 1, x * step + u)];
      }
      light[y * w + x] = sum / (step * step);
    }
  }
  return zScoreOfLight({ width: w, height: h, data: light });
}

/** The search lowers scores by a tenth of the frame, so that small overlaps do not win by chance. */
const FULL_OVERLAP = 1.1;

function linkBetween(a: Plane, b: Plane): Link {
  const [best] = searchCoarse(a, b, [0], [1], 1);
  if (!best) return { score: 0, dx: 0, dy: 0 };
  const [u, v] = project(best.matrix, a.width / 2, a.height / 2);
  return { score: Math.max(0, best.score * FULL_OVERLAP), dx: (u - b.width / 2) / b.width, dy: (v - b.height / 2) / b.height };
}

/** Lens against the base from which the base itself is taken for the odd one. Common practice, no source. */
const ODD_BASE_K1 = 0.003;

/** Lays every frame of a set on one of them and measures what differs in geometry, colour and tone. */
export async function compareFrames(ctx: EngineContext, records: Records, frames: FrameRecord[], task: Task): Promise<FrameParity[]> {
  const base = proposeReference(frames).frame;
  const found = await compareWith(ctx, records, frames, base, portion(task, 0, 0.6));
  // where all others differ from the base alike, the base is the odd one; they are compared with one of their own
  const others = found.filter((p) => p.comparable && p.frameId !== base.id);
  const usual = others.length >= 2 ? median(others.map((p) => p.k1)) : 0;
  if (Math.abs(usual) < ODD_BASE_K1) return found;
  const nearest = others.reduce((best, p) => (Math.abs(p.k1 - usual) < Math.abs(best.k1 - usual) ? p : best));
  return compareWith(
    ctx,
    records,
    frames,
    frames.find((f) => f.id === nearest.frameId)!,
    portion(task, 0.6, 1),
  );
}

/** A frame without what it is developed with. */
const asShot = (frame: FrameRecord): FrameRecord => ({ ...frame, development: { ...frame.development, lens: null } });

async function compareWith(ctx: EngineContext, records: Records, frames: FrameRecord[], base: FrameRecord, task: Task): Promise<FrameParity[]> {
  const fixed = await heldGrey(ctx, asShot(base));
  const finest = Math.max(0, Math.ceil(Math.log2(Math.max(base.width, base.height) / PARITY_SIDE)));
  const measuredEv = exposuresOf(records)?.measuredEv ?? {};
  const found: FrameParity[] = [];
  const cells: (Float32Array | null)[][] = [];
  const evOf = (frame: FrameRecord) => (measuredEv[frame.id] ?? 0) - (measuredEv[base.id] ?? 0);
  let done = 0;
  const pause = () => task.step(done, frames.length, "task.comparing");
  const pairs = await atATime(
    frames.map((frame) => async () => {
      if (frame.id === base.id) return null;
      const moving = await heldGrey(ctx, asShot(frame));
      const pair = await ctx.pool.run("registerPair", { fixed, moving, relativeEv: evOf(frame), options: { model: "auto", finest }, marked: null }, pause);
      done++;
      return pair;
    }),
    ctx.pool.size,
  );
  for (const [i, frame] of frames.entries()) {
    await task.step(i, frames.length, "task.comparing");
    const same: FrameParity = { frameId: frame.id, comparable: true, rotationDeg: 0, scale: 1, k1: 0, redEv: 0, blueEv: 0, tone: 1, alone: [] };
    if (frame.id === base.id) {
      found.push(same);
      cells.push(await cellsOf(ctx, base, frame, (x, y) => [x, y], 0));
      continue;
    }
    const relativeEv = evOf(frame);
    const pair = pairs[i];
    if (!pair) {
      found.push({ ...same, comparable: false });
      cells.push([]);
      continue;
    }
    const figures = describeMatrix(pair.matrix, base.width, base.height);
    const find = (x: number, y: number) => toFrame(pair.matrix, pair.lens, frame, x, y);
    const light = await compareLight(ctx, base, frame, find);
    cells.push(await cellsOf(ctx, base, frame, find, relativeEv));
    found.push({ ...same, rotationDeg: figures.rotationDeg, scale: figures.scale, k1: pair.lens?.k1 ?? 0, ...light });
  }
  const alone = lonelyCells(cells);
  return found.map((p, i) => ({ ...p, alone: alone[i] }));
}

/** A frame's light in cells of the base frame, log2 against its exposure; null where part of a cell is not usable. */
async function cellsOf(
  ctx: EngineContext,
  base: FrameRecord,
  frame: FrameRecord,
  find: (x: number, y: number) => [number, number],
  relativeEv: number,
): Promise<(Float32Array | null)[]> {
  const sample = await sampler(ctx, frame);
  const { columns, rows } = CLEAN_GRID;
  return Array.from({ length: columns * rows }, (_, c) => {
    const cell = new Float32Array(CELL_SAMPLES * CELL_SAMPLES);
    for (let k = 0; k < cell.length; k++) {
      const x = (((c % columns) + ((k % CELL_SAMPLES) + 0.5) / CELL_SAMPLES) * base.width) / columns;
      const y = ((Math.floor(c / columns) + (Math.floor(k / CELL_SAMPLES) + 0.5) / CELL_SAMPLES) * base.height) / rows;
      const light = sample(...find(x, y));
      if (!light) return null;
      cell[k] = Math.log2(light[1]) - relativeEv;
    }
    return cell;
  });
}

const COLUMNS = 150;
const USABLE = { darkest: 0.008, brightest: 0.75 };

/** Colour balance and tone slope of a frame against another, over places both show in usable light. */
async function compareLight(ctx: EngineContext, base: FrameRecord, frame: FrameRecord, find: (x: number, y: number) => [number, number]) {
  const a = await sampler(ctx, base);
  const b = await sampler(ctx, frame);
  const red: number[] = [];
  const blue: number[] = [];
  const pairs: [number, number][] = [];
  const step = base.width / COLUMNS;
  for (let y = step / 2; y < base.height; y += step) {
    for (let x = step / 2; x < base.width; x += step) {
      const p = a(x, y);
      const q = b(...find(x, y));
      if (!p || !q) continue;
      red.push(Math.log2(q[0] / q[1] / (p[0] / p[1])));
      blue.push(Math.log2(q[2] / q[1] / (p[2] / p[1])));
      pairs.push([Math.log2(p[1]), Math.log2(q[1])]);
    }
  }
  if (pairs.length < 100) return {};
  const slopes: number[] = [];
  for (let k = 0; k < pairs.length; k++) {
    const [p, q] = [pairs[k], pairs[(k * 7 + 13) % pairs.length]];
    if (Math.abs(p[0] - q[0]) > 1) slopes.push((q[1] - p[1]) / (q[0] - p[0]));
  }
  return { redEv: median(red), blueEv: median(blue), tone: slopes.length > 40 ? median(slopes) : 1 };
}

/** Working RGB of a frame at any place, null where it is too dark or too bright to be compared. */
async function sampler(ctx: EngineContext, frame: FrameRecord): Promise<(x: number, y: number) => [number, number, number] | null> {
  const { planes, width, height, level } = await linearFrame(ctx, frame, 600);
  const toWorking = (await colorOf(ctx, frame.sourceId)).toWorking;
  const s = 2 ** level;
  return (x, y) => {
    const [u, v] = [Math.round((x + 0.5) / s - 0.5), Math.round((y + 0.5) / s - 0.5)];
    if (u < 0 || v < 0 || u >= width || v >= height) return null;
    const own = planes.map((p) => p[v * width + u]);
    // judged where clipping happens, compared in working RGB, in which a development balances
    return Math.min(...own) > USABLE.darkest && Math.max(...own) < USABLE.brightest ? transform(toWorking, own) : null;
  };
}
