import type { SetKindRecord } from "../fields";

/** One exposure developed twice. */
export const developed: SetKindRecord = { checks: ["blurred"], isComparable: true, comparesTone: true };
