"use client";
import { Section, Soft } from "../../../ui/components/panels";
import { ADJUSTMENT_CONTROLS } from "../../adjustments/controls";
import { valuesOf } from "../../adjustments/records";
import { ADJUSTMENT_WORDS } from "../../adjustments/words";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import type { AdjustmentContent } from "./record";

function AdjustmentLayerControls({ layer, content, isDisabled }: ControlsProps<AdjustmentContent>) {
  const { adjustment } = content;
  const { Controls } = ADJUSTMENT_CONTROLS[adjustment];
  const given = (values: Record<string, number>) => ({ ...content, values: { ...content.values, ...values } });
  return (
    <Section>
      <Soft>{ADJUSTMENT_WORDS[adjustment].does}</Soft>
      <Controls
        values={valuesOf(adjustment, content.values)}
        isDisabled={isDisabled}
        set={(values, label) => setContent(layer, given(values), label)}
        preview={(values) => showContent(layer, given(values))}
      />
    </Section>
  );
}

/** Adjustments are offered one by one. */
export const adjustment: ContentControls<AdjustmentContent> = { Controls: AdjustmentLayerControls, offers: [] };
