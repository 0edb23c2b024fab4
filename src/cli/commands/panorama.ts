import type { FramePlacement } from "../../document/records/types";
import { sentence } from "../../messages/sentence";
import type { OfPanorama } from "../../kinds/merges/panorama/record";
import { attitudeOf, rotationOf, transpose } from "../../core/panorama/camera";
import { bendCost } from "../../core/panorama/bend";
import { multiply } from "../../core/geometry/matrix3";
import { PROJECTIONS, type ProjectionName } from "../../core/panorama/projections";
import { setGeometry } from "../../document/edits";
import { freshMerge, setMerge, takeMerge } from "../../document/mergeEdits";
import { setPanorama } from "../../document/panoramaEdits";
import { outputGeometry } from "../../document/outputGeometry";
import type { PreparedPanorama } from "../../engine/operations/panorama/preparePanorama";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const FORMATS: Record<string, ExportSettings["format"]> = { tif: "tiff16", tiff: "tiff16", png: "png16", jpg: "jpeg", jpeg: "jpeg" };
const RATIO = /^\d+(\.\d+)?:\d+(\.\d+)?$/;

/** Joins overlapping frames into one wide picture; see docs/cli.md for the contract. */
export async function panorama(args: string[], options: Options): Promise<number> {
  const { files, crop, ratio } = readCrop(args, options);
  if (files.length === 0) throw new UsageError("panorama needs at least two files.");
  const format = options.output ? FORMATS[options.output.split(".").pop()!.toLowerCase()] : undefined;
  if (options.output && !format)
    throw new UsageError(
      `panorama writes ${Object.keys(FORMATS)
        .map((e) => `.${e}`)
        .join(", ")}.`,
    );
  const projection = (options.projection ?? null) as ProjectionName | null;
  if (projection !== null && !PROJECTIONS.includes(projection)) throw new UsageError(`--projection is one of ${PROJECTIONS.join(", ")}.`);
  const focalPx = options["focal-px"] === undefined ? null : Number(options["focal-px"]);
  if (focalPx !== null && !(focalPx > 0)) throw new UsageError(`--focal-px is a number above 0; got "${options["focal-px"]}".`);

  const bent = options.bend === undefined ? 0 : Number(options.bend) / 100;
  if (!(bent >= 0 && bent <= 1)) throw new UsageError(`--bend is a number from 0 to 100, percent; got "${options.bend}".`);

  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "panorama", files, task);
  const frames = gathered.files.flatMap((f) => (f.frame ? [f.frame] : []));
  const found = await node.ask("preparePanorama", { frames, request: { focalPx, points: [], levels: [], bent, projection } }, task);
  let records = setPanorama(found.registration, found.panorama)(gathered.records);
  const area = await node.ask("panoramaCrop", { records, ratio });
  if (ratio !== null && !area) throw new Error("No rectangle of that ratio lies inside the frames.");
  if (area) records = setGeometry({ angleDeg: 0, crop: area.crop, ratio })(records);
  const draft = freshMerge("panorama");
  const facts = await node.ask("merge", { records: setMerge(draft)(records), method: "panorama" }, task);
  records = takeMerge(draft, facts)(records);
  const fileOf = (id: string) => gathered.files.find((f) => f.frame?.id === id)!.path;

  let size = { width: found.panorama.view.width, height: found.panorama.view.height };
  if (options.output) {
    const settings: ExportSettings = { format: format!, quality: 95, space: "srgb", content: "finished", crop };
    const result = await node.ask("exportPicture", { records, settings, method: "panorama" }, task);
    writeParts(options.output, result.parts);
    size = { width: result.width, height: result.height };
  } else if (crop) size = outputGeometry(records).crop;
  const json = {
    version: 1,
    output: options.output ?? null,
    ...size,
    projection: found.panorama.view.projection,
    projectionReason: sentence(found.panorama.proposal.reason),
    focalPx: found.panorama.lens.focalPx,
    focalSd: found.panorama.lens.focalSd,
    k1Unit: "focal",
    frames: gathered.files.map(({ path, frame, error }) => ({
      file: path,
      ...frameJson(found, frame?.id),
      reason: error ?? whyOut(placementOf(found, frame?.id)),
    })),
    pairs: found.panorama.pairs.map(({ aId, bId, places: _places, ...p }) => ({ files: [fileOf(aId), fileOf(bId)], ...p })),
    seams: ((facts.own as OfPanorama).seams ?? []).map(({ aId, bId, ...s }) => ({ files: [fileOf(aId), fileOf(bId)], ...s })),
    picture: pictureOf(found),
    crop: crop ? outputGeometry(records).crop : { x: 0, y: 0, width: found.panorama.view.width, height: found.panorama.view.height },
  };
  report(options, json, [
    ...(options.output ? [`${options.output}: ${size.width}×${size.height} px`] : [`${size.width}×${size.height} px`]),
    `${json.projection}. ${json.projectionReason}`,
    ...json.frames.map((f) =>
      f.placed
        ? `${f.file}: yaw ${f.yawDeg!.toFixed(2)}°, pitch ${f.pitchDeg!.toFixed(2)}°, roll ${f.rollDeg!.toFixed(2)}°, ${f.residualPx!.toFixed(2)} px left`
        : `${f.file}: left out. ${f.reason}`,
    ),
    ...json.seams.map((s) => `${s.files.join(" and ")}: ΔE ${s.deltaE.toFixed(2)} along ${s.lengthPx} px`),
  ]);
  return gathered.files.some((f) => f.error) ? 1 : 0;
}

/** --crop inscribed, --crop ratio 2:1 (or 2:1 alone), --crop none. */
function readCrop(args: string[], options: Options): { files: string[]; crop: boolean; ratio: number | null } {
  const value = options.crop ?? "inscribed";
  const at = value === "ratio" ? args.findIndex((a) => RATIO.test(a)) : -1;
  if (value === "ratio" && at < 0) throw new UsageError("--crop ratio is followed by a ratio, as 2:1.");
  const text = at >= 0 ? args[at] : value;
  if (!RATIO.test(text)) {
    if (text !== "inscribed" && text !== "none") throw new UsageError(`--crop is inscribed, none, or a ratio as 2:1; got "${text}".`);
    return { files: args, crop: text === "inscribed", ratio: null };
  }
  const [w, h] = text.split(":").map(Number);
  if (!(w > 0 && h > 0)) throw new UsageError(`--crop: "${text}" is not a ratio.`);
  return { files: args.filter((_, i) => i !== at), crop: true, ratio: w / h };
}

/** A frame's direction as the level picture has it: x right, y down, z to its middle. */
function frameJson(found: PreparedPanorama, frameId: string | undefined) {
  const { frames, lens, view } = found.panorama;
  const frame = frames.find((f) => f.frameId === frameId);
  if (!frame?.rotation) {
    return { placed: false, yawDeg: null, pitchDeg: null, rollDeg: null, rotation: null, focalPx: null, k1: null, k2: null, residualPx: null, sdDeg: null };
  }
  const m = multiply(transpose(rotationOf(view)), frame.rotation);
  return {
    placed: true,
    ...attitudeOf(m),
    rotation: [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)],
    focalPx: lens.focalPx,
    k1: lens.k1,
    k2: lens.k2,
    residualPx: placementOf(found, frameId)?.residualPx ?? null,
    sdDeg: frame.sdDeg,
  };
}

/** The whole picture: its size, px a radian in the middle, where its first px lies from there, px, and what bending its border outwards costs. */
function pictureOf({ panorama: { view } }: PreparedPanorama) {
  const { width, height, scalePx, originX, originY, bend } = view;
  return { width, height, scalePx, originX, originY, bend: bend && { amount: bend.amount, ...bendCost(bend, width, height) } };
}

const whyOut = (placement: FramePlacement | undefined) => (placement?.reason ? sentence(placement.reason) : null);
const placementOf = ({ registration }: PreparedPanorama, frameId: string | undefined) => registration.placements.find((p) => p.frameId === frameId);
