"use client";
import { sentence } from "../../messages/sentence";
import { valueStep } from "../../messages/valueStep";
import type { PlainCode } from "../../messages/message";
import { hexOfLight, lightOfHex, luminanceOf, withLuminance } from "../../core/color/hexColour";
import type { LayerRecord } from "../../document/records/layerTypes";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf } from "../../ui/components/panels";
import { signed } from "../../ui/format";
import type { LayerContent } from "./records";
import { setContent, showContent } from "./setContent";

/** What adds light of a colour of its own. */
type Lit = Extract<LayerContent, { color: number[] }>;

interface Props {
  layer: LayerRecord;
  content: Lit;
  name: PlainCode;
  isDisabled: boolean;
}

const DARKEST_EV = -12;

/** The light that a layer adds: how bright it is and of what colour. */
export function LightColour({ layer, content, name, isDisabled }: Props) {
  const ev = Math.max(DARKEST_EV, Math.log2(Math.max(1e-9, luminanceOf(content.color))));
  const called = sentence(name);
  const brighter = (to: number): Lit => ({ ...content, color: withLuminance(content.color, 2 ** to) });
  return (
    <>
      <MeasuredControl
        name={called}
        unit="EV"
        value={ev}
        neutral={-2}
        min={DARKEST_EV}
        max={4}
        step={0.05}
        digits={2}
        isDisabled={isDisabled}
        onPreview={(v) => showContent(layer, brighter(v))}
        onChange={(v) => setContent(layer, brighter(v), valueStep(called, signed(v, 2), "EV"))}
      />
      <RowOf>
        <label>
          {sentence("common/colour")}{" "}
          <input
            type="color"
            value={hexOfLight(content.color)}
            disabled={isDisabled}
            onChange={(e) =>
              setContent(layer, { ...content, color: withLuminance(lightOfHex(e.target.value), 2 ** ev) }, valueStep(sentence("common/colour"), e.target.value))
            }
          />
        </label>
      </RowOf>
    </>
  );
}
