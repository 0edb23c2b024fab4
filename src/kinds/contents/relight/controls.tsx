"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LEAST_DEPTH, MOST_DEPTH } from "../lampLight/record";
import { MOST_RATIO_EV, type RelightContent } from "./record";

const VALUES: ContentValue<RelightContent>[] = [
  {
    of: "amount",
    name: "layering/relightAmount",
    hint: "layering/relightAmountMeans",
    unit: "%",
    neutral: 0,
    min: 0,
    max: 1,
    step: 0.01,
    digits: 0,
    scale: 100,
  },
  { of: "azimuthDeg", name: "layering/ownAzimuth", hint: "layering/ownAzimuthMeans", unit: "°", neutral: 0, min: -180, max: 180, step: 1, digits: 0 },
  { of: "elevationDeg", name: "layering/ownElevation", unit: "°", neutral: 45, min: -90, max: 90, step: 1, digits: 0 },
  { of: "ratioEv", name: "layering/ownRatio", hint: "layering/ownRatioMeans", unit: "EV", neutral: 0, min: 0, max: MOST_RATIO_EV, step: 0.05, digits: 2 },
  { of: "toRatioEv", name: "layering/toRatio", unit: "EV", neutral: 0, min: 0, max: MOST_RATIO_EV, step: 0.05, digits: 2 },
  {
    ...{ of: "depth", name: "layering/thingDepth", hint: "layering/thingDepthMeans" },
    ...{ unit: "%", neutral: 0.8, min: LEAST_DEPTH, max: MOST_DEPTH, step: 0.01, digits: 0, scale: 100 },
  },
];

function RelightControls(props: ControlsProps<RelightContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/relightFollows")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const relight: ContentControls<RelightContent> = { Controls: RelightControls, offers: [] };
