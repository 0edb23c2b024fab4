import { finishAsLayers } from "./finishAsLayers";
import { changeStep, stepsOf, type Loose, type LooseJob } from "./loose";
import { sentencesAsMessages } from "./sentencesAsMessages";

/** The version this program writes. A file of a newer version is refused with a sentence. */
export const DOCUMENT_VERSION = 17;

/** The set that every job began with up to version 9. */
const FIRST_SET = "set-1";

/** Steps from version k to k + 1; a completeness test walks the list. A migration rewrites every step, so that going back still works. */
export const MIGRATIONS: Record<number, (json: unknown) => unknown> = {
  1: introduceSets,
  2: introduceToneAndRepeats,
  3: introduceGhosts,
  4: introducePanoramas,
  5: introduceLayerKinds,
  6: introduceSpacing,
  7: introduceBends,
  8: introduceLateralColour,
  9: tellSetsApart,
  10: introduceOtherSolutions,
  11: introduceQuarterTurns,
  12: finishAsLayers,
  13: sentencesAsMessages,
  14: introduceCuts,
  15: introduceFits,
  16: introducePlates,
};

/** Version 3 has a tone response per development, knows in which cells a frame is alone, and averages frames. */
function introduceToneAndRepeats(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (!r || typeof r !== "object") return r;
    if (r.kind === "frame") return { ...r, development: { ...(r.development as Loose), tone: 1 } };
    if (r.kind === "merge") return { ...r, noiseGain: null };
    if (r.kind === "set" && Array.isArray(r.parity)) return { ...r, parity: (r.parity as Loose[]).map((p) => ({ ...p, alone: [] })) };
    return r;
  };
  const steps = stepsOf(job).map((step) => changeStep(step, change, (id) => id));
  return { ...job, version: 3, history: { ...job.history, steps } };
}

/** Version 4 knows responses, coloured lines and ghosts; a merge of before is as it was, and what moved is found anew when asked for. */
function introduceGhosts(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (r?.kind !== "merge") return r;
    const { motion: _found, ...rest } = r;
    const response = { choice: "assumed", found: null };
    return { ...rest, response, fringe: { removed: false, facts: null }, ghostThreshold: 6, baseId: null };
  };
  return { ...job, version: 4, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 5 knows panoramas; a merge of before has no seams. */
function introducePanoramas(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => (r?.kind === "merge" ? { ...r, seams: null } : r);
  return { ...job, version: 5, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 6 has layers of several kinds, in groups, with masks of several parts. A layer belongs to a set of its own knowledge. */
function introduceLayerKinds(json: unknown): unknown {
  const job = json as LooseJob;
  const setOf = new Map<unknown, unknown>();
  for (const { diff } of stepsOf(job)) {
    const [added, updated] = [Object.values(diff?.added ?? {}), Object.values(diff?.updated ?? {}).flat()];
    for (const r of [...added, ...updated]) if (r?.kind === "frame" && !setOf.has(r.id)) setOf.set(r.id, r.setId);
  }
  const mask = (m: Loose) => ({
    ...m,
    parts: ((m.parts ?? []) as Loose[]).map((p) => ({ ...p, combine: "add", inverted: false, featherPx: 0 })),
    refinePx: 0,
    featherPx: 0,
    low: 0,
    high: 1,
    density: 1,
  });
  const change = (r: Loose): Loose => {
    if (r?.kind === "stroke") return { ...r, edgeTolerance: 0 };
    if (r?.kind !== "layer") return r;
    const { frameId, exposureEv, ...rest } = r;
    const common = { setId: setOf.get(frameId) ?? FIRST_SET, parentId: null, note: "", locked: false, clipped: false };
    return { ...rest, ...common, content: { type: "frame", frameId, exposureEv, moved: null }, mask: mask(r.mask as Loose) };
  };
  return { ...job, version: 6, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Encoded values between which a curve of version 6 had its nodes. */
const NODES_OF_6 = [0, 0.125, 0.25, 0.5, 0.75, 1];

/** Values of an adjustment of version 6, whose curves and tints had a fixed number of places. */
function adjustmentOf6(adjustment: unknown, values: Record<string, number>): Record<string, number> {
  if (adjustment === "curve") {
    const nodes = NODES_OF_6.flatMap((x, i) => [
      [`x${i}`, x],
      [`y${i}`, values[`node${i}`] ?? x],
    ]);
    return { channel: values.channel ?? 0, nodes: NODES_OF_6.length, ...Object.fromEntries(nodes) };
  }
  if (adjustment !== "tint") return values;
  const { darkEv = -7, lightEv = 0 } = values;
  const [hue0, hue1, hue2] = [values.darkHue ?? 250, values.midHue ?? 40, values.lightHue ?? 70];
  const [strength0, strength1, strength2] = [values.darkStrength ?? 0, values.midStrength ?? 0, values.lightStrength ?? 0];
  return { points: 3, ev0: darkEv, ev1: (darkEv + lightEv) / 2, ev2: lightEv, hue0, hue1, hue2, strength0, strength1, strength2 };
}

/** Version 7 has strokes with a spacing of their own, layers whose corners are pulled, curves and tints of any number of places, and ramps of colour. */
function introduceSpacing(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (r?.kind === "stroke") return { ...r, spacing: 0.08 };
    return r?.kind === "layer" ? { ...layerOf6(r), seamPx: 0 } : r;
  };
  return { ...job, version: 7, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

function layerOf6(r: Loose): Loose {
  const content = r.content as Loose;
  if (content?.type === "adjustment") {
    return { ...r, content: { ...content, values: adjustmentOf6(content.adjustment, content.values as Record<string, number>) } };
  }
  if (content?.type === "fill") return { ...r, content: { ...content, ramp: null } };
  return content?.moved ? { ...r, content: { ...content, moved: { ...(content.moved as Loose), corners: [0, 0, 0, 0, 0, 0, 0, 0] } } } : r;
}

/** Version 8 has panoramas whose border is bent outwards, and lines that were said to be level or upright. */
function introduceBends(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => (r?.kind === "panorama" ? { ...r, levels: [], view: { ...(r.view as Loose), bend: null } } : r);
  return { ...job, version: 8, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 9 knows lateral colour; nothing of it was measured or undone before. */
function introduceLateralColour(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (r?.kind !== "merge") return r;
    const fringe = r.fringe as Loose;
    const facts = fringe?.facts as Loose | null;
    return { ...r, fringe: { ...fringe, lateral: null, facts: facts && { ...facts, lateral: null } } };
  };
  return { ...job, version: 9, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 10 names sets so that no two jobs share one: what belongs to a set can only land in its job. */
function tellSetsApart(json: unknown): unknown {
  const job = json as LooseJob & { id?: unknown };
  const own = `set-${String(job.id).slice(0, 40)}`;
  const renamed = (id: unknown) => (typeof id === "string" && (id === FIRST_SET || id.endsWith(`-${FIRST_SET}`)) ? id.slice(0, -FIRST_SET.length) + own : id);
  const change = (r: Loose): Loose => {
    if (!r || typeof r !== "object") return r;
    const ids = (["id", "setId", "workingSetId"] as const).filter((key) => key in r).map((key) => [key, renamed(r[key])]);
    return { ...r, ...Object.fromEntries(ids) };
  };
  const steps = stepsOf(job).map((step) => changeStep(step, change, (id) => renamed(id) as string));
  return { ...job, version: 10, history: { ...job.history, steps } };
}

/** Version 11 says where else a frame would fit as well. */
function introduceOtherSolutions(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (r?.kind !== "registration" || !Array.isArray(r.placements)) return r;
    return { ...r, placements: (r.placements as Loose[]).map((p) => ({ ...p, otherPx: [] })) };
  };
  return { ...job, version: 11, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 12 has frames that are turned by quarters, and knows which program wrote a file. */
function introduceQuarterTurns(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => (r?.kind === "frame" ? { ...r, quarterTurns: 0, software: null } : r);
  return { ...job, version: 12, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 15 knows what layers blend in, and what is cut out of their frames: before, all was encoded and whole. */
function introduceCuts(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    if (r?.kind !== "layer") return r;
    const content = r.content as Loose | undefined;
    return { ...r, blendIn: "encoded", content: content?.type === "frame" ? { ...content, cut: null, light: null } : content };
  };
  return { ...job, version: 15, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 16 says how a layer's frame was fitted, and knows alpha that frames came with: before, none was. */
function introduceFits(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => {
    // what such a frame was told stays true of it, though no code tells it any more
    const worded = (note: Loose) => (note?.code === "png.transparency" ? { code: "written", values: { text: "The PNG's transparency is left out." } } : note);
    if (r?.kind === "frame") return { ...r, alpha: null, notes: Array.isArray(r.notes) ? (r.notes as Loose[]).map(worded) : r.notes };
    const content = r?.kind === "layer" ? (r.content as Loose | undefined) : undefined;
    return content?.type === "frame" ? { ...r, content: { ...content, fit: null } } : r;
  };
  return { ...job, version: 16, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 17 knows focal lengths as on a frame of 24×36 mm, plates and what is seated in them: before, nothing was noted of them. */
function introducePlates(json: unknown): unknown {
  const job = json as LooseJob;
  const change = (r: Loose): Loose => (r?.kind === "frame" ? { ...r, focalLength35Mm: null } : r);
  return { ...job, version: 17, history: { ...job.history, steps: stepsOf(job).map((step) => changeStep(step, change, (id) => id)) } };
}

/** Version 2 has sets: all frames of an older job are one, and what was measured of them is that set's. */
function introduceSets(json: unknown): unknown {
  const job = json as LooseJob;
  const perSet = ["registration", "merge", "geometry"];
  const newId = (id: string) => (perSet.includes(id) ? `${id}-${FIRST_SET}` : id);
  const change = (r: Loose): Loose => {
    if (!r || typeof r !== "object") return r;
    if (r.kind === "job") return { ...r, workingSetId: FIRST_SET };
    if (r.kind === "frame") {
      const measures = { ...(r.measures as Loose), sharpness: [], stars: 0, plainBorder: 0 };
      return { ...r, setId: FIRST_SET, measures, development: { exposureEv: 0, mired: 0, duv: 0, lens: null } };
    }
    if (r.kind === "pin") return { ...r, setId: FIRST_SET, frameId: null };
    if (r.kind === "registration") {
      const placements = Array.isArray(r.placements) ? (r.placements as Loose[]) : [];
      const unbent = { lens: null, model: r.model, by: "measured", points: [], models: [], drift: null };
      return { ...r, id: newId("registration"), setId: FIRST_SET, placements: placements.map((p) => ({ ...p, ...unbent })) };
    }
    return perSet.includes(String(r.kind)) ? { ...r, id: newId(String(r.kind)), setId: FIRST_SET } : r;
  };
  const moved = stepsOf(job).map((step, i) => {
    const changed = changeStep(step, change, newId);
    if (i === 0 && changed.diff) {
      const reasons = ["From a job that knew one set only."];
      const { added } = changed.diff;
      added[FIRST_SET] = { kind: "set", id: FIRST_SET, index: 0, setKind: "bracket", reasons, confidence: 0, by: "proposed", links: [], parity: null };
    }
    return changed;
  });
  return { ...job, version: 2, history: { ...job.history, steps: moved } };
}
