import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import { hasLens } from "../../core/geometry/lens";
import { MODELS, type ModelChoice } from "../../core/register/models";
import { addRegion } from "../../document/edits";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";

/** 3×3 matrices moving → reference; see docs/cli.md for the contract. */
export async function register(files: string[], options: Options): Promise<number> {
  const reference = options.reference;
  if (!reference) throw new UsageError("register needs --reference FILE.");
  const model = (options.model ?? "auto") as ModelChoice;
  if (model !== "auto" && !MODELS.includes(model)) throw new UsageError(`--model is one of auto, ${MODELS.join(", ")}.`);
  const regions = [...readBoxes(options.region, "lineUp"), ...readBoxes(options.ignore, "ignore")];
  const moving = files.filter((f) => f !== reference);
  if (moving.length === 0) throw new UsageError("register needs at least one file besides the reference.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const gathered = await gatherFiles(node, "register", [reference, ...moving], task);
  const referenceFrame = gathered.files[0].frame;
  if (!referenceFrame) throw new Error(`${reference}: ${gathered.files[0].error}`);
  const frames = gathered.files.flatMap((f) => (f.frame ? [f.frame] : []));
  const records = regions.reduce((r, region) => addRegion(region)(r), gathered.records);
  const { registration } = await node.ask(
    "register",
    { records, frames, request: { referenceId: referenceFrame.id, referenceReason: message("reference.byHand", {}), model } },
    task,
  );
  const results = gathered.files.slice(1).map(({ path, frame, error }) => {
    const p = registration.placements.find((q) => q.frameId === frame?.id);
    const m = p?.matrix;
    return {
      file: path,
      registered: Boolean(m),
      model: p?.model ?? null,
      matrix: m ? [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)] : null,
      distortion: hasLens(p?.lens) ? { k1: p.lens.k1, k2: p.lens.k2, k1Unit: "half-diagonal" } : null,
      drift: p?.drift ?? null,
      models: p?.models ?? [],
      residualPx: p?.residualPx ?? null,
      residualBeforePx: p?.residualBeforePx ?? null,
      agreeing: p?.agreeing ?? 0,
      confidence: p?.confidence ?? 0,
      otherPx: p?.otherPx ?? [],
      reason: error ?? (p?.reason ? sentence(p.reason) : null),
    };
  });
  report(
    options,
    { version: 1, reference, frames: results },
    results.map((r) =>
      r.registered
        ? `${r.file}: ${r.residualBeforePx!.toFixed(1)} px before, ${r.residualPx!.toFixed(2)} px after, ${(100 * r.agreeing).toFixed(0)} % agree${distortionText(r.distortion)}${r.drift ? `, ${r.drift.rmsPx.toFixed(1)} px drift elsewhere` : ""}${r.otherPx.length ? `; repeats itself and fits as well ${r.otherPx[0].toFixed(0)} px further` : ""}`
        : `${r.file}: not registered. ${r.reason}`,
    ),
  );
  for (const r of results) if (!r.registered && options.json) process.stderr.write(`marsh: ${r.file}: ${r.reason}\n`);
  return gathered.files.some((f) => f.error) ? 1 : 0;
}

function distortionText(d: { k1: number } | null): string {
  return d ? `, lens k1 ${d.k1.toFixed(4)} (${d.k1 < 0 ? "barrel" : "cushion"} against the reference)` : "";
}

/** "x,y,w,h" in reference px; an option may be given several times. */
function readBoxes(values: string[] | undefined, purpose: "lineUp" | "ignore") {
  return (values ?? []).map((text) => {
    const numbers = text.split(",").map(Number);
    const [x, y, width, height] = numbers;
    if (numbers.length !== 4 || !numbers.every(Number.isInteger) || width < 8 || height < 8) {
      throw new UsageError(`A region is x,y,w,h in whole px of the reference, at least 8×8; got "${text}".`);
    }
    return { purpose, shape: { kind: "box" as const, rectangle: { x, y, width, height } } };
  });
}
