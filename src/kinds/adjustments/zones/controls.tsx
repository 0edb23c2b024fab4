"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { zonesFor } from "../../../core/adjust/tone";
import { ask } from "../../../session/openJob";
import { plain, signed, withUnit } from "../../../ui/format";
import { endReason } from "../endReason";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";
import { heldEv, useTones } from "../useTones";

/** Zones are named by the light they lie at; their ends and their number are proposed from the picture's own light. */
function ZoneControls(props: ControlsProps) {
  const tones = useTones();
  const { darkestEv, brightestEv, zones } = props.values;
  const at = (place: number) => withUnit(signed(darkestEv + ((brightestEv - darkestEv) * place) / (zones - 1), 1), "EV");
  return (
    <ValueControls
      adjustment="zones"
      {...props}
      nameOf={(_, { counted }) => (counted ? sentence(message("adjusting/at", { value: at(counted.place) })) : null)}
      proposalOf={(name) => {
        if (!tones) return null;
        const range = tones.brightestEv - tones.darkestEv;
        if (name === "zones")
          return { value: zonesFor(range), reason: sentence(message("adjusting/pictureSpansOneZone", { range: withUnit(plain(range, 1), "EV") })) };
        if (name !== "darkestEv" && name !== "brightestEv") return null;
        const value = heldEv("zones", name, tones[name]);
        return { value, reason: endReason(name === "darkestEv", value) };
      }}
    />
  );
}

export const zones: AdjustmentControls = {
  Controls: ZoneControls,
  begin: async (records) => {
    const { darkestEv, brightestEv } = await ask("measureTones", { records });
    return {
      darkestEv: heldEv("zones", "darkestEv", darkestEv),
      brightestEv: heldEv("zones", "brightestEv", brightestEv),
      zones: zonesFor(brightestEv - darkestEv),
    };
  },
};
