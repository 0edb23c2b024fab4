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
import { cutInto } from "../../../core/raster/planeParts";
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
  const { known, plate } = await whatIsKnown(ctx, frame, cutting, marks, portion(task, 0, 0.3));
  const whole = { width: frame.width, height: frame.height };
  checkKnown(known);
  const rect = widen(boundsOf(known, frame.width), MARGIN, whole);
  const rgb = await readRect(ctx, await openFrame(ctx, frame), frame.sourceId, 0, rect);
  const open: MatteField = { ...rect, rgb, plate: plate && (await plate(0, rect)), known: new Uint8Array(rect.width * rect.height) };
  cutInto(open.known, known, { x: 0, y: 0, ...whole }, rect);
  const solved = await solveMatte(open, (share) => task.step(0.3 + 0.5 * share, 1, "task.matte"));
  await task.step(0.8, 1, "task.freeingColours");
  const pixels = open.known.reduce((sum, k) => sum + (k === UNKNOWN ? 1 : 0), 0);
  const field = { ...open, known: solved.known };
  const band = bandOf(field.known);
  const freed = freeColours(field, band, solved.alpha);
  await task.step(0.95, 1, "task.freeingColours");
  const figures = judgeMatte(field, band, solved.alpha, freed);
  const share = (figures.share * rect.width * rect.height) / (frame.width * frame.height);
  const shifted = (parts: MatteFigures["islands"]) => parts.map((p) => ({ ...p, x: p.x + rect.x, y: p.y + rect.y }));
  return {
    rect,
    alpha: solved.alpha,
    front: frontPlanes(field, band, freed),
    figures: { ...figures, share, band: { ...figures.band, pixels }, islands: shifted(figures.islands), holes: shifted(figures.holes) },
  };
}

/** What lies behind everything, on any rectangle of a level, in the picture's own light. */
type Plate = (level: number, rect: Rectangle) => Promise<Colours>;

/** @returns BACKGROUND, UNKNOWN or FOREGROUND for each px of the picture, and what lies behind where that is known by itself */
async function whatIsKnown(
  ctx: EngineContext,
  frame: FrameRecord,
  cutting: Cutting,
  marks: readonly CutMark[],
  task: Task,
): Promise<{ known: Uint8Array; plate: Plate | null }> {
  if (cutting.by === "trimap") {
    const known = cutting.codes.map((code) => (code < 64 ? BACKGROUND : code >= 192 ? FOREGROUND : UNKNOWN));
    mark(marks, frame.width, frame.height, 0, (i, keep) => (known[i] = keep ? FOREGROUND : BACKGROUND));
    return { known, plate: null };
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
  let plate: Plate | null = null;
  if (cutting.by === "box") {
    const at = (v: number) => (v + 0.5) / 2 ** level - 0.5;
    const { x, y, width, height } = cutting.box;
    small = await proposeBand({ ...size, rgb, lab: labOf(rgb) }, { x0: at(x), y0: at(y), x1: at(x + width), y1: at(y + height) }, marked, grow);
  } else {
    plate = cutting.by === "plate" ? await platePictured(ctx, frame, cutting, level, rgb, task) : backdropOf(frame, rgb, size);
    const behind = await plate(level, all);
    const differs = differsFromPlate(rgb, behind, size.width, size.height);
    if (!differs || differs.reduce((sum, v) => sum + v, 0) > MOST_DIFFERENT * differs.length)
      throw new Refusal("unclear", cutting.by === "plate" ? "matte.otherView" : "matte.notEven");
    marked.forEach((m, i) => m && (differs[i] = m === KEEP ? 1 : 0));
    const through = cutting.by === "plate" ? plateShowsThrough(rgb, behind, size.width, size.height) : null;
    small = differs.some((v) => v) ? await growBand({ ...size, rgb, plate: behind }, differs, through, () => true, marked, grow) : null;
  }
  if (!small) throw new Refusal("unclear", "matte.noSubject");
  const known = enlarged(small, size, frame, level);
  // marks hold to the px
  mark(marks, frame.width, frame.height, 0, (i, keep) => (known[i] = keep ? FOREGROUND : BACKGROUND));
  return { known, plate };
}

/** A plate differs from its picture nearly everywhere where it is not of the same view. */
const MOST_DIFFERENT = 0.6;

/** A clean plate, placed onto the picture and as bright as it is over the whole of it. @param rgb the picture on a level */
async function platePictured(
  ctx: EngineContext,
  { width, height }: FrameRecord,
  { frame, matrix, lens }: Cutting & { by: "plate" },
  level: number,
  rgb: Colours,
  task: Task,
): Promise<Plate> {
  const file = await openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix, lens, width, height }, task);
  const gains = plateGains(rgb, await readRect(ctx, file, frame.sourceId, level, { x: 0, y: 0, ...sizeAtLevel(width, height, level) }));
  return async (at, rect) => {
    const planes = await readRect(ctx, file, frame.sourceId, at, rect);
    planes.forEach((plane, c) => plane.forEach((v, i) => (plane[i] = v * gains[c])));
    return planes;
  };
}

/** The backdrop of a picture. @param rgb the picture on a level of this size */
function backdropOf(frame: FrameRecord, rgb: Colours, size: { width: number; height: number }): Plate {
  const backdrop = fitBackdrop(rgb, size.width, size.height);
  if (!backdrop) throw new Refusal("unclear", "matte.notEven");
  return async (at, rect) => backdropPlanes(backdrop, sizeAtLevel(frame.width, frame.height, at), rect);
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

/** What is known on a level, on the whole picture: each px as the sample that holds it. */
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
  if (counts[FOREGROUND] + counts[UNKNOWN] < least) throw new Refusal("unclear", "matte.noSubject");
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
