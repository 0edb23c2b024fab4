import { mergeByMethod } from "./mergeByMethod";
import { stepsOf, type Loose, type LooseDiff, type LooseJob } from "./loose";

/** The adjustments of version 12, in the order they were carried out, with what each became and the limits it has as a layer. */
const STEPS: { type: string; adjustment: string; name: string; limits: Record<string, [number, number]>; also?: Record<string, number> }[] = [
  {
    type: "local",
    adjustment: "localTone",
    name: "Local tone compression",
    limits: { strength: [0, 1], scale: [0.005, 0.3], floorEv: [-14, 0], ceilingEv: [-2, 12], pivotEv: [-8, 4] },
  },
  { type: "exposure", adjustment: "exposure", name: "Exposure", limits: { ev: [-8, 8] } },
  { type: "whiteBalance", adjustment: "whiteBalance", name: "White balance", limits: { mired: [-200, 200], duv: [-0.05, 0.05] } },
  { type: "contrast", adjustment: "contrast", name: "Contrast about a pivot", limits: { factor: [0.3, 3], pivot: [0.005, 1.5] } },
  // chroma was the distance from luminance in linear light
  { type: "chroma", adjustment: "chroma", name: "Chroma", limits: { factor: [0, 2] }, also: { space: 1 } },
  {
    type: "tone",
    adjustment: "toneResponse",
    name: "Tone response",
    limits: { curve: [0, 1], headroomEv: [0, 16], shoulderEv: [0.1, 6], toeEv: [2, 12], toeLiftEv: [-4, 3.5] },
  },
];

/** What a job had at a step that its finish follows from. */
interface Known {
  adjustments: Record<string, Loose>;
  /** set → method of its merge, null of one that is not merged: its finish was the job's all the same */
  sets: Record<string, unknown>;
}

const NOTHING: Known = { adjustments: {}, sets: {} };
const isAdjustment = (r: Loose | undefined) => r?.kind === "adjustment";

/**
 * Version 13 has the finish as a group of adjustments on top of the layers, of each set; before there was one finish for all of them, which stayed when a merge
 * went. A merge that holds scene light has its tone response among them. Groups tell whether they let through, merges hold what their method knows.
 */
export function finishAsLayers(json: unknown): unknown {
  const job = json as LooseJob;
  const known = new Map<unknown, Known>();
  const steps = stepsOf(job).map((step) => {
    const { diff, id, parent } = step as { diff?: LooseDiff; id?: unknown; parent?: unknown };
    const before = known.get(parent) ?? NOTHING;
    if (!diff || typeof diff !== "object") {
      known.set(id, before);
      return step;
    }
    const after = knownAfter(before, diff);
    known.set(id, after);
    return { ...step, diff: withFinish(diff, finishOf(before), finishOf(after)) };
  });
  return { ...job, version: 13, history: { ...job.history, steps } };
}

function knownAfter({ adjustments, sets }: Known, { added, updated, removed }: LooseDiff): Known {
  const next: Known = { adjustments: { ...adjustments }, sets: { ...sets } };
  const set = (id: string, r: Loose | undefined, gone: boolean) => {
    if (isAdjustment(r)) {
      if (gone) delete next.adjustments[id];
      else next.adjustments[id] = r!;
    } else if (r?.kind === "merge") {
      next.sets[String(r.setId)] = gone ? null : r.method;
    } else if (r?.kind === "set") {
      if (gone) delete next.sets[id];
      else next.sets[id] ??= null;
    }
  };
  for (const [id, r] of Object.entries(removed ?? {})) set(id, r, true);
  for (const [id, r] of Object.entries(added ?? {})) set(id, r, false);
  for (const [id, pair] of Object.entries(updated ?? {})) if (Array.isArray(pair)) set(id, pair[1], false);
  return next;
}

/** The layers that a finish is made of, by id. */
function finishOf({ adjustments, sets }: Known): Record<string, Loose> {
  const layers = Object.entries(sets).flatMap(([setId, method]) => {
    const group = `finish-${setId}`;
    const steps = STEPS.flatMap(({ type, adjustment, name, limits, also }, index) => {
      const old = adjustments[`adjustment-${type}`];
      if (!old && !(type === "tone" && method === "radiance")) return [];
      // a tone response that was off was carried out with its own values
      const off = old?.enabled === false;
      const given = (off && type === "tone" ? {} : (old?.values ?? {})) as Record<string, unknown>;
      const values = Object.entries(given).flatMap(([of, v]) =>
        Object.hasOwn(limits, of) && typeof v === "number" ? [[of, Math.min(limits[of][1], Math.max(limits[of][0], v))] as const] : [],
      );
      const content = { type: "adjustment", adjustment, values: { ...Object.fromEntries(values), ...also } };
      return [layer(`${group}-${adjustment}`, { index, setId, parentId: group, name, content, visible: !off || type === "tone" })];
    });
    if (steps.length === 0) return [];
    return [layer(group, { index: 0, setId, parentId: null, name: "Finish", content: { type: "group", through: true }, visible: true }), ...steps];
  });
  return Object.fromEntries(layers.map((l) => [l.id as string, l]));
}

const layer = (id: string, own: Loose): Loose => ({
  kind: "layer",
  id,
  note: "",
  opacity: 1,
  mode: "normal",
  locked: false,
  clipped: false,
  seamPx: 0,
  mask: { base: 1, inverted: false, parts: [], refinePx: 0, featherPx: 0, low: 0, high: 1, density: 1 },
  ...own,
});

/** A diff without the adjustments of version 12, and with what changes of the finish. */
function withFinish({ added, updated, removed }: LooseDiff, before: Record<string, Loose>, after: Record<string, Loose>): LooseDiff {
  const others = (part: Record<string, Loose>) =>
    Object.fromEntries(Object.entries(part ?? {}).flatMap(([id, r]) => (isAdjustment(r) ? [] : [[id, changed(r)]])));
  const made: LooseDiff = {
    added: others(added),
    updated: Object.fromEntries(
      Object.entries(updated ?? {}).flatMap(([id, pair]): [string, [Loose, Loose]][] => {
        if (!Array.isArray(pair)) return [[id, pair]];
        return isAdjustment(pair[0]) || isAdjustment(pair[1]) ? [] : [[id, [changed(pair[0]), changed(pair[1])]]];
      }),
    ),
    removed: others(removed),
  };
  for (const [id, r] of Object.entries(after)) {
    if (!before[id]) made.added[id] = r;
    else if (JSON.stringify(before[id]) !== JSON.stringify(r)) made.updated[id] = [before[id], r];
  }
  for (const [id, r] of Object.entries(before)) if (!after[id]) made.removed[id] = r;
  return made;
}

/** Groups of before never let through, what a mask begins with is its base; a merge holds what its method knows and nothing else. */
function changed(r: Loose): Loose {
  if (r?.kind === "merge") return mergeByMethod(r);
  if (r?.kind !== "layer") return r;
  const content = r.content as Loose | undefined;
  const { ground, ...mask } = (r.mask ?? {}) as Loose;
  return { ...r, mask: { base: ground, ...mask }, ...(content?.type === "group" && { content: { ...content, through: false } }) };
}
