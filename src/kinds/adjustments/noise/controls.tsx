"use client";
import { mergedFramesOf, registrationOf } from "../../../document/selectors";
import type { AdjustmentControls } from "../controlling";
import { standard } from "../StandardControls";
import { noise as record } from "./record";

/** It begins with the noise of the reference in its evenest area, encoded, as Gather measured it. */
export const noise: AdjustmentControls = {
  ...standard("noise"),
  begin: (records) => {
    const { min, max } = record.values.sigma;
    const measured = mergedFramesOf(records).find(({ frame }) => frame.id === registrationOf(records)?.referenceId)?.frame.measures.noiseSigma ?? 0;
    return Promise.resolve({ sigma: Math.min(max, Math.max(min, measured / 255)) });
  },
};
