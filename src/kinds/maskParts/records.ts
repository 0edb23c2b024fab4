import type { PartBase, PartRecord } from "./fields";
import { painted } from "./painted/record";
import { ramp } from "./ramp/record";
import { ellipse } from "./ellipse/record";
import { polygon } from "./polygon/record";
import { light } from "./light/record";
import { hue } from "./hue/record";
import { channel } from "./channel/record";
import { depth } from "./depth/record";
import { difference } from "./difference/record";
import { sharpness } from "./sharpness/record";
import { soften } from "./soften/record";
import { link } from "./link/record";
import { cells } from "./cells/record";
import { found } from "./found/record";
import { behind } from "./behind/record";
import { cast } from "./cast/record";
import { sunk } from "./sunk/record";
import { group, type Group } from "./group/record";

/** All parts that a mask can be made of. */
export const PART_RECORDS = {
  painted,
  ramp,
  ellipse,
  polygon,
  light,
  hue,
  channel,
  depth,
  difference,
  sharpness,
  soften,
  link,
  cells,
  found,
  cast,
  sunk,
  behind,
  group,
};

export type PartKind = keyof typeof PART_RECORDS;
type Simple = { [K in Exclude<PartKind, "group">]: (typeof PART_RECORDS)[K] extends PartRecord<infer P> ? P : never }[Exclude<PartKind, "group">];
/** What a part is, by kind; places in reference px. */
export type PartShape = Simple | Group<MaskPart>;
export type MaskPart = PartBase & PartShape;
export type PartOf<K extends PartKind> = Extract<PartShape, { kind: K }>;

const recordOf = (part: PartShape) => PART_RECORDS[part.kind] as PartRecord<PartShape>;

/** Parts and, after each group, what it holds, with how deep they lie. */
export function allParts(parts: MaskPart[], depth = 0): { part: MaskPart; depth: number }[] {
  return parts.flatMap((part) => [{ part, depth }, ...(part.kind === "group" ? allParts(part.parts, depth + 1) : [])]);
}

/** Whether strokes are painted on a part. */
export const isPainted = (part: PartShape): boolean => recordOf(part).takesStrokes ?? false;

/** A part where the picture is shown in another way; what cannot be seen any more stays where it was. */
export function movedPart(part: MaskPart, how: Parameters<NonNullable<PartRecord<PartShape>["moved"]>>[1]): MaskPart {
  if (part.kind === "group") return { ...part, parts: part.parts.map((p) => movedPart(p, how)) };
  return { ...part, ...recordOf(part).moved?.(part, how) };
}
