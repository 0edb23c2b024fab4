import { lightMethod } from "../../kinds/merges/records";
import { mergeOf } from "../../document/selectors";
import { closeSync, openSync, readSync, statSync } from "node:fs";
import type { RandomBytes } from "../../formats/archive/readZip";
import { sha256 } from "../../engine/graph/keys";
import { openJobFile } from "../../storage/jobFile";
import type { ExportSpace } from "../../core/color/outputSpaces";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";
import { createNodeEngine } from "../createNodeEngine";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const FORMATS: Record<string, ExportSettings["format"]> = { tif: "tiff16", tiff: "tiff16", jpg: "jpeg", jpeg: "jpeg", hdr: "hdr" };

/** Renders a job file: the same decoded samples as the application's export. */
export async function render(args: string[], options: Options): Promise<number> {
  const [path] = args;
  if (!path || args.length !== 1) throw new UsageError("render needs one JOB.marsh.");
  if (!options.output) throw new UsageError("render needs -o FILE.");
  const format = FORMATS[options.output.split(".").pop()!.toLowerCase()];
  if (!format) throw new UsageError("render writes .tif, .jpg or .hdr.");
  const quality = Number(options.quality ?? 95);
  if (!(quality >= 1 && quality <= 100)) throw new UsageError("--quality is 1 to 100.");
  const space = (options.space ?? "srgb") as ExportSpace;
  if (!["srgb", "display-p3", "rec2020"].includes(space)) throw new UsageError("--space is srgb, display-p3 or rec2020.");
  const fd = openSync(path, "r");
  try {
    const bytes: RandomBytes = {
      size: statSync(path).size,
      read: async (at, length) => {
        const out = new Uint8Array(length);
        return out.subarray(0, readSync(fd, out, 0, length, at));
      },
    };
    const opened = await openJobFile(bytes, sha256);
    const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
    for (const [id, entry] of opened.sources) node.sources.set(id, () => entry.read());
    const result = await node.ask(
      "exportPicture",
      {
        records: opened.records,
        settings: { format, quality, space, content: format === "hdr" ? "merge" : "finished", crop: true },
        method: format === "hdr" ? lightMethod(mergeOf(opened.records)?.method ?? "radiance") : undefined,
      },
      progressTask(options),
    );
    writeParts(options.output, result.parts);
    report(
      options,
      {
        version: 1,
        output: options.output,
        width: result.width,
        height: result.height,
        bytes: result.bytes,
        clippedShare: result.clippedShare,
        negatives: result.negatives,
      },
      [
        `${options.output}: ${result.width}×${result.height} px, ${(result.bytes / 1e6).toFixed(1)} MB, ${(100 * result.clippedShare).toFixed(2)} % of the samples clipped`,
      ],
    );
  } finally {
    closeSync(fd);
  }
  return 0;
}
