import { outOfGamut } from "./outOfGamut/record";
import { printsBlack } from "./printsBlack/record";
import { blocked } from "./blocked/record";
import { bowedHorizon } from "./bowedHorizon/record";
import { cast } from "./cast/record";
import { endsUnlike } from "./endsUnlike/record";
import { castUnlike } from "./castUnlike/record";
import { hazeOrder } from "./hazeOrder/record";
import { hazeUnlike } from "./hazeUnlike/record";
import { noiseUnlike } from "./noiseUnlike/record";
import { clipped } from "./clipped/record";
import { doubledEdge } from "./doubledEdge/record";
import { edgeCut } from "./edgeCut/record";
import { emptyBorder } from "./emptyBorder/record";
import { halo } from "./halo/record";
import { leak } from "./leak/record";
import { leaningHorizon } from "./leaningHorizon/record";
import { lightSource } from "./lightSource/record";
import { motion } from "./motion/record";
import { noEffect } from "./noEffect/record";
import { seam } from "./seam/record";
import { sharpenedTwice } from "./sharpenedTwice/record";
import { softFrame } from "./softFrame/record";
import { spill } from "./spill/record";
import { turnedMask } from "./turnedMask/record";
import { oldSky } from "./oldSky/record";
import { oldRim } from "./oldRim/record";
import { apart } from "./apart/record";
import { gap } from "./gap/record";
import { cutOff } from "./cutOff/record";
import { offSeat } from "./offSeat/record";
import { noShadow } from "./noShadow/record";
import { shadowUnlike } from "./shadowUnlike/record";
import { wrongOrder } from "./wrongOrder/record";
import { lightEven } from "./lightEven/record";
import { lightOff } from "./lightOff/record";
import { seeThrough } from "./seeThrough/record";
import { partSeam } from "./partSeam/record";
import { blurUnlike } from "./blurUnlike/record";
import { lampMissing } from "./lampMissing/record";
import { rimSide } from "./rimSide/record";
import { glowColder } from "./glowColder/record";
import { mistBehind } from "./mistBehind/record";
import { skySun } from "./skySun/record";
import { edgeWidth } from "./edgeWidth/record";
import { stub } from "./stub/record";
import { twins } from "./twins/record";
import type { FindingRecord } from "./fields";

/** All that can be found wrong with a picture. */
export const FINDING_RECORDS = {
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

export type FindingKind = keyof typeof FINDING_RECORDS;
type Told<V> = { [N in keyof V]: V[N] extends "number" ? number : string };
export type ValuesOf<K extends FindingKind> = Told<(typeof FINDING_RECORDS)[K]["values"]>;
/** A kind with what it tells. */
export type FindingOwn = { [K in FindingKind]: { kind: K; values: ValuesOf<K> } }[FindingKind];

export const isFindingKind = (kind: unknown): kind is FindingKind => typeof kind === "string" && Object.hasOwn(FINDING_RECORDS, kind);
export const findingRecord = (kind: FindingKind): FindingRecord => FINDING_RECORDS[kind];
