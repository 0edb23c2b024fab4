import { readFileSync } from "node:fs";
import { INTENTS, type Intent } from "../core/print/printed";
import type { TargetRecord } from "../document/records/targetTypes";
import { sha256 } from "../engine/graph/keys";
import type { NodeEngine } from "./createNodeEngine";
import type { Options } from "./options";
import { UsageError } from "./UsageError";

const isIntent = (name: string): name is Intent => (INTENTS as readonly string[]).includes(name);
/** Width of a print that nobody said, mm: it makes no difference to colours. */
const WIDTH_MM = 300;

/** The paper or screen that --target names, and how the picture is brought to it. @throws UsageError for an intent that there is none, Error with a sentence where the profile cannot print */
export async function readTarget(node: NodeEngine, path: string, options: Options): Promise<{ target: TargetRecord; device: string }> {
  const intent = options.intent ?? "relative";
  if (!isIntent(intent)) throw new UsageError(`--intent is ${INTENTS.join(", ")}.`);
  const profile = new Uint8Array(readFileSync(path));
  const { name, device } = await node.ask("readTarget", { profile });
  const sourceId = await sha256(profile);
  node.sources.set(sourceId, async () => profile);
  const fileName = path.split("/").pop()!;
  const [blackPoint, paper] = [!options["no-black-point"], !options["paper-as-white"]];
  return { device, target: { kind: "target", id: "target", sourceId, fileName, name, intent, blackPoint, paper, widthMm: WIDTH_MM } };
}
