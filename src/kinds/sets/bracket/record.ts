import type { SetKindRecord } from "../fields";

/** Frames of one view at several exposures. */
export const bracket: SetKindRecord = { checks: ["blurred", "ladder", "disagreements", "shallow"], isComparable: true, hasSteps: true, isOfOneMoment: true };
