import type { SetKindRecord } from "../fields";

/** Frames of one view, focused at several distances. */
export const focus: SetKindRecord = { checks: ["focusCoverage"], isSequence: true, comparesTone: true, isOfOneMoment: true };
