import { toOklab } from "../../../core/color/oklab";
import type { Lens } from "../../../core/geometry/lens";
import { type Matrix3 } from "../../../core/geometry/matrix3";
import { levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { freeColours, frontPlanes } from "../../../core/matte/freeColours";
import { judgeMatte, type MatteFigures } from "../../../core/matte/judgeMatte";
import { backdropPlanes, differsFromPlate, fitBackdrop, plateGains, plateShowsThrough } from "../../../core/matte/plates";
import { growBand, KEEP, LEAVE, proposeBand } from "../../../core/matte/proposeBand";
import { solveMatte } from "../../../core/matte/solveMatte";
import { BACKGROUND, bandOf, FOREGROUND, UNKNOWN, type Colours, type MatteField } from "../../../core/matte/trimap";
import { Refusal } from "../../../core/refusal";
import { pictureIdOf } from "../../../document/sourceIds";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { allocatePlanes, each, readWorking } from "../frames/frameSamples";
import { openPlaced } from "../frames/placeFrame";
import { colorOf, openFrame } from "../frames/sources";

/** By what it is told what is wanted. */
export type Cutting =
  | { by: "box"; box: Rectangle }
  /** 0 behind, 128 unknown, 255 in front, for each px of the picture */
  | { by: "trimap"; codes: Uint8Array }
  /** the same view without it, placed onto the picture */
  | { by: "plate"; frame: FrameRecord; matrix: Matrix3; lens: Lens | null }
  | { by: "backdrop" };

/** A round place that is to be kept or left, px. */
export interface CutMark {
  x: number;
  y: number;
  radius: number;
  keep: boolean;
}

/** What was cut: alpha 0..1 and colours in front, linear working light, of a rectangle of the picture. Outside of it nothing is in front. */
export interface Matte {
  rect: Rectangle;
  alpha: Float32Array;
  front: Colours;
  /** places in px of the picture */
  figures: MatteFigures;
}

/** Longest side of the level on which a band is proposed. */
const SIDE = 480;
/** What is known is read so far about what is not, px. */
const MARGIN = 48;
/** A band is at most this share of a picture, and at least this one in front and behind: else nothing tells one from the other. */
const [MOST_BAND, LEAST_SIDE] = [0.9, 1e-4];

export async function makeMatte(ctx: EngineContext, frame: FrameRecord, cutting: Cutting, marks: readonly CutMark[], task: Task): Promise<Matte> {
  const known = await whatIsKnown(ctx, frame, cutting, marks, portion(task, 0, 0.3));
  const whole = { width: frame.width, height: frame.height };
  checkKnown(known);
  const rect = widen(boundsOf(known, frame.width), MARGIN, whole);
  const rgb = await readRect(ctx, await openFrame(ctx, frame), frame.sourceId, 0, rect);
  const plate = await plateOf(ctx, frame, cutting, rgb, rect, task);
  const field: MatteField = { ...rect, rgb, plate, known: cutRows(known, frame.width, rect) };
  const solved = await solveMatte(field, (share) => task.step(0.3 + 0.5 * share, 1, "task.matte"));
  await task.step(0.8, 1, "task.freeingColours");
  const given = bandOf(field.known).places.length;
  const open = { ...field, known: solved.known };
  const band = bandOf(open.known);
  const freed = freeColours(open, band, solved.alpha);
  await task.step(0.95, 1, "task.freeingColours");
  const figures = judgeMatte(open, band, solved.alpha, freed);
  const share = (figures.share * rect.width * rect.height) / (frame.width * frame.height);
  const shifted = (parts: MatteFigures["islands"]) => parts.map((p) => ({ ...p, x: p.x + rect.x, y: p.y + rect.y }));
  return {
    rect,
    alpha: solved.alpha,
    front: frontPlanes(open, band, freed),
    figures: { ...figures, share, band: { ...figures.band, pixels: given }, islands: shifted(figures.islands), holes: shifted(figures.holes) },
  };
}

/** @returns BACKGROUND, UNKNOWN or FOREGROUND for each px of the picture */
async function whatIsKnown(ctx: EngineContext, frame: FrameRecord, cutting: Cutting, marks: readonly CutMark[], task: Task): Promise<Uint8Array> {
  if (cutting.by === "trimap") {
    const known = cutting.codes.map((code) => (code < 64 ? BACKGROUND : code >= 192 ? FOREGROUND : UNKNOWN));
    mark(marks, frame.width, frame.height, 0, (i, keep) => (known[i] = keep ? FOREGROUND : BACKGROUND));
    return known;
  }
  await task.step(0, 1, "task.subject");
  const file = await openFrame(ctx, frame);
  const level = Math.min(file.spec.levels - 1, levelOfSide(frame, SIDE));
  const size = sizeAtLevel(frame.width, frame.height, level);
  const all = { x: 0, y: 0, ...size };
  const rgb = await readRect(ctx, file, frame.sourceId, level, all);
  const marked = new Uint8Array(size.width * size.height);
  mark(marks, size.width, size.height, level, (i, keep) => (marked[i] = keep ? KEEP : LEAVE));
  const grow = (share: number) => task.step(share, 1, "task.subject");
  let small: Uint8Array | null;
  if (cutting.by === "box") {
    const at = (v: number) => (v + 0.5) / 2 ** level - 0.5;
    const { x, y, width, height } = cutting.box;
    small = await proposeBand({ ...size, rgb, lab: labOf(rgb) }, { x0: at(x), y0: at(y), x1: at(x + width), y1: at(y + height) }, marked, grow);
  } else {
    const plate = await smallPlate(ctx, frame, cutting, rgb, level, all, task);
    const differs = differsFromPlate(rgb, plate, size.width, size.height);
    if (!differs || differs.reduce((sum, v) => sum + v, 0) > MOST_DIFFERENT * differs.length)
      throw new Refusal("unclear", cutting.by === "plate" ? "matte.otherView" : "matte.notEven");
    marked.forEach((m, i) => m && (differs[i] = m === KEEP ? 1 : 0));
    const through = cutting.by === "plate" ? plateShowsThrough(rgb, plate, size.width, size.height) : null;
    small = differs.some((v) => v) ? await growBand({ ...size, rgb, plate }, differs, through, () => true, marked, grow) : null;
  }
  if (!small) throw new Refusal("unclear", "matte.noSubject");
  const known = enlarged(small, size, frame, level);
  // marks hold to the px
  mark(marks, frame.width, frame.height, 0, (i, keep) => (known[i] = keep ? FOREGROUND : BACKGROUND));
  return known;
}

/** A plate differs from its picture nearly everywhere where it is not of the same view. */
const MOST_DIFFERENT = 0.6;

async function smallPlate(
  ctx: EngineContext,
  frame: FrameRecord,
  cutting: Cutting & { by: "plate" | "backdrop" },
  rgb: Colours,
  level: number,
  all: Rectangle,
  task: Task,
): Promise<Colours> {
  if (cutting.by === "backdrop") {
    const backdrop = fitBackdrop(rgb, all.width, all.height);
    if (!backdrop) throw new Refusal("unclear", "matte.notEven");
    return backdropPlanes(backdrop, all, all);
  }
  const plate = await readRect(ctx, await placedPlate(ctx, frame, cutting, task), cutting.frame.sourceId, level, all);
  const gains = plateGains(rgb, plate);
  return plate.map((p, c) => p.map((v) => v * gains[c])) as unknown as Colours;
}

const placedPlate = (ctx: EngineContext, { width, height }: FrameRecord, { frame, matrix, lens }: Cutting & { by: "plate" }, task: Task): Promise<RasterFile> =>
  openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix, lens, width, height }, task);

async function plateOf(ctx: EngineContext, frame: FrameRecord, cutting: Cutting, rgb: Colours, rect: Rectangle, task: Task): Promise<Colours | null> {
  if (cutting.by === "plate") {
    const plate = await readRect(ctx, await placedPlate(ctx, frame, cutting, task), cutting.frame.sourceId, 0, rect);
    const gains = plateGains(rgb, plate);
    plate.forEach((p, c) => p.forEach((v, i) => (p[i] = v * gains[c])));
    return plate;
  }
  if (cutting.by !== "backdrop") return null;
  const file = await openFrame(ctx, frame);
  const level = Math.min(file.spec.levels - 1, levelOfSide(frame, SIDE));
  const size = sizeAtLevel(frame.width, frame.height, level);
  const backdrop = fitBackdrop(await readRect(ctx, file, frame.sourceId, level, { x: 0, y: 0, ...size }), size.width, size.height);
  return backdrop && backdropPlanes(backdrop, frame, rect);
}

const ROWS = 256;

/** Linear working light of a rectangle. */
async function readRect(ctx: EngineContext, file: RasterFile, sourceId: string, level: number, rect: Rectangle): Promise<Colours> {
  const color = await colorOf(ctx, sourceId);
  const planes = [0, 1, 2].map(() => new Float32Array(rect.width * rect.height)) as unknown as Colours;
  for (let y = 0; y < rect.height; y += ROWS) {
    const rows = Math.min(ROWS, rect.height - y);
    ctx.kernels.withScope((scope) => {
      const at = allocatePlanes(scope, rect.width * rows);
      readWorking(scope, file, color, level, { ...rect, y: rect.y + y, height: rows }, at);
      each(at).forEach((p, c) => planes[c].set(ctx.kernels.f32(p, rect.width * rows), y * rect.width));
    });
  }
  return planes;
}

function labOf([R, G, B]: Colours): Colours {
  const lab = [0, 1, 2].map(() => new Float32Array(R.length)) as unknown as Colours;
  const out = new Float64Array(3);
  for (let i = 0; i < R.length; i++) {
    toOklab(R[i], G[i], B[i], out);
    for (let c = 0; c < 3; c++) lab[c][i] = out[c];
  }
  return lab;
}

function mark(marks: readonly CutMark[], width: number, height: number, level: number, set: (i: number, keep: boolean) => void): void {
  for (const { x, y, radius, keep } of marks) {
    const s = 2 ** level;
    const [cx, cy, r] = [(x + 0.5) / s - 0.5, (y + 0.5) / s - 0.5, Math.max(0.5, radius / s)];
    for (let v = Math.max(0, Math.ceil(cy - r)); v <= Math.min(height - 1, cy + r); v++)
      for (let u = Math.max(0, Math.ceil(cx - r)); u <= Math.min(width - 1, cx + r); u++) if ((u - cx) ** 2 + (v - cy) ** 2 <= r * r) set(v * width + u, keep);
  }
}

/** What is known on a level, on the whole picture: where samples about a px differ it is unknown. */
function enlarged(small: Uint8Array, size: { width: number; height: number }, whole: { width: number; height: number }, level: number): Uint8Array {
  const out = new Uint8Array(whole.width * whole.height);
  for (let y = 0; y < whole.height; y++) {
    const row = Math.min(size.height - 1, y >> level) * size.width;
    for (let x = 0; x < whole.width; x++) out[y * whole.width + x] = small[row + Math.min(size.width - 1, x >> level)];
  }
  return out;
}

function checkKnown(known: Uint8Array): void {
  const counts = [0, 0, 0];
  for (let i = 0; i < known.length; i++) counts[known[i]]++;
  const least = Math.max(1, LEAST_SIDE * known.length);
  if (counts[FOREGROUND] < least && counts[UNKNOWN] < known.length * MOST_BAND && counts[UNKNOWN] < least) throw new Refusal("unclear", "matte.noSubject");
  if (counts[UNKNOWN] > MOST_BAND * known.length || counts[FOREGROUND] < least || counts[BACKGROUND] < least) throw new Refusal("unclear", "matte.allBand");
}

/** Where anything is not behind. */
function boundsOf(known: Uint8Array, width: number): Rectangle {
  let [x0, y0, x1, y1] = [width, Infinity, -1, -1];
  for (let i = 0; i < known.length; i++) {
    if (known[i] === BACKGROUND) continue;
    const x = i % width;
    const y = (i - x) / width;
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  return { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
}

function cutRows(known: Uint8Array, width: number, rect: Rectangle): Uint8Array {
  const out = new Uint8Array(rect.width * rect.height);
  for (let y = 0; y < rect.height; y++) {
    const from = (rect.y + y) * width + rect.x;
    out.set(known.subarray(from, from + rect.width), y * rect.width);
  }
  return out;
}
