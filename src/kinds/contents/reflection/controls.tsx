"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LEAST_SLOPE, MOST_SLOPE, type ReflectionContent } from "./record";

const VALUES: ContentValue<ReflectionContent>[] = [
  {
    ...{ of: "slope", name: "layering/ripples", hint: "layering/ripplesMean" },
    ...{ unit: "%", neutral: 0, min: LEAST_SLOPE, max: MOST_SLOPE, step: 0.001, digits: 1, scale: 100 },
  },
];

function ReflectionControls(props: ControlsProps<ReflectionContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/reflectionFollows")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const reflection: ContentControls<ReflectionContent> = { Controls: ReflectionControls, offers: [] };
