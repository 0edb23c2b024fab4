import type { MotionModel } from "../../core/register/refine";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options } from "../options";
import { UsageError } from "../UsageError";

const MODELS: MotionModel[] = ["translation", "similarity", "affine", "homography"];

/** 3×3 matrices moving → reference; see docs/cli.md for the contract. */
export async function register(files: string[], options: Options): Promise<number> {
  const reference = options.reference;
  if (!reference) throw new UsageError("register needs --reference FILE.");
  const model = (options.model ?? "homography") as MotionModel;
  if (!MODELS.includes(model)) throw new UsageError(`--model is one of ${MODELS.join(", ")}.`);
  const moving = files.filter((f) => f !== reference);
  if (moving.length === 0) throw new UsageError("register needs at least one file besides the reference.");
  const node = await createNodeEngine(ROOT);
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "register", [reference, ...moving], task);
  const referenceFrame = gathered.files[0].frame;
  if (!referenceFrame) throw new Error(`${reference}: ${gathered.files[0].error}`);
  const frames = gathered.files.flatMap((f) => (f.frame ? [f.frame] : []));
  const { registration } = await node.engine.register(gathered.records, frames, referenceFrame.id, "given", model, task);
  const results = gathered.files.slice(1).map(({ path, frame, error }) => {
    const p = registration.placements.find((q) => q.frameId === frame?.id);
    const m = p?.matrix;
    return {
      file: path,
      registered: Boolean(m),
      model,
      matrix: m ? [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)] : null,
      residualPx: p?.residualPx ?? null,
      residualBeforePx: p?.residualBeforePx ?? null,
      agreeing: p?.agreeing ?? 0,
      confidence: p?.confidence ?? 0,
      reason: error ?? p?.reason ?? null,
    };
  });
  report(
    options,
    { version: 1, reference, frames: results },
    results.map((r) =>
      r.registered
        ? `${r.file}: ${r.residualBeforePx!.toFixed(1)} px before, ${r.residualPx!.toFixed(2)} px after, ${(100 * r.agreeing).toFixed(0)} % agree`
        : `${r.file}: not registered. ${r.reason}`,
    ),
  );
  for (const r of results) if (!r.registered && options.json) process.stderr.write(`marsh: ${r.file}: ${r.reason}\n`);
  return gathered.files.some((f) => f.error) ? 1 : 0;
}
