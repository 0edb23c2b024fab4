import type { SetKindRecord } from "../fields";

/** Stars. */
export const sky: SetKindRecord = { checks: ["blurred"], isSequence: true, comparesTone: true, isOfOneMoment: true };
