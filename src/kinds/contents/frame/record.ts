import { array, object } from "yup";
import { finite, id } from "../../../document/records/fields";
import { place } from "../../maskParts/fields";
import type { ContentRecord } from "../fields";

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

/** A placed frame; EV added to the frame as shot; moved from where it was registered. */
export interface FrameContent {
  type: "frame";
  frameId: string;
  exposureEv: number;
  moved: Moved | null;
}

export const frame: ContentRecord<FrameContent> = {
  fields: {
    frameId: id(),
    exposureEv: finite().min(-12).max(12),
    moved: object({
      dx: place(),
      dy: place(),
      angleDeg: finite().min(-180).max(180),
      scale: finite().min(0.02).max(10),
      corners: array(place()).required().length(8),
    })
      .nullable()
      .defined(),
  },
  reads: ({ frameId }) => ({ frameId }),
};
