import { changeStep, stepsOf, type Loose, type LooseJob } from "./loose";

/** What a sentence of before is at most. */
const LONGEST = 1000;

const written = (text: unknown): unknown => (typeof text === "string" ? { code: "written", values: { text: text.slice(0, LONGEST) } } : text);
const each = (texts: unknown): unknown => (Array.isArray(texts) ? texts.map(written) : texts);

/** Version 14 holds what it tells as codes and values. Sentences of before stay as they were written; the labels of steps are messages too. */
export function sentencesAsMessages(json: unknown): unknown {
  const job = json as LooseJob;
  const steps = stepsOf(job).map((step) => {
    const { label } = step as { label?: unknown };
    return { ...changeStep(step, told, (id) => id), label: written(label) };
  });
  return { ...job, version: 14, history: { ...job.history, steps } };
}

function told(r: Loose): Loose {
  switch (r?.kind) {
    case "set":
      return { ...r, reasons: each(r.reasons) };
    case "frame":
      return { ...r, notes: each(r.notes) };
    case "registration": {
      const placements = Array.isArray(r.placements) ? (r.placements as Loose[]).map((p) => ({ ...p, reason: written(p.reason) })) : r.placements;
      return { ...r, referenceReason: written(r.referenceReason), placements };
    }
    case "panorama": {
      const proposal = r.proposal as Loose;
      return { ...r, proposal: { ...proposal, reason: written(proposal.reason) } };
    }
    case "ghost":
    case "parity":
      return { ...r, reason: written(r.reason) };
    default:
      return r;
  }
}
