import type { MaskPart } from "../../kinds/maskParts/records";
import type { LayerContent } from "../../kinds/contents/records";
import type { BlendIn, BlendMode } from "../../core/blend/blendModes";

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
  /** whether it blends as light, as what was cut out has to, or as values are encoded for a screen */
  blendIn: BlendIn;
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
  base: 0 | 1;
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

/** A mask that does nothing to its base. */
export function freshMask(base: 0 | 1, parts: MaskPart[] = []): MaskGroup {
  return { base, inverted: false, parts, refinePx: 0, featherPx: 0, low: 0, high: 1, density: 1 };
}
