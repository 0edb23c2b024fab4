"use client";
import { Section, Soft } from "../../../ui/components/panels";
import type { MergeControls } from "../controlling";

export const base: MergeControls<"base"> = {
  Controls: () => (
    <Section>
      <Soft>The base stays as shot. Where a place is taken from another frame, that frame is brought to the light of the base.</Soft>
    </Section>
  ),
};
