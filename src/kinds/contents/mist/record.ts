import { array, number } from "yup";
import type { Mist } from "../../../core/air/mist";
import { finite, share } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** Air between the camera and all that lies below it: the further away, the more of it. Light of the air linear: red, green, blue. */
export interface MistContent extends Mist {
  type: "mist";
  color: number[];
  /** how far away what shows above the horizon is taken to be, metres */
  farM: number;
  /** how much more than green red and blue are hidden, times; as much where nothing is said */
  hides?: number[];
}

export const VISIBLE_M: [number, number] = [2, 50_000];
export const HEIGHT_M: [number, number] = [0.1, 500];
export const CLOUD_M: [number, number] = [0.2, 200];
export const MOST_SEED = 9999;

export const mist: ContentRecord<MistContent> = {
  fields: {
    visibleM: finite().min(VISIBLE_M[0]).max(VISIBLE_M[1]),
    halfHeightM: number().min(HEIGHT_M[0]).max(HEIGHT_M[1]).nullable().defined(),
    patchy: share(),
    cloudM: finite().min(CLOUD_M[0]).max(CLOUD_M[1]),
    seed: finite().integer().min(0).max(MOST_SEED),
    color: array(finite().min(0).max(1000)).required().length(3),
    farM: finite().min(1).max(100_000),
    hides: array(finite().min(0.05).max(10)).length(3).default(undefined),
  },
  reads: () => ({ seated: true }),
};
