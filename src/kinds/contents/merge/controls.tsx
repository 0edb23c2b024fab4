"use client";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls } from "../controlling";
import type { MergeContent } from "./record";

export const merge: ContentControls<MergeContent> = {
  Controls: () => (
    <Section>
      <Soft>The merge, as it is now.</Soft>
    </Section>
  ),
  offers: [
    {
      id: "merge",
      name: "Merge",
      does: "The merge once more, over what lies below.",
      layer: () => ({ name: "Merge", content: { type: "merge" } }),
      tab: "layer",
    },
  ],
};
