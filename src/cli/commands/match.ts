import type { MatchMethod } from "../../engine/operations/match/matchPictures";
import { toneDistance, colourDistance, type MatchFigures } from "../../core/match/figures";
import { setRegistration, unmovedRegistration } from "../../document/edits";
import { addLayer } from "../../document/layerEdits";
import { freshMerge, setMerge } from "../../document/mergeEdits";
import { freshMask } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { numbersOf, progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { readMask } from "../readMask";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const METHODS: Record<string, MatchMethod> = { steps: "steps", statistics: "colours" };

/** Brings a picture to a reference; see docs/cli.md for the contract. */
export async function match(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("match needs one picture, and a reference: --to REFERENCE.");
  if (!options.to) throw new UsageError("match needs --to REFERENCE.");
  if (!options.output || !/\.tiff?$/i.test(options.output)) throw new UsageError("match needs -o OUT.tif.");
  if (options.method !== undefined && !METHODS[options.method]) throw new UsageError("--method is steps or statistics.");
  const pairs = (options.pair ?? []).map((text) => numbersOf("--pair", "x,y,x2,y2 in px of the picture and of the reference", text, 4));
  const told = [options.method !== undefined, options.paired === true, pairs.length > 0].filter(Boolean).length;
  if (told > 1) throw new UsageError("match takes one of --paired, --pair and --method.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "match", [files[0], options.to], task);
  const failed = gathered.files.find((f) => f.error);
  if (failed) throw new Error(`${failed.path}: ${failed.error}`);
  const [picture, reference] = gathered.files.map((f) => f.frame!);
  const mask = options.mask === undefined ? null : await readMask(node, options.mask, picture);
  const said = pairs.length ? "pairs" : options.method !== undefined ? METHODS[options.method] : options.paired ? "places" : null;
  const asked = { records: gathered.records, from: picture, to: reference, method: said, isAligned: options.paired === true, mask, pairs };
  const proposal = await node.ask("matchFrames", asked, task);

  let records: Records = setMerge(freshMerge("base", { baseId: picture.id }))(
    setRegistration(unmovedRegistration([picture], picture, 1), {})(gathered.records),
  );
  const parts = mask ? [{ id: "mask", combine: "add" as const, inverted: false, featherPx: 0, kind: "cells" as const, ...mask }] : [];
  proposal.adjustments.forEach(({ adjustment, values }, i) => {
    const layer = { id: `match-${i}`, name: adjustment, content: { type: "adjustment" as const, adjustment, values }, mask: freshMask(mask ? 0 : 1, parts) };
    records = addLayer(layer)(records);
  });
  const settings = { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
  const result = await node.ask("exportPicture", { records, settings }, task);
  writeParts(options.output, result.parts);
  const side = (figures: MatchFigures, deltaE: number | undefined) => ({
    deltaE: deltaE ?? null,
    ends: { mono: figures.mono, red: figures.channels[0], green: figures.channels[1], blue: figures.channels[2] },
    tone: toneDistance(figures, proposal.reference),
    colour: colourDistance(figures, proposal.reference),
  });
  const json = {
    version: 1,
    output: options.output,
    method: proposal.method,
    before: side(proposal.before, proposal.deltaE?.before),
    after: side(proposal.after, proposal.deltaE?.after),
    reference: { ends: side(proposal.reference, undefined).ends },
    adjustments: proposal.adjustments,
    residuals: proposal.residuals,
  };
  report(options, json, [
    `${options.output}: matched by ${proposal.method}`,
    proposal.deltaE
      ? `Both differ by ΔE ${proposal.deltaE.before.toFixed(2)} where they show the same, and by ${proposal.deltaE.after.toFixed(2)} once matched`
      : `Tones differ by ${json.before.tone.toFixed(1)} L* before and ${json.after.tone.toFixed(1)} after`,
    ...proposal.residuals.map((v, i) => `Pair ${i + 1}: ΔE ${v.toFixed(2)} is left`),
  ]);
  return 0;
}
