import { title } from "../messages/sentence";
import { diffRecords } from "../document/history";
import type { LayerRecord } from "../document/records/layerTypes";
import { allParts } from "../kinds/maskParts/records";
import type { AnyRecord, Records } from "../document/records/types";
import { strokesOf } from "../document/selectors";
import { wordsOf } from "../kinds/contents/words";
import { numberText } from "./numbers";

/** One value in which two states of a job differ. */
export interface StateDifference {
  /** what it belongs to */
  thing: string;
  value: string;
  before: string;
  after: string;
}

const NONE = "none";

/** Compares two states value by value; strokes count with the layer they are painted on. */
export function compareStates(before: Records, after: Records): StateDifference[] {
  const { added, updated, removed } = diffRecords(before, after);
  const touched = new Set([...Object.values(added), ...Object.values(removed)].flatMap((r) => (r.kind === "stroke" ? [r.layerId] : [])));
  const pairs: [AnyRecord | undefined, AnyRecord | undefined][] = [
    ...Object.values(added).map((r): [undefined, AnyRecord] => [undefined, r]),
    ...Object.values(removed).map((r): [AnyRecord, undefined] => [r, undefined]),
    ...Object.values(updated),
    ...[...touched].filter((id) => !updated[id] && before[id] && after[id]).map((id): [AnyRecord, AnyRecord] => [before[id], after[id]]),
  ];
  return pairs.flatMap(([a, b]) => {
    const record = (b ?? a)!;
    if (record.kind === "stroke") return [];
    const thing = nameOf(record);
    if (!a || !b) return [{ thing, value: "", before: a ? "there" : NONE, after: b ? "there" : NONE }];
    const [p, q] = [valuesOf(before, a), valuesOf(after, b)];
    const names = [...new Set([...Object.keys(p), ...Object.keys(q)])].filter((name) => p[name] !== q[name]);
    if (names.length === 0) return [{ thing, value: "", before: "as it was", after: "changed" }];
    return names.map((value) => ({ thing, value, before: p[value] ?? NONE, after: q[value] ?? NONE }));
  });
}

function nameOf(record: AnyRecord): string {
  if (record.kind === "layer") return `Layer "${record.name}"`;
  if (record.kind === "frame") return record.fileName;
  const names: Partial<Record<AnyRecord["kind"], string>> = {
    geometry: "Turn and crop",
    merge: "Merge",
    registration: "Registration",
    pin: "Pin",
    ghost: "Place that moved",
  };
  return names[record.kind] ?? record.kind[0].toUpperCase() + record.kind.slice(1);
}

/** The values of a record as text, by the names they have on the screen. */
function valuesOf(records: Records, record: AnyRecord): Record<string, string> {
  if (record.kind === "layer") return layerValues(records, record);
  if (record.kind === "geometry") {
    const { crop, angleDeg } = record;
    return { turn: `${numberText(angleDeg, 2)}°`, crop: `${crop.width} × ${crop.height} at ${crop.x}, ${crop.y}` };
  }
  if (record.kind === "merge") return { method: record.method, threshold: numberText(record.ghostThreshold) };
  if (record.kind === "pin") return { place: `${numberText(record.x, 1)}, ${numberText(record.y, 1)}` };
  return {};
}

function layerValues(records: Records, { id, name, opacity, mode, visible, clipped, seamPx, content, mask }: LayerRecord): Record<string, string> {
  const common = {
    name,
    opacity: `${Math.round(100 * opacity)} %`,
    blends: title(`blend.${mode}`),
    shown: visible ? "yes" : "no",
    "only on the layer below": clipped ? "yes" : "no",
    "mixed across its border": `${numberText(seamPx)} px`,
    "parts of the mask": String(allParts(mask.parts).length),
    strokes: String(strokesOf(records, id).length),
    "mask inverted": mask.inverted ? "yes" : "no",
    "mask feather": `${numberText(mask.featherPx, 1)} px`,
    "mask density": `${Math.round(100 * mask.density)} %`,
  };
  return { ...common, ...wordsOf(content).values?.(content) };
}
