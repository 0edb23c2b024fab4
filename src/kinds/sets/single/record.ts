import type { SetKindRecord } from "../fields";

/** A frame on its own. */
export const single: SetKindRecord = { checks: ["blurred"], isComparable: true, comparesTone: true, isOfOneMoment: true };
