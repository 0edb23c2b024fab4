"use client";
import { Facts, Heading, Section, Soft } from "../../ui/components/panels";
import { plain } from "../../ui/format";
import type { OfMean } from "./fields";

/** By how much noise was lowered. */
export function NoiseSection({ record }: { record: OfMean }) {
  const gain = record.noiseGain;
  if (!gain) return null;
  return (
    <Section>
      <Heading>Noise</Heading>
      <Facts>
        <dt>Lower by a factor of</dt>
        <dd>{plain(gain.measured, 2)}</dd>
        <dt>√N at best</dt>
        <dd>{plain(gain.ideal, 2)}</dd>
      </Facts>
      <Soft>Measured in the flattest areas, the reference frame against the merge.</Soft>
    </Section>
  );
}
