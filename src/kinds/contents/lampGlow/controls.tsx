"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { BEND_EV, FALL_EV, RIM_EV, type LampGlowContent } from "./record";

const VALUES: ContentValue<LampGlowContent>[] = [
  { of: "rimEv", name: "layering/glowRim", hint: "layering/glowRimMeans", unit: "EV", neutral: -6, min: RIM_EV[0], max: RIM_EV[1], step: 0.1, digits: 1 },
  { of: "fallEv", name: "layering/glowFall", hint: "layering/glowFallMeans", unit: "EV", neutral: -2, min: FALL_EV[0], max: FALL_EV[1], step: 0.05, digits: 2 },
  { of: "bendEv", name: "layering/glowBend", hint: "layering/glowBendMeans", unit: "EV", neutral: 0, min: BEND_EV[0], max: BEND_EV[1], step: 0.01, digits: 2 },
];

function LampGlowControls(props: ControlsProps<LampGlowContent>) {
  return (
    <Section>
      <Soft>{sentence("layering/lampFollows")}</Soft>
      <ContentValues {...props} values={VALUES} />
    </Section>
  );
}

export const lampGlow: ContentControls<LampGlowContent> = { Controls: LampGlowControls, offers: [] };
