import { array } from "yup";
import type { SkyView } from "../../../core/light/skyView";
import { finite, id, share } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** Another sky in place of the plate's: behind the edges of what stands before it, in the light on the land, and in its water. Colours linear: red, green, blue. */
export interface OtherSkyContent extends SkyView {
  type: "otherSky";
  /** the frame that shows the sky, and its last row of it, px */
  frameId: string;
  bottomY: number;
  /** the frame of the plate by which land and sky are told apart */
  landId: string;
  exposureEv: number;
  /** by what the light on the land would be multiplied, and how much of that is done */
  land: number[];
  landAmount: number;
  /** air at the horizon: how much of it, how far up, degrees, and its light */
  haze: number;
  hazeDeg: number;
  hazeColor: number[];
  /** how much of what water mirrors is exchanged */
  water: number;
  /** where its sun is seen, px of its own picture; null: none is */
  sun: number[] | null;
}

export const MOST_TIMES = 6;
export const MOST_GAIN = 64;
const FARTHEST = 1e6;
const colour = (most: number) => array(finite().min(0).max(most)).required().length(3);

export const otherSky: ContentRecord<OtherSkyContent> = {
  fields: {
    frameId: id(),
    landId: id(),
    bottomY: finite().min(0).max(FARTHEST),
    focalPx: finite().min(1).max(FARTHEST),
    horizonY: finite().min(-FARTHEST).max(FARTHEST),
    panDeg: finite().min(-180).max(180),
    liftDeg: finite().min(-60).max(60),
    times: finite().min(0.2).max(MOST_TIMES),
    exposureEv: finite().min(-12).max(12),
    land: colour(MOST_GAIN),
    landAmount: share(),
    haze: share(),
    hazeDeg: finite().min(0.1).max(60),
    hazeColor: colour(1000),
    water: share(),
    sun: array(finite().min(-FARTHEST).max(FARTHEST)).length(2).nullable().defined(),
  },
  reads: ({ frameId, landId }) => ({ frameIds: [frameId, landId], plate: true }),
};
