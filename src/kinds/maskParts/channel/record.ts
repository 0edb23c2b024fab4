import { number } from "yup";
import { share } from "../../../document/records/fields";
import { encoded } from "../../values";
import { measured, type Measured, type PartRecord } from "../fields";

/** One encoded channel, pushed apart between two values. */
export interface Channel extends Measured {
  kind: "channel";
  channel: 0 | 1 | 2;
  low: number;
  high: number;
}

export const channel: PartRecord<Channel> = {
  fields: { ...measured, channel: number().oneOf([0, 1, 2]).required(), low: share(), high: share() },
  values: { low: encoded(0.4), high: encoded(0.6) },
  isMeasured: true,
};
