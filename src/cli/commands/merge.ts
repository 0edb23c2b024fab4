import { sentence } from "../../messages/sentence";
import { lateralOfReference } from "../../engine/operations/merge/measureLateralColour";
import { FRAME_COLORS } from "../../core/color/frameColors";
import { countCells, runRectangle } from "../../core/masks/cellRuns";
import { believeExposures } from "../../core/merge/believeExposures";
import { UNUSED_SHARE } from "../../core/merge/frameShares";
import { GHOST_THRESHOLD } from "../../core/merge/findGhosts";
import { mergeKind, type MergeMethod } from "../../kinds/merges/records";
import { setRegistration, unmovedRegistration, updateRecord } from "../../document/edits";
import type { LateralColour } from "../../core/measure/lateralColour";
import { freshMerge, setMerge, takeMerge } from "../../document/mergeEdits";
import type { FrameRecord, Records, SetRecord } from "../../document/records/types";
import type { OfLight, OfMean, ResponseChoice } from "../../kinds/merges/fields";
import { ghostsOf, mergedFramesOf, registrationOf, relativeEvOf, responseInForce, workingSetIdOf } from "../../document/selectors";
import { mergeRemarks } from "../../document/mergeRemarks";
import { proposeReference } from "../../document/proposeReference";
import { REGISTRATION_VERSION } from "../../engine/operations/register/registerFrames";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";
import type { Task } from "../../engine/task";
import { createNodeEngine, type NodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const ENCODED: Record<string, ExportSettings["format"]> = { tif: "tiff16", tiff: "tiff16", jpg: "jpeg", jpeg: "jpeg" };
/** A panorama has a command of its own. */
type Named = Exclude<MergeMethod, "panorama">;
const FORMATS: Record<Named, Record<string, ExportSettings["format"]>> = {
  radiance: { hdr: "hdr", tif: "tiff32", tiff: "tiff32" },
  fusion: ENCODED,
  focus: ENCODED,
  clippedMean: ENCODED,
  mean: ENCODED,
  median: ENCODED,
  base: ENCODED,
};
/** Methods by the names that the command line gives them. */
const METHODS: Record<string, Named> = {
  radiance: "radiance",
  fusion: "fusion",
  focus: "focus",
  clipped: "clippedMean",
  mean: "mean",
  median: "median",
  base: "base",
};

/** No two exposures of one scene lie farther apart. */
const MOST_EV = 30;

const RESPONSES = ["auto", "assumed", "recovered", "srgb", "linear"];

/** What --undo-lateral undoes. @throws Error where it cannot be measured */
async function lateralOf(node: NodeEngine, records: Records, task: Task): Promise<LateralColour> {
  const found = await lateralOfReference(node.ctx, records, task);
  if (!found) throw new Error("Lateral colour cannot be measured: too few edges of the reference show it. Merge without --undo-lateral.");
  return { red: found.red, blue: found.blue };
}

/** Merges files into one picture without opening the application. */
export async function merge(args: string[], options: Options): Promise<number> {
  const [named, ...files] = args;
  const method = METHODS[named];
  if (!method) throw new UsageError(`merge is followed by one of ${Object.keys(METHODS).join(", ")}.`);
  const wanted = parseMergeOptions(named, method, files, options);

  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "merge", files, task);
  const bad = gathered.files.find((f) => f.error);
  if (bad) throw new Error(`${bad.path}: ${bad.error}`);
  if (!mergeKind(method).comparesLight && files.length < 2) throw new UsageError(`merge ${named} needs at least two files.`);
  const frames = gathered.files.map((f) => f.frame!);
  if (options.response === "linear") for (const f of frames) takeAsLinear(node, f.sourceId);
  const reference = options.reference ? frames[files.indexOf(options.reference)] : proposeReference(frames).frame;
  if (!reference) throw new UsageError(`--reference ${options.reference} is not among the files.`);

  const kind = method === "focus" ? "focus" : "bracket";
  let read = updateRecord<SetRecord>(workingSetIdOf(gathered.records), { setKind: kind })(gathered.records);
  // what the person says counts as metadata would
  if (wanted.ev) read = frames.reduce((r, f, i) => updateRecord<FrameRecord>(f.id, { meteredEv: wanted.ev![i] })(r), read);
  let records = await placeFrames(node, read, frames, reference, options, task);
  if (wanted.ev) records = withTold(records, frames, wanted.ev, frames.indexOf(reference));
  const draft = freshMerge(method, {
    lateral: options["undo-lateral"] ? await lateralOf(node, records, task) : null,
    ghostThreshold: wanted.threshold ?? GHOST_THRESHOLD,
    baseId: options.base ? frames[files.indexOf(options.base)].id : null,
    ...(mergeKind(method).comparesLight && {
      response: { choice: wanted.response, found: null },
      fringe: { removed: options["remove-fringe"] ?? false, facts: null },
    }),
    ...(method === "fusion" && wanted.weights),
  });
  const facts = await node.ask("merge", { records: setMerge(draft)(records), method }, task);
  records = takeMerge(draft, wanted.threshold === null ? { ...facts, ghosts: null } : facts)(records);
  const shares = await node.ask("shares", { records }, task);
  const crop = !options["no-crop"];
  const result = await node.ask(
    "exportPicture",
    { records, settings: { format: wanted.format, quality: 95, space: "srgb", content: "merge", crop }, method },
    task,
  );
  writeParts(options.output!, result.parts);
  if (options.depth) writeParts(options.depth, await node.ask("exportDepth", { records, cropped: crop }, task));
  for (const [path, map] of [
    [options["ghost-map"], "ghosts"],
    [options.provenance, "provenance"],
    [options.confidence, "confidence"],
  ] as const) {
    if (path) writeParts(path, [await node.ask("exportMap", { records, kind: map, cropped: crop, method }, task)]);
  }

  const registration = registrationOf(records)!;
  const fileOf = (id: string | null) => (id === null ? null : files[frames.findIndex((f) => f.id === id)]);
  const used = responseInForce(records);
  const own = facts.own as Partial<OfLight & OfMean>;
  const json = {
    version: 2,
    method: named,
    negatives: result.negatives,
    output: options.output,
    width: result.width,
    height: result.height,
    reference: files[frames.indexOf(reference)],
    crop: crop ? registration.proposedCrop : { x: 0, y: 0, width: reference.width, height: reference.height },
    frames: frames.map((f, i) => {
      const p = registration.placements.find((q) => q.frameId === f.id)!;
      const share = shares[f.id] ?? 0;
      return {
        file: files[i],
        share,
        unused: share < UNUSED_SHARE,
        color: FRAME_COLORS[mergedFramesOf(records).findIndex((m) => m.frame.id === f.id) % FRAME_COLORS.length] ?? null,
        meteredEv: f.meteredEv,
        ev: used?.relativeEv[f.id] ?? relativeEvOf(records, f.id),
        registered: p.registered,
        residualPx: p.residualPx,
        reason: p.reason && sentence(p.reason),
      };
    }),
    response: own.response?.found ? { ...own.response.found, relativeEv: undefined, used: used !== null } : null,
    fringe: own.fringe?.facts ?? null,
    noiseGain: own.noiseGain ?? null,
    depth: options.depth ?? null,
    ghosts: ghostsOf(records).map((g) => {
      return {
        number: g.number,
        ...runRectangle(g.runs, g.cellPx),
        areaPx: countCells(g.runs) * g.cellPx ** 2,
        strength: g.strength,
        donor: fileOf(g.donorId),
        proposed: fileOf(g.proposedId),
        reason: sentence(g.reason),
      };
    }),
    remarks: mergeRemarks(records).map(sentence),
    ghostShare: facts.ghosts?.share ?? 0,
  };
  report(options, json, [
    `${options.output}: ${result.width}×${result.height} px, ${(result.bytes / 1e6).toFixed(1)} MB`,
    ...json.frames.map((f) =>
      f.registered ? `${f.file}: ${f.unused ? "unused" : `${(100 * f.share).toFixed(1)} % of the picture`}` : `${f.file}: left out. ${f.reason}`,
    ),
    ...json.ghosts.map(
      (g) => `something moved at ${g.x},${g.y} ${g.width}×${g.height} px: ${g.donor ? `taken from ${g.donor}` : "merged as it is"}. ${g.reason}`,
    ),
  ]);
  return 0;
}

/** Reads what was asked for. @throws UsageError with what is wrong */
function parseMergeOptions(named: string, method: Named, files: string[], options: Options) {
  if (options.depth && method !== "focus") throw new UsageError("--depth goes with merge focus.");
  if (files.length === 0) throw new UsageError("merge needs at least one file.");
  if (!options.output) throw new UsageError("merge needs -o FILE.");
  const format = FORMATS[method][options.output.split(".").pop()!.toLowerCase()];
  if (!format) throw new UsageError(`merge ${named} writes ${[...new Set(Object.keys(FORMATS[method]))].map((e) => `.${e}`).join(", ")}.`);
  const ev = options.ev?.split(",").map(Number);
  if (ev && (ev.length !== files.length || ev.some((v) => !(Math.abs(v) <= MOST_EV))))
    throw new UsageError(`--ev needs one number from −${MOST_EV} to ${MOST_EV} a file: ${files.length} files, got "${options.ev}".`);
  if (options.response !== undefined && !RESPONSES.includes(options.response)) throw new UsageError(`--response is one of ${RESPONSES.join(", ")}.`);
  // a named curve leaves nothing to be recovered
  const response = options.response === "srgb" || options.response === "linear" ? "assumed" : ((options.response ?? "auto") as ResponseChoice);
  const weights = options.weights?.split(",").map(Number);
  if (weights && (weights.length !== 3 || weights.some((v) => !(v >= 0 && v <= 4))))
    throw new UsageError("--weights needs three numbers from 0 to 4: contrast,saturation,exposedness.");
  const threshold = options.ghosts === "off" ? null : options.ghosts === undefined ? undefined : Number(options.ghosts);
  if (typeof threshold === "number" && !(threshold >= 1 && threshold <= 100))
    throw new UsageError('--ghosts is "off" or a number from 1 to 100, multiples of the noise.');
  if (options.base && !files.includes(options.base)) throw new UsageError(`--base ${options.base} is not among the files.`);
  const [contrast, saturation, exposedness] = weights ?? [];
  return { format, ev, response, threshold, weights: weights && { contrast, saturation, exposedness } };
}

async function placeFrames(node: NodeEngine, records: Records, frames: FrameRecord[], reference: FrameRecord, options: Options, task: Task): Promise<Records> {
  if (!options["no-register"]) {
    const { registration, measuredEv } = await node.ask(
      "register",
      { records, frames, request: { referenceId: reference.id, referenceReason: proposeReference(frames).reason, model: "auto" } },
      task,
    );
    return setRegistration(registration, measuredEv)(records);
  }
  const odd = frames.findIndex((f) => f.width !== reference.width || f.height !== reference.height);
  if (odd >= 0) throw new UsageError(`--no-register needs frames of one size; ${frames[odd].fileName} is ${frames[odd].width}×${frames[odd].height} px.`);
  const registration = unmovedRegistration(frames, reference, REGISTRATION_VERSION);
  const placed = setRegistration(registration, {})(records);
  return setRegistration(registration, await node.ask("measurePlacedExposures", { records: placed }, task))(placed);
}

function takeAsLinear(node: NodeEngine, sourceId: string): void {
  const color = node.ctx.colors.get(sourceId);
  if (!color) return;
  const same = (v: number) => v;
  node.ctx.colors.set(sourceId, { ...color, name: "linear", curves: [same, same, same] });
}

/** Exposures as told, but for those that the pixels deny, for which stands what was measured. */
function withTold(records: Records, frames: FrameRecord[], told: number[], reference: number): Records {
  const judged = believeExposures(
    told,
    frames.map((f) => relativeEvOf(records, f.id)),
    reference,
  );
  return setRegistration(registrationOf(records)!, Object.fromEntries(frames.map((f, i) => [f.id, judged[i].ev])))(records);
}
