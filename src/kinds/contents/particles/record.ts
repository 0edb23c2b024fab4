import { array } from "yup";
import type { Particles } from "../../../core/air/particles";
import { finite, share } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";
import { MOST_SEED } from "../mist/record";

/** Small things in the air, at all distances: behind what stands nearer, and before what stands further away. Light linear: red, green, blue. */
export interface ParticlesContent extends Particles {
  type: "particles";
  color: number[];
  /** how much of what is behind one hides, 0..1 */
  solid: number;
}

export const MOST_PARTICLES = 20_000;

export const particles: ContentRecord<ParticlesContent> = {
  fields: {
    count: finite().min(1).max(MOST_PARTICLES),
    sizeMm: finite().min(0.05).max(200),
    nearM: finite().min(0.1).max(1000),
    farM: finite().min(0.1).max(1000),
    fallMs: finite().min(-20).max(20),
    driftMs: finite().min(-30).max(30),
    exposureS: finite().min(0).max(10),
    focusM: finite().min(0.1).max(1000),
    blurPx: finite().min(0).max(300),
    seed: finite().integer().min(0).max(MOST_SEED),
    color: array(finite().min(0).max(1000)).required().length(3),
    solid: share(),
  },
  reads: () => ({ seated: true }),
};
