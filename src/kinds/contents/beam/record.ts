import { string } from "yup";
import { finite, share } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";
import { CLOUD_M, MOST_SEED } from "../mist/record";

/** Light of a lamp that is seen in the air on its way to a place of the plate. */
export interface BeamContent {
  type: "beam";
  lampId: string;
  /** what it falls on: px of the plate, and metres over the ground to it */
  toX: number;
  toY: number;
  toM: number;
  /** half of the angle of its cone, degrees; of what is far away half of its width there, metres */
  halfDeg: number;
  radiusM: number;
  /** light that a metre of it adds, where it begins, EV over white */
  ev: number;
  soft: number;
  dusty: number;
  cloudM: number;
  seed: number;
}

export const HALF_DEG: [number, number] = [0.2, 80];
export const RADIUS_M: [number, number] = [0.02, 30];

export const beam: ContentRecord<BeamContent> = {
  fields: {
    lampId: string().required().max(100),
    toX: finite().min(-1e6).max(1e6),
    toY: finite().min(-1e6).max(1e6),
    toM: finite().min(0.05).max(10_000),
    halfDeg: finite().min(HALF_DEG[0]).max(HALF_DEG[1]),
    radiusM: finite().min(RADIUS_M[0]).max(RADIUS_M[1]),
    ev: finite().min(-16).max(8),
    soft: finite().min(0.01).max(1),
    dusty: share(),
    cloudM: finite().min(CLOUD_M[0]).max(CLOUD_M[1]),
    seed: finite().integer().min(0).max(MOST_SEED),
  },
  reads: () => ({ seated: true }),
};
