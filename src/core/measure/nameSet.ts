import { median } from "../numeric/statistics";

export interface LadderFrame {
  number: number;
  meteredEv: number | null;
  measuredEv: number | null;
  width: number;
  height: number;
  edgeWidthPx: number;
  fingerprint: string;
}

export interface SetName {
  kind: "bracket" | "separate shots" | "single frame" | "nothing yet";
  sentence: string;
  stepMetered: number | null;
  stepMeasured: number | null;
  oddities: string[];
}

/** Names a set from its exposures and says what is odd about it. Steps are medians between neighbours of the ladder, EV. */
export function nameSet(frames: LadderFrame[]): SetName {
  if (frames.length === 0) return { kind: "nothing yet", sentence: "No frames yet", stepMetered: null, stepMeasured: null, oddities: [] };
  const oddities: string[] = [...sizes(frames), ...duplicates(frames), ...blurred(frames)];
  if (frames.length === 1) return { kind: "single frame", sentence: "One frame", stepMetered: null, stepMeasured: null, oddities };
  const metered = ladder(frames, (f) => f.meteredEv);
  const measured = ladder(frames, (f) => f.measuredEv);
  const stepMetered = metered && median(metered.steps);
  const stepMeasured = measured && median(measured.steps);
  const step = stepMeasured ?? stepMetered;
  if (step === null || step < 0.25) {
    return { kind: "separate shots", sentence: `Separate shots, ${frames.length} frames of nearly equal exposure`, stepMetered, stepMeasured, oddities };
  }
  const ladderUsed = measured ?? metered!;
  ladderUsed.steps.forEach((s, k) => {
    const [a, b] = [ladderUsed.order[k], ladderUsed.order[k + 1]];
    if (s > 1.5 * step) oddities.push(`Gap in the ladder: ${s.toFixed(1)} EV between frames ${a.number} and ${b.number}.`);
    else if (s < 0.25 * step && a.fingerprint !== b.fingerprint) oddities.push(`Frames ${a.number} and ${b.number} have nearly the same exposure.`);
  });
  oddities.push(...disagreements(frames));
  const parts = [`Bracket, ${frames.length} frames`];
  if (stepMetered !== null) parts.push(`step ${stepMetered.toFixed(1)} EV as metered`);
  if (stepMeasured !== null) parts.push(`${stepMetered !== null ? "" : "step "}${stepMeasured.toFixed(2)}${stepMetered !== null ? "" : " EV"} as measured`);
  return { kind: "bracket", sentence: parts.join(", "), stepMetered, stepMeasured, oddities };
}

function ladder(frames: LadderFrame[], ev: (f: LadderFrame) => number | null) {
  if (frames.some((f) => ev(f) === null)) return null;
  const order = [...frames].sort((a, b) => ev(a)! - ev(b)!);
  return { order, steps: order.slice(1).map((f, k) => ev(f)! - ev(order[k])!) };
}

function sizes(frames: LadderFrame[]): string[] {
  const count = new Map<string, number>();
  for (const f of frames) count.set(`${f.width}×${f.height}`, (count.get(`${f.width}×${f.height}`) ?? 0) + 1);
  const [usual, most] = [...count].sort((a, b) => b[1] - a[1])[0];
  if (most === 1 && frames.length > 1) return [`The frames have different sizes: ${frames.map((f) => `${f.number} is ${f.width}×${f.height}`).join(", ")} px.`];
  return frames.filter((f) => `${f.width}×${f.height}` !== usual).map((f) => `Frame ${f.number} is ${f.width}×${f.height} px, the others are ${usual}.`);
}

function duplicates(frames: LadderFrame[]): string[] {
  const first = new Map<string, number>();
  return frames.flatMap((f) => {
    const earlier = first.get(f.fingerprint);
    if (earlier !== undefined) return [`Frame ${f.number} is the same file as frame ${earlier}.`];
    first.set(f.fingerprint, f.number);
    return [];
  });
}

function blurred(frames: LadderFrame[]): string[] {
  const known = frames.filter((f) => f.edgeWidthPx > 0);
  if (known.length < 2) return [];
  const typical = median(known.map((f) => f.edgeWidthPx));
  return known
    .filter((f) => f.edgeWidthPx > 1.6 * typical)
    .map((f) => `Frame ${f.number} is blurred: its edges are ${f.edgeWidthPx.toFixed(1)} px wide, ${typical.toFixed(1)} px is usual here.`);
}

/** Metadata against pixels, each frame against the median offset of the set. */
function disagreements(frames: LadderFrame[]): string[] {
  const both = frames.filter((f) => f.meteredEv !== null && f.measuredEv !== null);
  if (both.length < 3) return [];
  const offset = median(both.map((f) => f.measuredEv! - f.meteredEv!));
  return both.flatMap((f) => {
    const off = f.measuredEv! - f.meteredEv! - offset;
    return Math.abs(off) >= 0.07 ? [`Frame ${f.number} is ${Math.abs(off).toFixed(1)} EV ${off > 0 ? "brighter" : "darker"} than its metadata says.`] : [];
  });
}
