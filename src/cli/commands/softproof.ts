import { readFileSync } from "node:fs";
import { INTENTS, type Intent } from "../../core/print/printed";
import { addRecord } from "../../document/edits";
import { sha256 } from "../../engine/graph/keys";
import { createNodeEngine } from "../createNodeEngine";
import { withRecords } from "../openRecords";
import { progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const isIntent = (name: string): name is Intent => (INTENTS as readonly string[]).includes(name);
/** Width of a print that nobody said, mm: it makes no difference to colours. */
const WIDTH_MM = 300;

/** Shows a picture as a paper or a screen would, by its profile; see docs/cli.md for the contract. */
export async function softproof(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("softproof needs one PICTURE or JOB.marsh.");
  if (!options.target) throw new UsageError("softproof needs --target PROFILE.icc.");
  const { output } = options;
  if (!output || !/\.(tiff?|jpe?g)$/i.test(output)) throw new UsageError("softproof needs -o OUT.tif or OUT.jpg.");
  const intent = options.intent ?? "relative";
  if (!isIntent(intent)) throw new UsageError(`--intent is ${INTENTS.join(", ")}.`);
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const profile = new Uint8Array(readFileSync(options.target));
  const { name, device } = await node.ask("readTarget", { profile }, task);
  const sourceId = await sha256(profile);
  node.sources.set(sourceId, async () => profile);
  const fileName = options.target.split("/").pop()!;
  const blackPoint = !options["no-black-point"];
  const paper = !options["paper-as-white"];
  return withRecords(node, "softproof", files[0], task, async (own) => {
    const target = { kind: "target", id: "target", sourceId, fileName, name, intent, blackPoint, paper, widthMm: WIDTH_MM } as const;
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
