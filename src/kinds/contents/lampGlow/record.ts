import { finite, id } from "../../../document/records/fields";
import type { Spread } from "../../../core/light/glow";
import type { ContentRecord } from "../fields";

/** The light of a lamp that a lens and the air spread around it. */
export interface LampGlowContent extends Spread {
  type: "lampGlow";
  lampId: string;
}

export const RIM_EV: [number, number] = [-16, 6];
export const FALL_EV: [number, number] = [-8, 0];
export const BEND_EV: [number, number] = [-2, 2];

export const lampGlow: ContentRecord<LampGlowContent> = {
  fields: {
    lampId: id(),
    rimEv: finite().min(RIM_EV[0]).max(RIM_EV[1]),
    fallEv: finite().min(FALL_EV[0]).max(FALL_EV[1]),
    bendEv: finite().min(BEND_EV[0]).max(BEND_EV[1]),
  },
  reads: () => ({ plate: true }),
};
