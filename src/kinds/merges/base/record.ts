import type { MergeKind, Nothing } from "../fields";

/** One frame as shot; others come in place by place. */
export const base: MergeKind<Nothing> = {
  fields: {},
  fresh: () => ({}),
  suits: { separate: 3, developed: 3, bracket: 1, single: 4, cutout: 4, repeats: 1, sky: 1 },
  takesNothingUnasked: true,
};
