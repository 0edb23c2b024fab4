"use client";
import { sentence } from "../../messages/sentence";
import { Facts, Heading, Section, Soft } from "../../ui/components/panels";
import { plain } from "../../ui/format";
import type { OfMean } from "./fields";

/** By how much noise was lowered. */
export function NoiseSection({ record }: { record: OfMean }) {
  const gain = record.noiseGain;
  if (!gain) return null;
  return (
    <Section>
      <Heading>{sentence("common/noise")}</Heading>
      <Facts>
        <dt>{sentence("merge/lowerByFactor")}</dt>
        <dd>{plain(gain.measured, 2)}</dd>
        <dt>{sentence("merge/nAtBest")}</dt>
        <dd>{plain(gain.ideal, 2)}</dd>
      </Facts>
      <Soft>{sentence("merge/measuredFlattestAreasReference")}</Soft>
    </Section>
  );
}
