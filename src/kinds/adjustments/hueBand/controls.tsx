"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { Tones } from "../../../engine/operations/finish/measureTones";
import { ask } from "../../../session/openJob";
import { TextButton } from "../../../ui/components/Button";
import { Figure, Soft, Table } from "../../../ui/components/panels";
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
  return (
    <Table aria-label={sentence("adjusting/huesPicture")} style={{ margin: "6px 0" }}>
      <thead>
        <tr>
          <th>{sentence("adjusting/hueHere")}</th>
          <th>{sentence("common/ofThePicture")}</th>
          <th>{sentence("common/chroma")}</th>
        </tr>
      </thead>
      <tbody>
        {tones.hues.slice(0, 6).map(({ hueDeg, widthDeg, share, chroma }) => (
          <tr key={hueDeg} aria-current={Math.abs(hueDeg - values.hueDeg) < 2}>
            <td>
              <TextButton
                isDisabled={isDisabled}
                onPress={() => set({ hueDeg, widthDeg }, message("step.hueBand", { hue: hueDeg, width: widthDeg }))}
                style={{ color: "inherit" }}
                aria-label={sentence(message("adjusting/takeHues", { hue: hueDeg }))}
              >
                {hueDeg}° ± {Math.round(widthDeg / 2)}
              </TextButton>
            </td>
            <td>
              <Figure value={percent(share)} />
            </td>
            <td>
              <Figure value={chroma.toFixed(3)} />
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
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
