import type { MergeKind, Nothing } from "../fields";

/** Each place from the frame that is sharpest there. */
export const focus: MergeKind<Nothing> = { fields: {}, fresh: () => ({}), suits: { focus: 2 }, smearsMotion: true, seatsByItself: true, followsFocus: true };
