"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { BLEED_PX, type BleedContent } from "./record";

const VALUES: ContentValue<BleedContent>[] = [
  {
    ...{ of: "px", name: "layering/bleedWidth", hint: "layering/bleedWidthMeans", unit: "px" },
    ...{ neutral: 1, min: BLEED_PX[0], max: BLEED_PX[1], step: 0.1, digits: 1, along: Math.log, back: Math.exp },
  },
  { of: "amount", name: "layering/bleedAmount", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
];

function BleedControls(props: ControlsProps<BleedContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/bleedMeans")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const bleed: ContentControls<BleedContent> = { Controls: BleedControls, offers: [] };
