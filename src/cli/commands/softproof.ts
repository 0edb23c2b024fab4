import { addRecord } from "../../document/edits";
import { createNodeEngine } from "../createNodeEngine";
import { withRecords } from "../openRecords";
import { progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { readTarget } from "../readTarget";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

/** Shows a picture as a paper or a screen would, by its profile; see docs/cli.md for the contract. */
export async function softproof(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("softproof needs one PICTURE or JOB.marsh.");
  if (!options.target) throw new UsageError("softproof needs --target PROFILE.icc.");
  const { output } = options;
  if (!output || !/\.(tiff?|jpe?g)$/i.test(output)) throw new UsageError("softproof needs -o OUT.tif or OUT.jpg.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const { target, device } = await readTarget(node, options.target, options);
  const { name, intent, blackPoint, paper } = target;
  return withRecords(node, "softproof", files[0], task, async (own) => {
    const records = addRecord(target)(own);
    const told = (await node.ask("measurePrint", { records }, task))!;
    const format = /\.jpe?g$/i.test(output) ? "jpeg" : "tiff16";
    const settings = { format, quality: 95, space: "srgb", content: "printed", crop: true } as const;
    const result = await node.ask("exportPicture", { records, settings }, task);
    writeParts(output, result.parts);
    report(options, { version: 1, output, width: result.width, height: result.height, target: { name, device, intent, blackPoint, paper }, ...told }, [
      `${output}: as ${name} shows it, ${intent}`,
      `${(100 * told.outside).toFixed(1)} % lies outside what it can show, missed by ΔE ${told.missedBy.toFixed(1)} in the mean`,
      `Paper L* ${told.whiteL.toFixed(1)}, black L* ${told.blackL.toFixed(1)}; ${(100 * told.blocked).toFixed(1)} % prints as black, tones below ${told.firstTone} of 255 do`,
    ]);
    return 0;
  });
}
