"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { DISC_PX, FOCUS_M, type DepthOfFieldContent } from "./record";

const BY_LOG = { along: Math.log, back: Math.exp };
const VALUES: ContentValue<DepthOfFieldContent>[] = [
  { of: "focusM", name: "layering/focusAt", unit: "m", neutral: 5, min: FOCUS_M[0], max: FOCUS_M[1], step: 0.01, digits: 2, ...BY_LOG },
  {
    ...{ of: "radiusPx", name: "layering/farDisc", hint: "layering/farDiscMeans", unit: "px" },
    ...{ neutral: 0, min: DISC_PX[0], max: DISC_PX[1], step: 0.1, digits: 1 },
  },
  { of: "farM", name: "layering/mistFar", hint: "layering/mistFarMeans", unit: "m", neutral: 500, min: 1, max: 20_000, step: 1, digits: 0, ...BY_LOG },
];

function DepthOfFieldControls(props: ControlsProps<DepthOfFieldContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/depthMeans")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const depthOfField: ContentControls<DepthOfFieldContent> = {
  Controls: DepthOfFieldControls,
  offers: [
    {
      id: "depthOfField",
      name: sentence("layering/depthOfField"),
      does: sentence("layering/depthOffer"),
      layer: () => ({
        name: sentence("layering/depthOfField"),
        content: { type: "depthOfField", focusM: 5, radiusPx: 6, farM: 500 },
        blendIn: "light",
      }),
      tab: "content",
    },
  ],
};
