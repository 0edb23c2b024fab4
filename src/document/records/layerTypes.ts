import type { MaskPart } from "../../kinds/maskParts/records";
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

/** A mask that does nothing to a ground. */
export function freshMask(ground: 0 | 1, parts: MaskPart[] = []): MaskGroup {
  return { ground, inverted: false, parts, refinePx: 0, featherPx: 0, low: 0, high: 1, density: 1 };
}
