import { readFileSync } from "node:fs";
import { hasLens } from "../../core/geometry/lens";
import { IDENTITY } from "../../core/geometry/matrix3";
import { message } from "../../messages/message";
import type { FrameRecord, Records } from "../../document/records/types";
import type { CutRequest } from "../../engine/operations/matte/requests";
import type { CutMark } from "../../kinds/contents/frame/record";
import type { Task } from "../../engine/task";
import { sentence } from "../../messages/sentence";
import { createNodeEngine, type NodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { numbersOf, progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

/** Cuts something out of a picture; see docs/cli.md for the contract. */
export async function matte(files: string[], options: Options): Promise<number> {
  const told = [options.box, options.trimap, options.clean, options.backdrop].filter((v) => v !== undefined && v !== false);
  if (files.length !== 1) throw new UsageError("matte needs one picture.");
  if (told.length !== 1) throw new UsageError("matte needs one of --box x,y,w,h, --trimap FILE, --clean FILE and --backdrop.");
  for (const path of [options.output, options.foreground]) if (path && !/\.tiff?$/i.test(path)) throw new UsageError("matte writes .tif.");
  if (!options.output) throw new UsageError("matte needs -o ALPHA.tif.");
  const box = options.box === undefined ? null : numbersOf("--box", "x,y,w,h in px", options.box, 4);
  const marks = [...marksOf("--keep", options.keep, "keep"), ...marksOf("--leave", options.leave, "leave")];
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "matte", options.clean ? [files[0], options.clean] : files, task);
  const failed = gathered.files.find((f) => f.error);
  if (failed) throw new Error(`${failed.path}: ${failed.error}`);
  const [frame, clean] = gathered.files.map((f) => f.frame!);
  const outside = marks.map((m) => m.points).find(([x, y]) => x < 0 || y < 0 || x >= frame.width || y >= frame.height);
  if (outside) throw new UsageError(`The place ${outside.join(",")} lies outside of the picture, which is ${frame.width}×${frame.height} px.`);
  const cutting = await cuttingOf(node, gathered.records, frame, clean, box, options, task);
  const { alpha, front, figures } = await node.ask("cutOut", { frame, cutting, marks, withFront: options.foreground !== undefined }, task);
  writeParts(options.output, alpha);
  if (options.foreground && front) writeParts(options.foreground, front);
  const { band, share, spillDeltaE, islands, holes } = figures;
  report(options, { version: 1, output: options.output, foreground: options.foreground ?? null, band, share, spillDeltaE, islands, holes }, [
    `${options.output}: ${(100 * share).toFixed(1)} % of the picture is in front`,
    `The band has ${band.pixels} px; alpha changes over ${band.widthPx.toFixed(1)} px on the average`,
    `Colours of the rim lean ΔE ${spillDeltaE.toFixed(1)} towards what was behind; ${islands.length} parts lie apart, ${holes.length} gaps show through`,
  ]);
  return 0;
}

async function cuttingOf(
  node: NodeEngine,
  records: Records,
  frame: FrameRecord,
  clean: FrameRecord | undefined,
  box: number[] | null,
  options: Options,
  task: Task,
): Promise<CutRequest> {
  if (box) {
    const [x, y, width, height] = box;
    if (width < 8 || height < 8 || x < 0 || y < 0 || x + width > frame.width || y + height > frame.height)
      throw new UsageError(`--box is at least 8×8 px and lies within the picture, which is ${frame.width}×${frame.height} px.`);
    return { by: "box", box: { x, y, width, height } };
  }
  if (options.trimap !== undefined) {
    const { width, height, codes } = await node.ask("readCodes", { bytes: new Uint8Array(readFileSync(options.trimap)) });
    if (width !== frame.width || height !== frame.height)
      throw new Error(`${options.trimap}: ${width}×${height} px, but the picture has ${frame.width}×${frame.height}.`);
    return { by: "trimap", codes };
  }
  if (!clean) return { by: "backdrop" };
  const request = { referenceId: frame.id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const { registration } = await node.ask("register", { records, frames: [frame, clean], request }, task);
  const placed = registration.placements.find((p) => p.frameId === clean.id);
  const isSameSize = clean.width === frame.width && clean.height === frame.height;
  // an even plate has nothing to register by; whether it shows the same view is seen when it is held to the picture
  if (!placed?.matrix && isSameSize) return { by: "plate", frame: clean, matrix: [...IDENTITY], lens: null };
  if (!placed?.matrix) throw new Error(`${options.clean}: ${placed?.reason ? sentence(placed.reason) : "It was not registered."}`);
  return { by: "plate", frame: clean, matrix: placed.matrix, lens: hasLens(placed.lens) ? placed.lens : null };
}

function marksOf(option: string, values: string[] | undefined, what: CutMark["what"]): CutMark[] {
  return (values ?? []).map((text) => {
    const [x, y, radius] = numbersOf(option, "x,y,r in px", text, 3);
    if (!(radius > 0)) throw new UsageError(`${option} has a radius above 0; got "${text}".`);
    return { what, diameterPx: 2 * radius, points: [x, y] };
  });
}
