import { array, boolean, object, string, type Schema } from "yup";
import { RESPONSE_KNOTS } from "../../core/merge/fitResponse";
import type { MeasuredLateral } from "../../core/measure/lateralColour";
import type { SetKind } from "../sets/records";
import { finite, numbers, share } from "../../document/records/fields";

/** A camera's response as its frames show it; see core/merge/fitResponse. */
export interface RecoveredResponse {
  /** EV by which the light of a code differs from the assumed curve, at even codes 0..1; one for all channels or one each */
  deviationEv: number[][];
  /** frame id → EV against the reference, with this response */
  relativeEv: Record<string, number>;
  /** misfit between the frames with the assumed curve and with this one, EV */
  beforeEv: number;
  afterEv: number;
  /** whether exposures were known from metadata; without them the exponent is a guess */
  exposuresTold: boolean;
  /** whether the assumed curve is clearly wrong */
  convincing: boolean;
}
/** auto: recovered where that is convincing. assumed: as the files say. */
export type ResponseChoice = "auto" | "assumed" | "recovered";

/** Coloured lines along edges, as the merge would have them. */
export interface FringeFacts {
  /** share of the picture */
  share: number;
  /** mean width across the edge, px, and mean ΔE2000 between them and what both sides show */
  widthPx: number;
  deltaE: number;
  /** where it was worst, reference px */
  worst: { x: number; y: number; deltaE: number }[];
  /** lateral colour of the reference as shot, with its standard error; null where too few edges show it */
  lateral: MeasuredLateral | null;
}

/** What is known of frames that are compared as light. */
export interface OfLight {
  response: { choice: ResponseChoice; found: RecoveredResponse | null };
  /** whether coloured lines along edges are taken away from scene light, and what was found */
  fringe: { removed: boolean; facts: FringeFacts | null };
}

/** Of a share: a tenth is more than any lens has. */
export const lateral = () => object({ red: finite().min(-0.1).max(0.1), blue: finite().min(-0.1).max(0.1) });

export const lightFields = {
  response: object({
    choice: string().oneOf(["auto", "assumed", "recovered"]).required(),
    found: object({
      deviationEv: array(array(finite().min(-20).max(20)).length(RESPONSE_KNOTS).required())
        .min(1)
        .max(3)
        .required(),
      relativeEv: numbers(),
      beforeEv: finite(),
      afterEv: finite(),
      exposuresTold: boolean().required(),
      convincing: boolean().required(),
    })
      .nullable()
      .defined(),
  }).required(),
  fringe: object({
    removed: boolean().required(),
    facts: object({
      share: share(),
      widthPx: finite(),
      deltaE: finite(),
      worst: array(object({ x: finite(), y: finite(), deltaE: finite() }))
        .required()
        .max(20),
      lateral: lateral().shape({ sigma: lateral().required() }).nullable().defined(),
    })
      .nullable()
      .defined(),
  }).required(),
};

export const freshLight = (): OfLight => ({ response: { choice: "auto", found: null }, fringe: { removed: false, facts: null } });

/** Of a merge that averages its frames: noise of the reference over that of the merge, measured in flat areas, and √N. */
export interface OfMean {
  noiseGain: { measured: number; ideal: number } | null;
}

export const meanFields = {
  noiseGain: object({ measured: finite(), ideal: finite() }).nullable().defined(),
};

export type Nothing = Record<never, never>;

export interface MergeKind<Own extends object> {
  /** what its record holds besides what every merge does */
  fields: { [K in keyof Own]: Schema };
  /** the same as it begins */
  fresh: () => Own;
  /** kinds of sets that it suits, the largest proposed first */
  suits: Partial<Record<SetKind, number>>;
  /** whether it gives the scene's light, which is brought to a screen by a tone response */
  givesSceneLight?: boolean;
  /** whether frames of several exposures are compared as light, which needs the camera's response */
  comparesLight?: boolean;
  /** whether what moved is smeared or doubled unless one frame is taken there; others leave it out or take in nothing unasked */
  smearsMotion?: boolean;
  /** whether the frame proposed for a place that moved is taken at once, where the frames are one moment's */
  seatsByItself?: boolean;
  /** whether frames are joined as they look, not as the light they show */
  keepsExposures?: boolean;
  /** whether frames differ by where they are in focus, which must not count as movement */
  followsFocus?: boolean;
  /** whether frames look elsewhere, and so cannot be held against one another all over */
  looksElsewhere?: boolean;
  /** whether most frames may give nothing as long as nobody takes them in */
  takesNothingUnasked?: boolean;
}
