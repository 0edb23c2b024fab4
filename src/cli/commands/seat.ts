import { SUN_DEG } from "../../core/seat/measureShadow";
import { setRegistration, unmovedRegistration } from "../../document/edits";
import { radiusBetween } from "../../core/air/defocus";
import { addLayer, blurLayer } from "../../document/layerEdits";
import { freshMerge, setMerge } from "../../document/mergeEdits";
import { lampsOf, layGlow, layLampLight, layLampShadow, layRelight } from "../../document/lampEdits";
import { overAmbient, ownLight, ratioThere } from "../../document/lampSight";
import type { SeatRecord } from "../../document/records/plateTypes";
import type { FrameRecord, Records } from "../../document/records/types";
import { addSeat, changeSeat, notedFocal, tellPlate } from "../../document/seatEdits";
import { lightOf, seatFigures, standsAt } from "../../document/seatGeometry";
import { CLEAR_EV, layShadow } from "../../document/shadowEdits";
import { documentSize, plateOf, seatsOf } from "../../document/selectors";
import { MOST_DEFOCUS, wholeFrame } from "../../kinds/contents/frame/record";
import type { Task } from "../../engine/task";
import { createNodeEngine, type NodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { numbersOf, progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { readPlate, type Told } from "../readPlate";
import { readLamps, type ToldLamps } from "../readLamps";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const LAYER = "cutout";
const SEAT = "seat";

/** Seats a cut-out in a plate; see docs/cli.md for the contract. */
export async function seat(files: string[], options: Options): Promise<number> {
  if (files.length !== 2) throw new UsageError("seat needs a plate and a cut-out.");
  if (!options.output || !/\.tiff?$/i.test(options.output)) throw new UsageError("seat needs -o OUT.tif.");
  if (options.foot === undefined) throw new UsageError("seat needs --foot x,y.");
  const [x, y] = numbersOf("--foot", "x,y in px of the plate", options.foot, 2);
  const metres = options.height === undefined ? null : numbersOf("--height", "metres", options.height, 1)[0];
  if (metres !== null && !(metres > 0 && metres < 10_000)) throw new UsageError("--height is above 0.");
  const light = options.light === undefined ? null : numbersOf("--light", "azimuth,elevation,sourceDeg", options.light, 3);
  if (light && !(light[1] > 0 && light[1] <= 90)) throw new UsageError("--light stands over the ground: its elevation is above 0 and at most 90.");
  if (light && !(light[2] > 0 && light[2] <= 60)) throw new UsageError("--light is above 0 and at most 60 degrees wide.");
  const lamps = options.lamps === undefined ? null : readLamps(options.lamps);
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "seat", files, task);
  const failed = gathered.files.find((f) => f.error);
  if (failed) throw new Error(`${failed.path}: ${failed.error}`);
  const [plate, cutout] = gathered.files.map((f) => f.frame!);
  if (cutout.alpha === null) throw new Error(`${files[1]}: it has no alpha, so that nothing of it is cut out.`);
  if (x < 0 || y < 0 || x > plate.width - 1 || y > plate.height - 1)
    throw new UsageError(`--foot lies outside of the plate, which is ${plate.width}×${plate.height} px.`);

  const { told, ...measured } = options.plate
    ? readPlate(options.plate, plate)
    : { told: await findPlate(node, plate, files[0], task), ratioEv: null, shadowMired: null, sourceDeg: null };
  const byHand = light && { azimuthDeg: light[0], elevationDeg: light[1] };
  let records: Records = setMerge(freshMerge("base", { baseId: plate.id }))(setRegistration(unmovedRegistration([plate], plate, 1), {})(gathered.records));
  records = tellPlate({ ...told, ...(byHand ? { light: byHand } : {}) })(records);
  const cut = { by: "alpha" as const, box: null, plateId: null, plateMatrix: null, marks: [] };
  records = addLayer({ id: LAYER, name: LAYER, content: wholeFrame(cutout.id, { cut }), blendIn: "light" })(records);
  const own = await node.ask("standsAt", { records, layerId: LAYER }, task);
  if (!own) throw new Error(`${files[1]}: nothing shows in it.`);
  records = addSeat(LAYER, own, { x, y }, SEAT)(records);
  if (metres !== null) records = changeSeat(SEAT, { heightM: metres, heightBy: "hand" })(records);
  const [seated] = seatsOf(records);
  const figures = seatFigures(records, seated);
  if (!figures) throw new UsageError("--foot lies at the horizon or above it: there is no ground.");
  const isLit = byHand !== null || told.light != null;
  if (options.shadow && !isLit) throw new UsageError("--shadow needs --light, or a plate whose light is known.");
  const thrown = options.shadow ? { ...measured, ratioEv: measured.ratioEv ?? CLEAR_EV, sourceDeg: light?.[2] ?? measured.sourceDeg ?? SUN_DEG } : null;
  if (thrown) {
    const lit = await node.ask("litGround", { records, seatId: SEAT, ratioEv: thrown.ratioEv }, task);
    records = layShadow(SEAT, thrown, { shadow: "shadow", contact: "contact" }, lit)(records);
  }
  const turned = options.relight ? await relit(node, records, light, measured.ratioEv, task) : null;
  if (turned) records = turned.records;
  if (lamps) records = await withLamps(node, records, lamps, task);
  const blur = options.defocus ? await defocused(node, records, task) : null;
  if (blur) records = blur.records;
  const settings = { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
  const result = await node.ask("exportPicture", { records, settings }, task);
  writeParts(options.output, result.parts);
  const json = {
    version: 1,
    output: options.output,
    foot: [x, y],
    distanceM: figures.distanceM,
    heightPx: figures.heightPx,
    heightM: seated.heightM,
    ...(blur ? { defocus: blur.told } : {}),
    ...(turned ? { relight: turned.from } : {}),
    ...(lamps ? { lamps: lampsOf(plateOf(records)).map((l) => ({ kind: l.is, ev: l.ev, overEv: overAmbient(plateOf(records)!, plate, l, seated) })) } : {}),
    shadow: thrown && { ratioEv: thrown.ratioEv, sourceDeg: thrown.sourceDeg },
  };
  report(options, json, [
    `${options.output}: it stands ${figures.distanceM!.toFixed(2)} m away and is ${figures.heightPx.toFixed(1)} px tall`,
    ...(thrown ? [`Its shadow is ${thrown.ratioEv.toFixed(1)} EV darker, of a light ${thrown.sourceDeg.toFixed(2)}° wide`] : []),
  ]);
  return 0;
}

/** The light on it turned to the plate's. */
async function relit(node: NodeEngine, records: Records, light: number[] | null, ratioEv: number | null, task: Task) {
  const [plate, size] = [plateOf(records)!, documentSize(records)!];
  const foot = standsAt(plate, size, records[SEAT] as SeatRecord);
  if (!foot || (!light && typeof lightOf(plate, size) === "string")) throw new UsageError("--relight needs --light, or a plate whose light is known.");
  const own = await node.ask("outlineLight", { records, layerId: LAYER }, task);
  const from = ownLight(foot, own);
  return { from, records: layRelight(LAYER, { ...from, toRatioEv: ratioThere(ratioEv) }, "relight")(records) };
}

/** Brought to the blur of the plate where it stands, as far as it is sharper than that. */
async function defocused(node: NodeEngine, records: Records, task: Task) {
  const edges = await node.ask("measureBlur", { records, seatId: SEAT }, task);
  const radiusPx = edges?.platePx && edges.ownPx ? radiusBetween(edges.ownPx, edges.platePx) : null;
  const told = { platePx: edges?.platePx ?? null, ownPx: edges?.ownPx ?? null, radiusPx };
  return { told, records: radiusPx ? blurLayer(LAYER, { radiusPx: Math.min(MOST_DEFOCUS, radiusPx), motionPx: 0, motionDeg: 0 })(records) : records };
}

/** Lamps on it and on the plate, the shadows it throws by them, and their glow. */
async function withLamps(node: NodeEngine, given: Records, { lamps, ambientEv }: ToldLamps, task: Task): Promise<Records> {
  const measured = ambientEv ?? (await node.ask("findLamps", { records: given }, task)).ambientEv;
  let records = tellPlate({ lamps, ambientEv: measured })(given);
  for (const { id, isAdded } of lamps) {
    if (isAdded) {
      const spread = await node.ask("lampGlow", { records, lampId: id }, task);
      records = layGlow(id, spread, "glow")(layLampLight(id, null, "ground")(records));
    }
    records = layLampShadow(id, LAYER, "lamp's shadow")(layLampLight(id, LAYER, "lamp")(records));
  }
  return records;
}

async function findPlate(node: NodeEngine, frame: FrameRecord, path: string, task: Task): Promise<Told> {
  const found = await node.ask("findPlate", { frame, focal: notedFocal(frame) }, task);
  if (!found) throw new Error(`${path}: its lines tell no horizon; give one by --plate PLATE.json.`);
  return { stance: found.stance, horizonBy: "found" };
}
