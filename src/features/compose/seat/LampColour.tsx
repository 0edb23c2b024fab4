"use client";
import { sentence } from "../../../messages/sentence";
import { colorOfKelvin } from "../../../core/light/lampKinds";
import { hexOfLight, lightOfHex, withLuminance } from "../../../core/color/hexColour";
import type { PlateLamp } from "../../../document/records/plateTypes";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { RowOf } from "../../../ui/components/panels";

interface Props {
  lamp: PlateLamp;
  isDisabled: boolean;
  onShow: (color: number[]) => void;
  onChange: (color: number[]) => void;
}

const [WARMEST_K, COOLEST_K] = [1500, 15_000];

/** The colour of a lamp: by its temperature, or as it is seen. */
export function LampColour({ lamp, isDisabled, onShow, onChange }: Props) {
  const kelvin = kelvinOf(lamp.color);
  return (
    <>
      <MeasuredControl
        name={sentence("seating/lampKelvin")}
        unit="K"
        value={kelvin}
        neutral={6500}
        min={WARMEST_K}
        max={COOLEST_K}
        step={50}
        digits={0}
        along={(v) => -1 / v}
        back={(v) => -1 / v}
        isDisabled={isDisabled}
        onPreview={(v) => onShow(colorOfKelvin(v))}
        onChange={(v) => onChange(colorOfKelvin(v))}
      />
      <RowOf>
        <label>
          {sentence("common/colour")}{" "}
          <input type="color" value={hexOfLight(lamp.color)} disabled={isDisabled} onChange={(e) => onChange(withLuminance(lightOfHex(e.target.value), 1))} />
        </label>
      </RowOf>
    </>
  );
}

/** The temperature whose light has the same red over blue. */
function kelvinOf(color: readonly number[]): number {
  let [low, high] = [WARMEST_K, COOLEST_K];
  const redOverBlue = color[0] / Math.max(1e-3, color[2]);
  for (let k = 0; k < 24; k++) {
    const middle = (low + high) / 2;
    const [r, , b] = colorOfKelvin(middle);
    if (r / Math.max(1e-3, b) > redOverBlue) low = middle;
    else high = middle;
  }
  return Math.round((low + high) / 100) * 50;
}
