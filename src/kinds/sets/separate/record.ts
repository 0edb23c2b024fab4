import type { SetKindRecord } from "../fields";

/** One view in several lights, or with things moved. */
export const separate: SetKindRecord = { checks: ["blurred", "plate"], isComparable: true };
