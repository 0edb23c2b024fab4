import { CHARACTERS, type Character } from "../../core/render/characters";
import { renderedSo } from "../../document/renderingEdits";
import { createNodeEngine } from "../createNodeEngine";
import { withPicture } from "../openRecords";
import { progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

const isCharacter = (name: string): name is Character => (CHARACTERS as readonly string[]).includes(name);

/** Renders a picture in a character, as Finish proposes it; see docs/cli.md for the contract. */
export async function develop(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("develop needs one picture.");
  if (!options.output || !/\.(tiff?|jpe?g)$/i.test(options.output)) throw new UsageError("develop needs -o OUT.tif or OUT.jpg.");
  const character = options.character ?? "true";
  if (!isCharacter(character)) throw new UsageError(`--character is ${CHARACTERS.join(", ")}.`);
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const { output } = options;
  return withPicture(node, "develop", files[0], task, async (records) => {
    const told = await node.ask("proposeRenderings", { records }, task);
    const rendering = told.renderings.find((r) => r.character === character)!;
    const settings = { format: /\.jpe?g$/i.test(output) ? "jpeg" : "tiff16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
    const result = await node.ask("exportPicture", { records: renderedSo(rendering.values, 1)(records), settings }, task);
    writeParts(output, result.parts);
    const json = {
      version: 1,
      output: output,
      width: result.width,
      height: result.height,
      ...rendering,
      now: told.now,
      rangeEv: told.rangeEv,
      candelas: told.candelas,
    };
    report(options, json, [
      `${output}: rendered ${character}, structural fidelity ${rendering.fidelity.toFixed(3)} (as it was ${told.now.fidelity.toFixed(3)})`,
      `Its light spans ${told.rangeEv.toFixed(1)} EV; mean ${(100 * rendering.mean).toFixed(0)} % encoded, ${(100 * rendering.white).toFixed(2)} % white`,
    ]);
    return 0;
  });
}
