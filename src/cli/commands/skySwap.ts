import { setRegistration, unmovedRegistration } from "../../document/edits";
import { freshMerge, setMerge } from "../../document/mergeEdits";
import type { Records } from "../../document/records/types";
import { guessedPlate, notedFocal, tellPlate } from "../../document/seatEdits";
import { layOtherSky, proposedSky, skyCovers, skySun } from "../../document/skyEdits";
import { plateOf } from "../../document/selectors";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { numbersOf, progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { readPlate } from "../readPlate";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const WATER = "water";

/** Puts another sky behind a land; see docs/cli.md for the contract. */
export async function skySwap(files: string[], options: Options): Promise<number> {
  if (files.length !== 2) throw new UsageError("sky-swap needs a land and a sky.");
  if (!options.output || !/\.tiff?$/i.test(options.output)) throw new UsageError("sky-swap needs -o OUT.tif.");
  const pan = options.pan === undefined ? 0 : numbersOf("--pan", "degrees to the right", options.pan, 1)[0];
  if (Math.abs(pan) > 180) throw new UsageError("--pan is from -180 to 180.");
  const amount = options["land-light"] === undefined ? null : numbersOf("--land-light", "a share, 0 to 1", options["land-light"], 1)[0];
  if (amount !== null && !(amount >= 0 && amount <= 1)) throw new UsageError("--land-light is from 0 to 1.");
  const water = options.water === undefined ? null : cornersOf(options.water);
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "sky-swap", files, task);
  const failed = gathered.files.find((f) => f.error);
  if (failed) throw new Error(`${failed.path}: ${failed.error}`);
  const [land, sky] = gathered.files.map((f) => f.frame!);
  const size = { width: land.width, height: land.height };
  const [old, own] = [await node.ask("measureSky", { frame: land }, task), await node.ask("measureSky", { frame: sky }, task)];
  if (!old?.hasLand) throw new Error(`${files[0]}: ${old ? "nothing but sky shows in it" : "no sky shows in it"}.`);
  if (!own) throw new Error(`${files[1]}: no sky shows in it.`);

  let records: Records = setMerge(freshMerge("base", { baseId: land.id }))(setRegistration(unmovedRegistration([land], land, 1), {})(gathered.records));
  const found = options.plate ? null : await node.ask("findPlate", { frame: land, focal: notedFocal(land) }, task);
  const guess = guessedPlate(records)!;
  // without lines the horizon is where the sky ends
  const pitchDeg = (Math.atan((old.horizon - (size.height - 1) / 2) / guess.stance.focalPx) * 180) / Math.PI;
  const told = options.plate
    ? readPlate(options.plate, land).told
    : found
      ? { stance: found.stance, horizonBy: "found" as const }
      : { stance: { ...guess.stance, pitchDeg } };
  const surfaces = water ? [{ id: WATER, is: "water" as const, places: water, heightM: 0 }] : [];
  records = tellPlate({ ...told, surfaces })(records);
  const plate = plateOf(records)!;
  const proposed = proposedSky(plate, size, land, sky, old, own);
  const content = { ...proposed, panDeg: pan, landAmount: amount ?? proposed.landAmount };
  records = layOtherSky(content, "sky")(records);
  const settings = { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
  const result = await node.ask("exportPicture", { records, settings }, task);
  writeParts(options.output, result.parts);
  const sun = skySun(plate, size, sky, content);
  const json = {
    version: 1,
    output: options.output,
    horizonBy: options.plate ? "plate" : found ? "lines" : "sky",
    sky: { times: content.times, panDeg: content.panDeg, covers: skyCovers(plate, size, sky, content), share: old.share },
    land: { gains: content.land, amount: content.landAmount },
    sun,
  };
  report(options, json, [
    `${options.output}: the sky is shown ${content.times.toFixed(2)} times as large as its lens has it, and covers ${(100 * json.sky.covers).toFixed(0)} %`,
    ...(sun ? [`Its sun stands at ${sun.azimuthDeg.toFixed(0)}°, ${sun.elevationDeg.toFixed(0)}° high`] : []),
  ]);
  return 0;
}

function cornersOf(text: string): [number, number][] {
  const numbers = text.split(",").map(Number);
  if (numbers.length < 6 || numbers.length % 2 || numbers.length > 24 || !numbers.every(Number.isFinite))
    throw new UsageError(`--water is the corners of it, x,y,x,y,x,y and so on; got "${text}".`);
  return Array.from({ length: numbers.length / 2 }, (_, k) => [numbers[2 * k], numbers[2 * k + 1]]);
}
