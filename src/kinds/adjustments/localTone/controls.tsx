"use client";
import { mergeOf } from "../../../document/selectors";
import type { AdjustmentControls } from "../controlling";
import { standard } from "../StandardControls";

export const localTone: AdjustmentControls = {
  ...standard("localTone"),
  isOffered: (records) => mergeOf(records)?.method === "radiance",
  begin: () => Promise.resolve({ strength: 0.5 }),
};
