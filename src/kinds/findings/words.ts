import { outOfGamut } from "./outOfGamut/words";
import { printsBlack } from "./printsBlack/words";
import { blocked } from "./blocked/words";
import { bowedHorizon } from "./bowedHorizon/words";
import { cast } from "./cast/words";
import { endsUnlike } from "./endsUnlike/words";
import { castUnlike } from "./castUnlike/words";
import { hazeOrder } from "./hazeOrder/words";
import { hazeUnlike } from "./hazeUnlike/words";
import { noiseUnlike } from "./noiseUnlike/words";
import { clipped } from "./clipped/words";
import { doubledEdge } from "./doubledEdge/words";
import { edgeCut } from "./edgeCut/words";
import { emptyBorder } from "./emptyBorder/words";
import { halo } from "./halo/words";
import { leak } from "./leak/words";
import { leaningHorizon } from "./leaningHorizon/words";
import { lightSource } from "./lightSource/words";
import { motion } from "./motion/words";
import { noEffect } from "./noEffect/words";
import { seam } from "./seam/words";
import { sharpenedTwice } from "./sharpenedTwice/words";
import { softFrame } from "./softFrame/words";
import { spill } from "./spill/words";
import { turnedMask } from "./turnedMask/words";
import { oldSky } from "./oldSky/words";
import { oldRim } from "./oldRim/words";
import { apart } from "./apart/words";
import { gap } from "./gap/words";
import { cutOff } from "./cutOff/words";
import { offSeat } from "./offSeat/words";
import { noShadow } from "./noShadow/words";
import { shadowUnlike } from "./shadowUnlike/words";
import { wrongOrder } from "./wrongOrder/words";
import { lightEven } from "./lightEven/words";
import { lightOff } from "./lightOff/words";
import { seeThrough } from "./seeThrough/words";
import { partSeam } from "./partSeam/words";
import { blurUnlike } from "./blurUnlike/words";
import { lampMissing } from "./lampMissing/words";
import { rimSide } from "./rimSide/words";
import { glowColder } from "./glowColder/words";
import { mistBehind } from "./mistBehind/words";
import { skySun } from "./skySun/words";
import { edgeWidth } from "./edgeWidth/words";
import { stub } from "./stub/words";
import { twins } from "./twins/words";
import type { FindingKind } from "./records";
import type { FindingWords } from "./wording";

/** What each kind of finding says. */
export const FINDING_WORDS: Record<FindingKind, FindingWords> = {
  clipped,
  blocked,
  printsBlack,
  outOfGamut,
  lightSource,
  emptyBorder,
  edgeCut,
  cast,
  endsUnlike,
  castUnlike,
  hazeOrder,
  hazeUnlike,
  noiseUnlike,
  noEffect,
  motion,
  seam,
  softFrame,
  doubledEdge,
  bowedHorizon,
  leaningHorizon,
  halo,
  twins,
  spill,
  turnedMask,
  leak,
  sharpenedTwice,
  oldRim,
  oldSky,
  apart,
  gap,
  cutOff,
  partSeam,
  offSeat,
  noShadow,
  shadowUnlike,
  wrongOrder,
  lightEven,
  lightOff,
  lampMissing,
  rimSide,
  glowColder,
  blurUnlike,
  skySun,
  mistBehind,
  seeThrough,
  edgeWidth,
  stub,
};
