"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useState } from "react";
import { Choice } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Choices } from "../../../ui/components/Choices";
import { RowOf } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";

/** Correlated colour temperature of D65, for which a developed frame is balanced, K. CIE 015. */
const D65 = 6504;
const COOLEST_K = 20_000;
const WARMEST_K = 2850;
/** Lights to start from, K. Common practice, no source; tungsten is CIE illuminant A. */
const STARTS = [
  { name: sentence("adjusting/daylight"), kelvin: 5500 },
  { name: sentence("adjusting/shade"), kelvin: 7500 },
  { name: sentence("adjusting/tungsten"), kelvin: 2856 },
];

const kelvinOf = (mired: number) => 1e6 / (1e6 / D65 - mired);
const miredOf = (kelvin: number) => Math.round(10 * (1e6 / D65 - 1e6 / kelvin)) / 10;
const nearest10 = (kelvin: number) => Math.round(kelvin / 10) * 10;

/** The light that the picture is taken to have been shot in, in kelvin; as a shift in mired on request. */
function WhiteBalanceControls(props: ControlsProps) {
  const { values, isDisabled, set, preview, proposals } = props;
  const [inMired, setInMired] = useState(false);
  const kelvin = Math.min(COOLEST_K, Math.max(WARMEST_K, kelvinOf(Math.min(values.mired, miredOf(COOLEST_K)))));
  const proposed = proposals?.mired;
  const startFrom = (name: string) => {
    const { kelvin } = STARTS.find((start) => start.name === name)!;
    set({ mired: miredOf(kelvin) }, message("step.whiteBalanceFor", { light: name.toLowerCase(), kelvin }));
  };
  return (
    <>
      <RowOf style={{ marginTop: 2 }}>
        <Choices
          label={sentence("adjusting/lightStartFrom")}
          within
          items={STARTS.map(({ name }) => ({ id: name, label: name }))}
          chosen={STARTS.find((start) => Math.abs(values.mired - miredOf(start.kelvin)) < 0.1)?.name ?? null}
          isDisabled={isDisabled}
          onChoose={startFrom}
        />
        <Choice isSelected={inMired} onChange={setInMired}>
          {sentence("adjusting/inMired")}
        </Choice>
      </RowOf>
      {inMired ? (
        <ValueControls adjustment="whiteBalance" {...props} shows={(name) => name === "mired"} />
      ) : (
        <MeasuredControl
          name={sentence("adjusting/lightWas")}
          unit="K"
          value={nearest10(kelvin)}
          neutral={nearest10(D65)}
          min={WARMEST_K}
          max={COOLEST_K}
          step={10}
          digits={0}
          along={(v) => -1e6 / v}
          back={(v) => nearest10(-1e6 / v)}
          isDisabled={isDisabled}
          hint={sentence(message("adjusting/higherWarmerDevelopedK", { value: nearest10(D65) }))}
          proposal={proposed && { value: nearest10(kelvinOf(proposed.value)), reason: proposed.reason }}
          onPreview={(v) => preview({ mired: v === nearest10(D65) ? 0 : miredOf(v) })}
          onChange={(v) => set({ mired: v === nearest10(D65) ? 0 : miredOf(v) }, message("step.whiteBalanceKelvin", { kelvin: plain(v, 0) }))}
        />
      )}
      <ValueControls adjustment="whiteBalance" {...props} shows={(name) => name === "duv"} />
    </>
  );
}

export const whiteBalance: AdjustmentControls = { Controls: WhiteBalanceControls };
