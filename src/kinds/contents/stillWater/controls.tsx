"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { PATCH_M, STILL_PX, type StillWaterContent } from "./record";

const BY_LOG = { along: Math.log, back: Math.exp };
const VALUES: ContentValue<StillWaterContent>[] = [
  {
    ...{ of: "lengthM", name: "layering/stillLength", hint: "layering/stillLengthMeans", unit: "m" },
    ...{ neutral: 1, min: PATCH_M[0], max: PATCH_M[1], step: 0.01, digits: 2, ...BY_LOG },
  },
  {
    ...{ of: "widthM", name: "layering/stillWidth", hint: "layering/stillWidthMeans", unit: "m" },
    ...{ neutral: 0.1, min: PATCH_M[0], max: PATCH_M[1], step: 0.01, digits: 2, ...BY_LOG },
  },
  {
    ...{ of: "mostPx", name: "layering/stillMost", hint: "layering/stillMostMeans", unit: "px" },
    ...{ neutral: 60, min: STILL_PX[0], max: STILL_PX[1], step: 1, digits: 0, ...BY_LOG },
  },
];

function StillWaterControls(props: ControlsProps<StillWaterContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/stillMeans")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const stillWater: ContentControls<StillWaterContent> = { Controls: StillWaterControls, offers: [] };
