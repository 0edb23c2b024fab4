"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Section, Soft } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import { LEAST_SLOPE, MOST_SLOPE, type ReflectionContent } from "./record";

function ReflectionControls({ layer, content, isDisabled }: ControlsProps<ReflectionContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/reflectionFollows")}</Soft>
      <MeasuredControl
        name={sentence("layering/ripples")}
        unit="%"
        value={content.slope}
        neutral={0}
        min={LEAST_SLOPE}
        max={MOST_SLOPE}
        step={0.001}
        digits={1}
        scale={100}
        hint={sentence("layering/ripplesMean")}
        isDisabled={isDisabled}
        onPreview={(slope) => showContent(layer, { ...content, slope })}
        onChange={(slope) => setContent(layer, { ...content, slope }, valueStep(sentence("layering/ripples"), plain(100 * slope, 1), "%"))}
      />
    </Section>
  );
}

export const reflection: ContentControls<ReflectionContent> = { Controls: ReflectionControls, offers: [] };
