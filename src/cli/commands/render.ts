import { lightMethod } from "../../kinds/merges/records";
import { mergeOf } from "../../document/selectors";
import type { ExportSpace } from "../../core/color/outputSpaces";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";
import { createNodeEngine } from "../createNodeEngine";
import { withJob } from "../openRecords";
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
  const { output } = options;
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  return withJob(node, path, async (records) => {
    const settings = { format, quality, space, content: format === "hdr" ? "merge" : "finished", crop: true } as const;
    const method = format === "hdr" ? lightMethod(mergeOf(records)?.method ?? "radiance") : undefined;
    const { parts, width, height, bytes, clippedShare, negatives } = await node.ask("exportPicture", { records, settings, method }, progressTask(options));
    writeParts(output, parts);
    report(options, { version: 1, output, width, height, bytes, clippedShare, negatives }, [
      `${output}: ${width}×${height} px, ${(bytes / 1e6).toFixed(1)} MB, ${(100 * clippedShare).toFixed(2)} % of the samples clipped`,
    ]);
    return 0;
  });
}
