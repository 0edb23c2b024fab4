import type { Adjustment } from "../../kinds/adjustments/records";
import type { BlendMode } from "../../core/blend/blendModes";

/** What a layer shows, or does to what lies below it. */
export type LayerContent =
  /** a placed frame; EV added to the frame as shot; moved from where it was registered */
  | { type: "frame"; frameId: string; exposureEv: number; moved: Moved | null }
  /** the merge */
  | { type: "merge" }
  /** all that lies below it, as it is now: flattened, and never stale */
  | { type: "below" }
  /** values by name; see kinds/adjustments */
  | { type: "adjustment"; adjustment: Adjustment; values: Record<string, number> }
  /** one colour, sRGB-encoded 0..1, or two along a ramp, with grain of a standard deviation (encoded) and a size in px */
  | ({ type: "fill"; grain: number; grainPx: number; ramp: ColourRamp | null } & Colour)
  /** what lies below, mended where the mask reveals: taken from a place dx, dy away, turned, scaled and mirrored about the middle of the area */
  | { type: "retouch"; method: RetouchMethod; dx: number; dy: number; angleDeg: number; scale: number; mirrored: boolean }
  | { type: "group" };

export const RETOUCH_METHODS = ["heal", "clone", "fill", "smooth"] as const;
/** Healing takes detail from a source and tones from around; cloning takes both; filling looks for what goes on there; smoothing has no detail. */
export type RetouchMethod = (typeof RETOUCH_METHODS)[number];

/** sRGB-encoded, 0..1 */
export interface Colour {
  red: number;
  green: number;
  blue: number;
}

/** The colour that another turns into between two places, reference px. */
export interface ColourRamp extends Colour {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** A layer put elsewhere: its corners pulled, then turned clockwise and scaled about the centre of the picture, then shifted, px. */
export interface Moved {
  dx: number;
  dy: number;
  angleDeg: number;
  scale: number;
  /** x, y of how far each corner is pulled, px: top left, top right, bottom right, bottom left */
  corners: number[];
}

export const UNMOVED: Moved = { dx: 0, dy: 0, angleDeg: 0, scale: 1, corners: [0, 0, 0, 0, 0, 0, 0, 0] };

export interface LayerRecord {
  kind: "layer";
  id: string;
  /** order within its group, bottom first */
  index: number;
  setId: string;
  /** the group it is in, or null */
  parentId: string | null;
  name: string;
  note: string;
  content: LayerContent;
  opacity: number;
  mode: BlendMode;
  visible: boolean;
  /** neither painted on nor changed */
  locked: boolean;
  /** shown only where the next layer below that is not clipped shows, and changing nothing but that */
  clipped: boolean;
  /** how far to either side of its mask coarse light is mixed with what lies below, px; 0: not at all. For pictures that blend normally */
  seamPx: number;
  mask: MaskGroup;
}

/** A mask: its parts one after the other, then its whole. White reveals, black conceals. */
export interface MaskGroup {
  /** what the mask is before any part: 0 conceals all, 1 reveals all */
  ground: 0 | 1;
  inverted: boolean;
  parts: MaskPart[];
  /** radius over which the mask follows the edges of the merge, px; 0 off */
  refinePx: number;
  /** standard deviation of the blur of the whole, px */
  featherPx: number;
  /** mask values that become black and white */
  low: number;
  high: number;
  /** the most that it reveals, 0..1 */
  density: number;
}

export type Combine = "add" | "subtract" | "intersect";

interface PartBase {
  id: string;
  /** how it goes with the parts before it; what is painted always lies on top of them */
  combine: Combine;
  inverted: boolean;
  featherPx: number;
}

/** Where a picture is measured for a mask: a placed frame, or null for the merge. */
type Measured = { of: string | null };

export const FOUND = ["sky", "even", "subject", "near"] as const;
export type Found = (typeof FOUND)[number];

/** Places in reference px. */
export type PartShape =
  | { kind: "painted" }
  /** black up to the first place, white from the second */
  | { kind: "ramp"; x0: number; y0: number; x1: number; y1: number }
  /** white inside; radii before it is turned, degrees clockwise */
  | { kind: "ellipse"; cx: number; cy: number; rx: number; ry: number; angleDeg: number }
  /** corners x, y one after the other */
  | { kind: "polygon"; points: number[] }
  /** luminance, EV against white */
  | ({ kind: "light"; fromEv: number; toEv: number; softEv: number } & Measured)
  /** hue in Oklch degrees; less colourful things than leastChroma are left out */
  | ({ kind: "hue"; hueDeg: number; widthDeg: number; leastChroma: number } & Measured)
  /** one encoded channel, pushed apart between two values */
  | ({ kind: "channel"; channel: 0 | 1 | 2; low: number; high: number } & Measured)
  /** how strong detail of a size (standard deviation, px) is around a place, EV */
  | ({ kind: "sharpness"; sizePx: number; fromEv: number; softEv: number } & Measured)
  /** the sharpest frame of a focus merge, counted from 1 */
  | { kind: "depth"; from: number; to: number; soft: number }
  /** where two frames differ at the same exposure, EV */
  | { kind: "difference"; aId: string; bId: string; fromEv: number; softEv: number }
  /** the mask of another layer, as it is now */
  | { kind: "link"; layerId: string }
  /** where strokes were painted, what the parts before it made is blurred by a standard deviation, px */
  | { kind: "soften"; sigmaPx: number }
  /** cells of a grid over the picture */
  | { kind: "cells"; cellPx: number; runs: number[] }
  /** what is found in the merge: the sky, even surfaces, the subject in a box, or what surrounds a place up to the next edges (ΔE) */
  | { kind: "found"; what: Found; x0: number; y0: number; x1: number; y1: number; tolerance: number }
  /** parts combined among themselves first */
  | { kind: "group"; parts: MaskPart[] };

export type MaskPart = PartBase & PartShape;

/** Parts and, after each group, what it holds, with how deep they lie. */
export function allParts(parts: MaskPart[], depth = 0): { part: MaskPart; depth: number }[] {
  return parts.flatMap((part) => [{ part, depth }, ...(part.kind === "group" ? allParts(part.parts, depth + 1) : [])]);
}

/** Whether strokes are painted on a part. */
export const isPainted = (part: PartShape): boolean => part.kind === "painted" || part.kind === "soften";

/** A mask that does nothing to a ground. */
export function freshMask(ground: 0 | 1, parts: MaskPart[] = []): MaskGroup {
  return { ground, inverted: false, parts, refinePx: 0, featherPx: 0, low: 0, high: 1, density: 1 };
}
