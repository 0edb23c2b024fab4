"use client";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls } from "../controlling";
import type { BelowContent } from "./record";

export const below: ContentControls<BelowContent> = {
  Controls: () => (
    <Section>
      <Soft>What lies below, flattened. It follows every change there: choose a blend mode under Layer to use it.</Soft>
    </Section>
  ),
  offers: [
    {
      id: "below",
      name: "All below",
      does: "What lies below, flattened and always as it is now.",
      layer: () => ({ name: "All below", content: { type: "below" } }),
      tab: "layer",
    },
  ],
};
