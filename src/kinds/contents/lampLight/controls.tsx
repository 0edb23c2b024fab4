"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LEAST_DEPTH, MOST_DEPTH, MOST_TIMES, type LampLightContent } from "./record";

const TIMES: ContentValue<LampLightContent> = {
  ...{ of: "times", name: "layering/lampTimes", hint: "layering/lampTimesMean" },
  ...{ unit: "%", neutral: 1, min: 0, max: MOST_TIMES, step: 0.01, digits: 0, scale: 100 },
};
const DEPTH: ContentValue<LampLightContent> = {
  ...{ of: "depth", name: "layering/thingDepth", hint: "layering/thingDepthMeans" },
  ...{ unit: "%", neutral: 0.8, min: LEAST_DEPTH, max: MOST_DEPTH, step: 0.01, digits: 0, scale: 100 },
};

function LampLightControls(props: ControlsProps<LampLightContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/lampFollows")}</Soft>
      <ContentValues {...props} values={props.content.layerId === null ? [TIMES] : [TIMES, DEPTH]} />
    </Section>
  );
}

export const lampLight: ContentControls<LampLightContent> = { Controls: LampLightControls, offers: [] };
