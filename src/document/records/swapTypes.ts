import type { Rectangle } from "../../core/geometry/rectangle";

/** What a frame shows of a part, as it was shot. */
export interface PartLook {
  frameId: string;
  /** RMS of the finest detail less the noise's, relative to the middle, of encoded light */
  sharpness: number;
  /** mean light, EV */
  lightEv: number;
  /** share at the top of the range, 0..1 */
  clipped: number;
  /** share in which it differs from most frames, 0..1 */
  covered: number;
  /** the part in this frame, px of the frame; null where it was not found */
  found: Rectangle | null;
}

/** A part of the picture that may come from another frame: a hand, a head, somebody in a group. Places in px of the picture. */
export interface SwapRecord {
  kind: "swap";
  id: string;
  index: number;
  setId: string;
  name: string;
  box: Rectangle;
  /** what has to fit where it is joined: a neck, a wrist, a sleeve; null: what lies around the box */
  joint: Rectangle | null;
  looks: PartLook[];
  /** the layer that shows it from another frame; null: it is left as it is */
  layerId: string | null;
}
