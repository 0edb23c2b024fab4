"use client";
import { mergeOf } from "../../../document/selectors";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";

/** How it works matters only while it does. */
function LocalToneControls(props: ControlsProps) {
  return <ValueControls adjustment="localTone" {...props} shows={(name) => name === "strength" || props.values.strength > 0} />;
}

export const localTone: AdjustmentControls = {
  Controls: LocalToneControls,
  isOffered: (records) => mergeOf(records)?.method === "radiance",
  begin: () => Promise.resolve({ strength: 0.5 }),
};
