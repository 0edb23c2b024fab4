"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { Tones } from "../../../engine/operations/finish/measureTones";
import { ask } from "../../../session/openJob";
import { Ledger, LedgerCell, LedgerRow } from "../../../ui/components/Ledger";
import { Figure, Soft } from "../../../ui/components/panels";
import { percent } from "../../../ui/format";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";
import { useTones } from "../useTones";

function HueBandControls(props: ControlsProps) {
  const tones = useTones();
  return (
    <>
      {tones && <HuesFound tones={tones} {...props} />}
      <ValueControls adjustment="hueBand" {...props} />
    </>
  );
}

/** The bands of hues in the picture; choosing one centres the layer's band on it. */
function HuesFound({ tones, values, isDisabled, set }: ControlsProps & { tones: Tones }) {
  if (tones.hues.length === 0) return <Soft>{sentence("adjusting/pictureHoldsNoColours")}</Soft>;
  const found = tones.hues.slice(0, 6);
  const choose = (id: string) => {
    const hue = found.find((h) => String(h.hueDeg) === id);
    if (hue && !isDisabled) set({ hueDeg: hue.hueDeg, widthDeg: hue.widthDeg }, message("step.hueBand", { hue: hue.hueDeg, width: hue.widthDeg }));
  };
  const chosen = found.find((h) => Math.abs(h.hueDeg - values.hueDeg) < 2);
  return (
    <Ledger
      label={sentence("adjusting/huesPicture")}
      heads={[sentence("adjusting/hueHere"), sentence("common/ofThePicture"), sentence("common/chroma")]}
      chosen={chosen ? String(chosen.hueDeg) : null}
      onChoose={choose}
      style={{ margin: "6px 0" }}
    >
      {found.map(({ hueDeg, widthDeg, share, chroma }) => (
        <LedgerRow key={hueDeg} id={String(hueDeg)}>
          <LedgerCell>
            {hueDeg}° ± {Math.round(widthDeg / 2)}
          </LedgerCell>
          <LedgerCell>
            <Figure value={percent(share)} />
          </LedgerCell>
          <LedgerCell>
            <Figure value={chroma.toFixed(3)} />
          </LedgerCell>
        </LedgerRow>
      ))}
    </Ledger>
  );
}

export const hueBand: AdjustmentControls = {
  Controls: HueBandControls,
  begin: async (records) => {
    const [hue] = (await ask("measureTones", { records })).hues;
    const found: Record<string, number> = hue ? { hueDeg: hue.hueDeg, widthDeg: hue.widthDeg } : {};
    return found;
  },
};
