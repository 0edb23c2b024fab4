import type { SetKindRecord } from "../fields";

/** A thing on a plain ground, and the scene it goes into. */
export const cutout: SetKindRecord = { checks: ["blurred"], comparesTone: true, isOfOneMoment: true };
