"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls } from "../controlling";
import type { MergeContent } from "./record";

export const merge: ContentControls<MergeContent> = {
  Controls: () => (
    <Section>
      <Soft>{sentence("layering/mergeNow")}</Soft>
    </Section>
  ),
  offers: [
    {
      id: "merge",
      name: sentence("common/merge"),
      does: sentence("layering/mergeOnceMoreOver"),
      layer: () => ({ name: sentence("common/merge"), content: { type: "merge" } }),
      tab: "layer",
    },
  ],
};
