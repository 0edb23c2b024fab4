import { isBlocked, FROM_PAPER, isOutside, missedBy, paperLab, wantedXyz, type PaperBlack, type PrintFigures } from "../../../core/print/printed";
import { decodeSrgb } from "../../../core/color/srgbCurve";
import { intersect, levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { outputGeometry } from "../../../document/outputGeometry";
import { targetOf } from "../../../document/selectors";
import type { Records } from "../../../document/records/types";
import type { TargetRecord } from "../../../document/records/targetTypes";
import { Printer } from "../../../formats/icc/printer";
import type { ColorLibrary } from "../../../formats/icc/tableProfile";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeOutput } from "../finish/composeOutput";
import { each, type Planes } from "../frames/frameSamples";
import { prepareJob } from "../layers/compose";
import { stripRows } from "../layers/layerReach";
import type { PreparedJob } from "../layers/PreparedJob";

/** What a view marks on a printed picture. */
export type PrintMarks = "none" | "outside" | "blocked";

/** A target that is at hand: how the picture is brought to it, how near it comes at best, and its ends. */
export interface OpenTarget {
  target: TargetRecord;
  /** as the person asks for it */
  printer: Printer;
  /** as near as can be, which tells what lies outside */
  nearest: Printer;
  whiteL: number;
  blackL: number;
  black: PaperBlack;
}

const opened = new WeakMap<EngineContext, Map<string, Promise<OpenTarget>>>();
/** Targets lately looked at: each holds a coder of its own. */
const MOST_OPEN = 3;

/** The target of a job, or null where none was chosen. @throws FormatError where its profile cannot print */
export async function openTarget(ctx: EngineContext, records: Records): Promise<OpenTarget | null> {
  const target = targetOf(records);
  if (!target) return null;
  const key = JSON.stringify([target.sourceId, target.intent, target.blackPoint]);
  const known = opened.get(ctx) ?? new Map<string, Promise<OpenTarget>>();
  opened.set(ctx, known);
  let opening = known.get(key);
  if (!opening) {
    opening = open(ctx, target);
    known.set(key, opening);
    opening.catch(() => known.delete(key));
    for (const old of [...known.keys()].slice(0, -MOST_OPEN)) known.delete(old);
  }
  return { ...(await opening), target };
}

async function open(ctx: EngineContext, target: TargetRecord): Promise<OpenTarget> {
  const profile = await ctx.loadSource(target.sourceId);
  const start = () => ctx.codecs.start<ColorLibrary>("profiles");
  const printer = Printer.open(profile, target, await start());
  const nearest = Printer.open(profile, { intent: "relative", blackPoint: target.blackPoint }, await start());
  const [blackL, whiteL] = [0, 1].map((light) => paperLab(...printedXyz(nearest, light, true))[0]);
  return { target, printer, nearest, whiteL, blackL, black: { xyz: printedXyz(nearest, 0, false), isBroughtTo: target.blackPoint } };
}

/** What is printed of a neutral light. */
function printedXyz(printer: Printer, light: number, paper: boolean): [number, number, number] {
  const planes = [0, 1, 2].map(() => Float32Array.of(light));
  printer.print(planes, paper);
  return [planes[0][0], planes[1][0], planes[2][0]];
}

/** The finished picture as a paper shows it, in output coordinates. @param marked told of places of `marks`, by sample */
export function printedPlanes(
  ctx: EngineContext,
  job: PreparedJob,
  target: OpenTarget,
  level: number,
  rect: Rectangle,
  scope: Scope,
  marks: PrintMarks = "none",
  marked?: (sample: number) => void,
): Planes {
  const planes = composeOutput(ctx, job, level, rect, "finish", scope);
  const own = each(planes).map((at) => ctx.kernels.f32(at, rect.width * rect.height));
  const wanted = own.map((p) => p.slice());
  const print = own.map((p) => p.slice());
  target.printer.print(print, target.target.paper);
  if (marks !== "none" && marked) markPrinted(wanted, target, marks, marked);
  for (let i = 0; i < print[0].length; i++) {
    const [x, y, z] = [print[0][i], print[1][i], print[2][i]];
    for (let c = 0; c < 3; c++) own[c][i] = FROM_PAPER[3 * c] * x + FROM_PAPER[3 * c + 1] * y + FROM_PAPER[3 * c + 2] * z;
  }
  return planes;
}

/** Tells each place that lies outside of a paper, or that prints as its black. */
function markPrinted(wanted: readonly Float32Array[], target: OpenTarget, marks: "outside" | "blocked", marked: (sample: number, by: number) => void): void {
  const got = wanted.map((p) => p.slice());
  (marks === "outside" ? target.nearest : target.printer).print(got, marks === "blocked");
  for (let i = 0; i < got[0].length; i++) {
    const lies: [number, number, number] = [got[0][i], got[1][i], got[2][i]];
    const asked = wantedXyz(wanted[0][i], wanted[1][i], wanted[2][i]);
    if (marks === "blocked") {
      if (isBlocked(paperLab(...asked)[0], paperLab(...lies)[0], target.blackL)) marked(i, 1);
      continue;
    }
    const missed = missedBy(asked, lies, target.black);
    if (isOutside(missed)) marked(i, missed);
  }
}

/** Longest side at which a print is measured, samples, and the side of a place that is told. */
const [SIDE, PLACE] = [1200, 48];

/** What the target makes of the picture; null where none is chosen. */
export async function measurePrint(ctx: EngineContext, records: Records, task: Task): Promise<PrintFigures | null> {
  return targetOf(records) ? measurePrinted(ctx, await prepareJob(ctx, records, task), task) : null;
}

/** The same of a job that is at hand. */
export async function measurePrinted(ctx: EngineContext, job: PreparedJob, task: Task): Promise<PrintFigures | null> {
  const target = await openTarget(ctx, job.records);
  if (!target) return null;
  const { crop } = outputGeometry(job.records);
  const level = Math.min(job.merge.picture.spec.levels - 1, levelOfSide(crop, SIDE));
  const { width, height } = sizeAtLevel(crop.width, crop.height, level);
  const rows = stripRows(job.records, level);
  let missed = 0;
  const counts = { outside: new Tally(width, height), blocked: new Tally(width, height) };
  for (let y = 0; y < height; y += rows) {
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    const wanted = ctx.kernels.withScope((scope) =>
      each(composeOutput(ctx, job, level, rect, "finish", scope)).map((at) => ctx.kernels.f32(at, width * rect.height).slice()),
    );
    markPrinted(wanted, target, "outside", (i, by) => {
      counts.outside.add(i % width, y + Math.floor(i / width));
      missed += by;
    });
    markPrinted(wanted, target, "blocked", (i) => counts.blocked.add(i % width, y + Math.floor(i / width)));
    await task.step(y + rect.height, height, "task.printing");
  }
  const { outside, blocked } = counts;
  const { whiteL, blackL } = target;
  const places = { outside: outside.densest(level, crop), blocked: blocked.densest(level, crop) };
  const shares = { outside: outside.total / (width * height), blocked: blocked.total / (width * height) };
  return { ...shares, missedBy: outside.total ? missed / outside.total : 0, places, whiteL, blackL, firstTone: firstTone(target) };
}

/** Counts samples by square places. */
class Tally {
  total = 0;
  private readonly across: number;
  private readonly counts: Uint32Array;

  constructor(width: number, height: number) {
    this.across = Math.ceil(width / PLACE);
    this.counts = new Uint32Array(this.across * Math.ceil(height / PLACE));
  }

  add(x: number, y: number): void {
    this.total++;
    this.counts[Math.floor(y / PLACE) * this.across + Math.floor(x / PLACE)]++;
  }

  /** The place that holds most, at full size; null where nothing was counted. */
  densest(level: number, bounds: { width: number; height: number }): Rectangle | null {
    if (this.total === 0) return null;
    const most = this.counts.indexOf(this.counts.reduce((a, b) => Math.max(a, b)));
    const side = PLACE * 2 ** level;
    const at = { x: (most % this.across) * side, y: Math.floor(most / this.across) * side, width: side, height: side };
    return intersect(at, { x: 0, y: 0, width: bounds.width, height: bounds.height });
  }
}

/** The darkest neutral code that prints apart from black. */
function firstTone(target: OpenTarget): number {
  const codes = Float32Array.from({ length: 256 }, (_, v) => decodeSrgb(v / 255));
  const ramp = [codes, codes.slice(), codes.slice()];
  target.printer.print(ramp, true);
  for (let v = 1; v < 256; v++) if (!isBlocked(100, paperLab(ramp[0][v], ramp[1][v], ramp[2][v])[0], target.blackL)) return v;
  return 255;
}
