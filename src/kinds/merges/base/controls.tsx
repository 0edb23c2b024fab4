"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { MergeControls } from "../controlling";

export const base: MergeControls<"base"> = {
  Controls: () => (
    <Section>
      <Soft>{sentence("merge/baseStaysShotWhere")}</Soft>
    </Section>
  ),
};
