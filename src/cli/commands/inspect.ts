import { sentence } from "../../messages/sentence";
import { setSentence } from "../../words/sets";
import { updateRecord } from "../../document/edits";
import type { SetRecord } from "../../document/records/types";
import { summarizeSet } from "../../document/sets";
import { exposuresOf, workingSetIdOf } from "../../document/selectors";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { readMask } from "../readMask";
import type { FrameFigures } from "../../engine/operations/match/frameFigures";
import { UsageError } from "../UsageError";

/** The Gather figures of each file and the name of the set. */
export async function inspect(files: string[], options: Options): Promise<number> {
  if (files.length === 0) throw new UsageError("inspect needs at least one file.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const gathered = await gatherFiles(node, "inspect", files, progressTask(options));
  const measured = exposuresOf(gathered.records)?.measuredEv ?? {};
  const read = gathered.files.flatMap((f) => (f.frame ? [f.frame] : []));
  const groups = read.length ? (await node.ask("gatherSets", { records: gathered.records, frames: read }, progressTask(options))).sets : [];
  // the files were named together, so they are judged as one set
  const kind = groups.length === 1 ? groups[0].kind : "separate";
  const links = groups.length === 1 ? groups[0].links : [];
  const set = summarizeSet(updateRecord<SetRecord>(workingSetIdOf(gathered.records), { setKind: kind, links })(gathered.records));
  const oddities = set.oddities.map((o) => sentence(o.told));
  if (options.mask !== undefined && read.length !== 1) throw new UsageError("--mask goes with one picture.");
  const mask = options.mask === undefined ? null : await readMask(node, options.mask, read[0]);
  const figures = new Map<string, FrameFigures>();
  // lines for people tell them of one picture, where they are asked for by a mask
  if (options.json || mask) for (const frame of read) figures.set(frame.id, await node.ask("frameFigures", { frame, mask }, progressTask(options)));
  const frames = gathered.files.map(({ path, frame, error }) =>
    frame
      ? {
          file: path,
          error: null,
          format: frame.format,
          width: frame.width,
          height: frame.height,
          bits: frame.bits,
          colorSpace: frame.colorName,
          exposureTimeS: frame.exposureTimeS,
          aperture: frame.aperture,
          iso: frame.iso,
          focalLengthMm: frame.focalLengthMm,
          takenAt: frame.takenAt,
          meteredEv: frame.meteredEv,
          measuredEv: read.length > 1 ? measured[frame.id] : null,
          clippedHigh: frame.measures.clippedHigh,
          clippedLow: frame.measures.clippedLow,
          noiseSigma: frame.measures.noiseSigma,
          edgeWidthPx: frame.measures.edgeWidthPx,
          ...figuresOf(figures.get(frame.id)),
          notes: frame.notes.map(sentence),
        }
      : { file: path, error },
  );
  report(
    options,
    {
      version: 1,
      set: { kind, sentence: setSentence(set), stepMeteredEv: set.stepMetered, stepMeasuredEv: set.stepMeasured, oddities },
      frames,
    },
    [
      setSentence(set),
      ...oddities,
      ...gathered.files.map(({ path, frame, error }) =>
        frame
          ? `${path}: ${frame.width}×${frame.height}, ${frame.bits} bit, clipped ${(100 * Math.max(...frame.measures.clippedHigh)).toFixed(2)} % / ${(100 * Math.max(...frame.measures.clippedLow)).toFixed(2)} %, noise ${frame.measures.noiseSigma.toFixed(2)}, edges ${frame.measures.edgeWidthPx.toFixed(1)} px${endsText(figures.get(frame.id))}`
          : `${path}: ${error}`,
      ),
    ],
  );
  for (const f of gathered.files) if (f.error && options.json) process.stderr.write(`marsh: ${f.path}: ${f.error}\n`);
  return gathered.files.some((f) => f.error) ? 1 : 0;
}

/** Ends and noise as they are told; null where too little shows. */
function figuresOf(figures: FrameFigures | undefined) {
  if (!figures) return {};
  const { ends, noise, illuminant } = figures;
  return {
    ends: ends && { mono: ends.mono, red: ends.channels[0], green: ends.channels[1], blue: ends.channels[2] },
    tones: ends && ends.tones.map(({ share, a, b, chroma }) => ({ share, a, b, chroma })),
    noise: noise.tones,
    grainPx: noise.grainPx,
    illuminant: illuminant && {
      kelvin: illuminant.place?.kelvin ?? null,
      duv: illuminant.place?.duv ?? null,
      rgb: illuminant.rgb,
      spreadDeg: illuminant.spreadDeg,
      confidence: illuminant.confidence,
    },
  };
}

function endsText(figures: FrameFigures | undefined): string {
  if (!figures) return "";
  if (!figures.ends) return "; the mask shows too little";
  const { black, middle, white } = figures.ends.mono;
  return `; black ${black.toFixed(1)}, middle ${middle.toFixed(1)}, white ${white.toFixed(1)} EV`;
}
