import { isHarmless } from "../../document/finding";
import { addRecord } from "../../document/edits";
import { causeName, findingSentence, remedyName } from "../../words/findings";
import { createNodeEngine } from "../createNodeEngine";
import { withRecords } from "../openRecords";
import { progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { readTarget } from "../readTarget";
import { UsageError } from "../UsageError";

/** Inspects a finished job or a picture; see docs/cli.md for the contract. */
export async function proof(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("proof needs one JOB.marsh or PICTURE.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const printed = options.target === undefined ? null : await readTarget(node, options.target, options);
  return withRecords(node, "proof", files[0], task, async (own) => {
    const records = printed ? addRecord(printed.target)(own) : own;
    const found = await node.ask("proof", { records }, task);
    const findings = found
      .filter((f) => !isHarmless(f))
      .sort((a, b) => b.weight - a.weight)
      .map((f) => ({
        id: f.id,
        kind: f.kind,
        where: f.place,
        amount: 100 * f.share,
        unit: "% of the picture",
        values: f.values,
        step: causeName(f.cause),
        visibility: f.weight,
        remedies: f.remedy && f.remedy.kind !== "show" ? [remedyName(f.remedy)] : [],
        told: findingSentence(f),
      }));
    report(options, { version: 1, findings }, findings.length ? findings.map((f) => f.told) : ["Nothing was found."]);
    return 0;
  });
}
