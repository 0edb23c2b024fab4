"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls } from "../controlling";
import type { BelowContent } from "./record";

export const below: ContentControls<BelowContent> = {
  Controls: () => (
    <Section>
      <Soft>{sentence("layering/whatLiesBelowFlattened")}</Soft>
    </Section>
  ),
  offers: [
    {
      id: "below",
      name: sentence("layering/allBelow"),
      does: sentence("layering/whatLiesBelowFlattenedAlways"),
      layer: () => ({ name: sentence("layering/allBelow"), content: { type: "below" } }),
      tab: "layer",
    },
  ],
};
