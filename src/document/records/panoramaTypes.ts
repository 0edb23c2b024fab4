import type { Message } from "../../messages/message";
import type { Matrix3 } from "../../core/geometry/matrix3";
import type { PanoramaView } from "../../core/panorama/layout";
import type { LevelLine } from "../../core/panorama/level";
import type { ProjectionName } from "../../core/panorama/projections";

/** A frame of a panorama: its direction, or why it has none. */
export interface PanoramaFrame {
  frameId: string;
  /** camera → world, row-major; null where the frame is left out */
  rotation: Matrix3 | null;
  /** standard deviation of the direction, degrees */
  sdDeg: number;
  /** EV by which the frame is brighter than the mean of all, a channel */
  gainEv: number[];
}

/** Two frames of a panorama that overlap; see core/panorama/solvePanorama. */
export interface PanoramaPair {
  aId: string;
  bId: string;
  agreeing: number;
  measured: number;
  residualPx: number;
  parallaxPx: number;
  /** share of a that b shows too */
  overlap: number;
  /** places measured: direction x, y, z in the world and px left */
  places: number[][];
}

/** A place that a person found in two frames, px as shot. */
export interface PanoramaPoint {
  aId: string;
  bId: string;
  x: number;
  y: number;
  u: number;
  v: number;
}

/** Two places, px as shot of some frame, along something level or along one upright line. */
export interface LevelPin {
  kind: LevelLine["kind"];
  a: { frameId: string; x: number; y: number };
  b: { frameId: string; x: number; y: number };
}

/** How the camera was turned for each frame of a set, its lens, and how the result is shown. */
export interface PanoramaRecord {
  kind: "panorama";
  /** panorama-<set id> */
  id: string;
  setId: string;
  operationVersion: number;
  /** lens of all frames; k1, k2 in focal lengths, the shift of the optical centre in px */
  lens: { focalPx: number; focalSd: number; toldFocalPx: number | null; k1: number; k2: number; shiftX: number; shiftY: number };
  frames: PanoramaFrame[];
  pairs: PanoramaPair[];
  points: PanoramaPoint[];
  levels: LevelPin[];
  /** light lost towards the corners of every frame, EV at r², r⁴, r⁶ in half-diagonals */
  falloff: number[];
  view: PanoramaView;
  /** what the projection proposed is, and why */
  proposal: { projection: ProjectionName; reason: Message };
}

/** Where two frames of a panorama meet. */
export interface SeamFacts {
  aId: string;
  bId: string;
  /** px of the picture */
  lengthPx: number;
  /** mean ΔE2000 between both frames along it */
  deltaE: number;
  /** where it is worst, px of the picture */
  worst: { x: number; y: number; deltaE: number };
}
