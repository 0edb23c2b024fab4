"use client";
import { ask } from "../../../session/openJob";
import { endReason } from "../endReason";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";
import { heldEv, useTones } from "../useTones";

/** The first and the last place are proposed at the ends of the picture's light. */
function TintControls(props: ControlsProps) {
  const tones = useTones();
  const last = `ev${props.values.points - 1}`;
  return (
    <ValueControls
      adjustment="tint"
      {...props}
      proposalOf={(name) => {
        if (!tones || (name !== "ev0" && name !== last)) return null;
        const value = heldEv("tint", name, name === "ev0" ? tones.darkestEv : tones.brightestEv);
        return { value, reason: endReason(name === "ev0", value) };
      }}
    />
  );
}

export const tint: AdjustmentControls = {
  Controls: TintControls,
  begin: async (records) => {
    const { darkestEv, brightestEv } = await ask("measureTones", { records });
    const [ev0, ev2] = [heldEv("tint", "ev0", darkestEv), heldEv("tint", "ev2", brightestEv)];
    return { ev0, ev1: Math.round(5 * (ev0 + ev2)) / 10, ev2 };
  },
};
