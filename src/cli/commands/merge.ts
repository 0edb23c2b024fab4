import type { MergeMethod } from "../../core/merge/mergeMethods";
import { setMerge, setRegistration, unmovedRegistration, updateRecord } from "../../document/edits";
import type { FrameRecord, Records, SetRecord } from "../../document/records/types";
import { registrationOf, workingSetIdOf } from "../../document/selectors";
import { proposeReference } from "../../document/proposeReference";
import { REGISTRATION_VERSION } from "../../engine/operations/registerFrames";
import type { ExportSettings } from "../../engine/sinks/exportPicture";
import type { Task } from "../../engine/task";
import { createNodeEngine, type NodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const ENCODED: Record<string, ExportSettings["format"]> = { tif: "tiff16", tiff: "tiff16", jpg: "jpeg", jpeg: "jpeg" };
const FORMATS: Record<MergeMethod, Record<string, ExportSettings["format"]>> = {
  radiance: { hdr: "hdr", tif: "tiff32", tiff: "tiff32" },
  fusion: ENCODED,
  focus: ENCODED,
  clippedMean: ENCODED,
  mean: ENCODED,
  median: ENCODED,
};
/** Methods by the names that the command line gives them. */
const METHODS: Record<string, MergeMethod> = { radiance: "radiance", fusion: "fusion", focus: "focus", clipped: "clippedMean", mean: "mean", median: "median" };

/** Merges files into one picture without opening the application. */
export async function merge(args: string[], options: Options): Promise<number> {
  const [named, ...files] = args;
  const method = METHODS[named];
  if (!method) throw new UsageError(`merge is followed by one of ${Object.keys(METHODS).join(", ")}.`);
  if (options.depth && method !== "focus") throw new UsageError("--depth goes with merge focus.");
  if (files.length === 0) throw new UsageError("merge needs at least one file.");
  if (!options.output) throw new UsageError("merge needs -o FILE.");
  const format = FORMATS[method][options.output.split(".").pop()!.toLowerCase()];
  if (!format) throw new UsageError(`merge ${named} writes ${[...new Set(Object.keys(FORMATS[method]))].map((e) => `.${e}`).join(", ")}.`);
  const ev = options.ev?.split(",").map(Number);
  if (ev && (ev.length !== files.length || ev.some((v) => !Number.isFinite(v))))
    throw new UsageError(`--ev needs one number a file: ${files.length} files, got "${options.ev}".`);
  if (options.response !== undefined && options.response !== "srgb" && options.response !== "linear") throw new UsageError("--response is srgb or linear.");

  const node = await createNodeEngine(ROOT);
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "merge", files, task);
  const bad = gathered.files.find((f) => f.error);
  if (bad) throw new Error(`${bad.path}: ${bad.error}`);
  if (method !== "radiance" && method !== "fusion" && files.length < 2) throw new UsageError(`merge ${named} needs at least two files.`);
  const frames = gathered.files.map((f) => f.frame!);
  if (options.response === "linear") for (const f of frames) takeAsLinear(node, f.sourceId);
  const reference = options.reference ? frames[files.indexOf(options.reference)] : proposeReference(frames).frame;
  if (!reference) throw new UsageError(`--reference ${options.reference} is not among the files.`);

  const kind = method === "focus" ? "focus" : "bracket";
  const read = gathered.records;
  let records = await placeFrames(node, updateRecord<SetRecord>(workingSetIdOf(read), { setKind: kind })(read), frames, reference, options, task);
  if (ev) records = setRegistration(registrationOf(records)!, Object.fromEntries(frames.map((f, i) => [f.id, ev[i]])))(records);
  const facts = await node.engine.merge(records, method, task);
  records = setMerge({ operationVersion: 1, method, contrast: 1, saturation: 1, exposedness: 1, ...facts })(records);
  const crop = !options["no-crop"];
  const result = await node.engine.export(records, { format, quality: 95, space: "srgb", content: "merge", crop }, task, method);
  writeParts(options.output, result.parts);
  if (options.depth) writeParts(options.depth, await node.engine.exportDepth(records, crop, task));

  const registration = registrationOf(records)!;
  const json = {
    version: 1,
    method: named,
    negatives: result.negatives,
    output: options.output,
    width: result.width,
    height: result.height,
    reference: files[frames.indexOf(reference)],
    crop: crop ? registration.proposedCrop : { x: 0, y: 0, width: reference.width, height: reference.height },
    frames: frames.map((f, i) => {
      const p = registration.placements.find((q) => q.frameId === f.id)!;
      return { file: files[i], share: facts.shares[f.id] ?? 0, registered: p.registered, residualPx: p.residualPx, reason: p.reason };
    }),
    noiseGain: facts.noiseGain,
    depth: options.depth ?? null,
    motion: facts.motion.map((m) => ({ ...m.rectangle, frames: m.frames })),
  };
  report(options, json, [
    `${options.output}: ${result.width}×${result.height} px, ${(result.bytes / 1e6).toFixed(1)} MB`,
    ...json.frames.map((f) => (f.registered ? `${f.file}: ${(100 * f.share).toFixed(1)} % of the picture` : `${f.file}: left out. ${f.reason}`)),
  ]);
  return 0;
}

async function placeFrames(node: NodeEngine, records: Records, frames: FrameRecord[], reference: FrameRecord, options: Options, task: Task): Promise<Records> {
  if (!options["no-register"]) {
    const { registration, measuredEv } = await node.engine.register(
      records,
      frames,
      { referenceId: reference.id, referenceReason: "proposed", model: "auto" },
      task,
    );
    return setRegistration(registration, measuredEv)(records);
  }
  const odd = frames.findIndex((f) => f.width !== reference.width || f.height !== reference.height);
  if (odd >= 0) throw new UsageError(`--no-register needs frames of one size; ${frames[odd].fileName} is ${frames[odd].width}×${frames[odd].height} px.`);
  const registration = unmovedRegistration(frames, reference, REGISTRATION_VERSION);
  const placed = setRegistration(registration, {})(records);
  return setRegistration(registration, await node.engine.measurePlacedExposures(placed, task))(placed);
}

function takeAsLinear(node: NodeEngine, sourceId: string): void {
  const color = node.ctx.colors.get(sourceId);
  if (!color) return;
  const same = (v: number) => v;
  node.ctx.colors.set(sourceId, { ...color, name: "linear", curves: [same, same, same] });
}
