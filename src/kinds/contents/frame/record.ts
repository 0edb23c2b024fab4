import { array, boolean, object, string, type Schema } from "yup";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Defocus } from "../../../core/air/defocus";
import { box, finite, id, share } from "../../../document/records/fields";
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
  /** left for right, before all else */
  mirrored?: boolean;
}

export const [LEAST_SCALE, MOST_SCALE] = [0.001, 10];

export const UNMOVED: Moved = { dx: 0, dy: 0, angleDeg: 0, scale: 1, corners: [0, 0, 0, 0, 0, 0, 0, 0] };

/** By what it is told what is cut out: a box around it, the same view without it, an even backdrop, the alpha that the frame came with, or that it is not the sky. */
export const CUT_BY = ["box", "plate", "backdrop", "alpha", "sky"] as const;
export type CutBy = (typeof CUT_BY)[number];
/** What a stroke says of where it was painted: it is to be kept, to be left, or looked at closely. */
export const MARKS = ["keep", "leave", "open"] as const;

export interface CutMark {
  what: (typeof MARKS)[number];
  diameterPx: number;
  /** x, y one after the other, px of what the layer shows */
  points: number[];
}

/** What of a frame is shown: something cut out of it, by what is known of it; never a mask that was made once. Px of what the layer shows. */
export interface Cut {
  by: CutBy;
  /** null: not drawn yet, and all of the frame is shown */
  box: Rectangle | null;
  /** the frame that shows the same view without it, and where that lies on this one where both are not merged */
  plateId: string | null;
  plateMatrix: number[] | null;
  marks: CutMark[];
}

export const MOST_MARKS = 400;
const MOST_MARK_NUMBERS = 20_000;

/** Only the light of a frame: what shines in it, without its black level or the light that was there anyway. */
export interface FrameLight {
  /** working light of the frame as developed that is taken off: red, green, blue */
  black: number[];
  /** by how much it is warmer, mired */
  warmthMired: number;
  /** the frame without what shines, whose light is taken off; null: none */
  ambientId: string | null;
}

/** How a layer's frame was fitted onto what lies below it, and how it compared there. */
export interface FrameFit {
  /** what had to fit, px of the picture; null: all that both show */
  joint: Rectangle | null;
  /** RMS of what is left, px */
  residualPx: number;
  /** share of the places that agree, 0..1 */
  agreeing: number;
  /** light of the frame against what lies below, EV, and of its red and blue against its green */
  lightEv: number;
  redEv: number;
  blueEv: number;
}

/** A placed frame; EV added to the frame as shot; moved from where it was registered; all of it, or what is cut out. */
export interface FrameContent {
  type: "frame";
  frameId: string;
  exposureEv: number;
  moved: Moved | null;
  /** how it came to lie where it does; null where it was registered, or moved by hand */
  fit: FrameFit | null;
  cut: Cut | null;
  light: FrameLight | null;
  /** of what is cut out: how far it is brought out of focus, and how it moves */
  defocus?: Defocus;
}

export const [MOST_DEFOCUS, MOST_MOTION] = [200, 400];

/** All of a frame, where it was registered and as it was shot, but for what is given. */
export const wholeFrame = (frameId: string, given: Partial<Omit<FrameContent, "type" | "frameId">> = {}): FrameContent => ({
  type: "frame",
  frameId,
  exposureEv: 0,
  moved: null,
  fit: null,
  cut: null,
  light: null,
  ...given,
});

/** Whether a cut says what is wanted by now. */
export const isTold = ({ by, box, plateId }: Cut): boolean => (by === "box" ? box !== null : by === "plate" ? plateId !== null : true);

export const frame: ContentRecord<FrameContent> = {
  fields: {
    frameId: id(),
    exposureEv: finite().min(-12).max(12),
    moved: object({
      dx: place(),
      dy: place(),
      angleDeg: finite().min(-180).max(180),
      scale: finite().min(LEAST_SCALE).max(MOST_SCALE),
      corners: array(place()).required().length(8),
      mirrored: boolean(),
    })
      .nullable()
      .defined(),
    fit: object({
      joint: box().nullable().defined(),
      residualPx: finite().min(0),
      agreeing: share(),
      lightEv: finite(),
      redEv: finite(),
      blueEv: finite(),
    })
      .nullable()
      .defined(),
    cut: object({
      by: string()
        .oneOf([...CUT_BY])
        .required(),
      box: box().nullable().defined(),
      plateId: id().nullable().defined(),
      plateMatrix: array(finite()).length(9).nullable().defined(),
      marks: array(
        object({
          what: string()
            .oneOf([...MARKS])
            .required(),
          diameterPx: finite().min(1).max(4000),
          points: array(place()).required().min(2).max(MOST_MARK_NUMBERS),
        }),
      )
        .required()
        .max(MOST_MARKS),
    })
      .nullable()
      .defined(),
    defocus: object({
      radiusPx: finite().min(0).max(MOST_DEFOCUS),
      motionPx: finite().min(0).max(MOST_MOTION),
      motionDeg: finite().min(-180).max(180),
    }).default(undefined) as unknown as Schema,
    light: object({
      black: array(finite().min(0).max(4)).required().length(3),
      warmthMired: finite().min(-200).max(200),
      ambientId: id().nullable().defined(),
    })
      .nullable()
      .defined(),
  },
  isSound: ({ cut }) => cut === null || cut.marks.every(({ points }) => points.length % 2 === 0),
  reads: ({ frameId, cut, light }) => ({ frameIds: [frameId, cut?.plateId, light?.ambientId].filter((id) => id != null) }),
};
