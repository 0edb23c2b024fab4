import type { SetKindRecord } from "../fields";

/** The same view at the same settings. */
export const repeats: SetKindRecord = { checks: ["blurred", "plate", "shallow"], isComparable: true, comparesTone: true, isOfOneMoment: true };
