"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LEAST_SLOPE, MOST_SLOPE } from "../reflection/record";
import { SHINES_EV, type LampInWaterContent } from "./record";

const VALUES: ContentValue<LampInWaterContent>[] = [
  {
    ...{ of: "ev", name: "layering/shines", hint: "layering/shinesMeans" },
    ...{ unit: "EV", neutral: 0, min: SHINES_EV[0], max: SHINES_EV[1], step: 0.05, digits: 2 },
  },
  {
    ...{ of: "slope", name: "layering/ripples", hint: "layering/ripplesDraw" },
    ...{ unit: "%", neutral: 0, min: LEAST_SLOPE, max: MOST_SLOPE, step: 0.001, digits: 1, scale: 100 },
  },
];

function LampInWaterControls(props: ControlsProps<LampInWaterContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/lampFollows")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const lampInWater: ContentControls<LampInWaterContent> = { Controls: LampInWaterControls, offers: [] };
