"use client";
import { sentence } from "../../../messages/sentence";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps, Offer } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LightColour } from "../LightColour";
import { MOST_SEED } from "../mist/record";
import { MOST_PARTICLES, type ParticlesContent } from "./record";

const BY_LOG = { along: Math.log, back: Math.exp };
const THINGS: ContentValue<ParticlesContent>[] = [
  { of: "count", name: "layering/howMany", unit: "", neutral: 500, min: 1, max: MOST_PARTICLES, step: 1, digits: 0, ...BY_LOG },
  { of: "sizeMm", name: "common/size", unit: "mm", neutral: 2, min: 0.05, max: 200, step: 0.05, digits: 2, ...BY_LOG },
  { of: "solid", name: "layering/solid", unit: "%", neutral: 1, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
];
const WHERE: ContentValue<ParticlesContent>[] = [
  { of: "nearM", name: "layering/fromM", unit: "m", neutral: 1, min: 0.1, max: 200, step: 0.05, digits: 2, ...BY_LOG },
  { of: "farM", name: "layering/toM", unit: "m", neutral: 30, min: 0.2, max: 1000, step: 0.1, digits: 1, ...BY_LOG },
  { of: "fallMs", name: "layering/falls", unit: "m/s", neutral: 1, min: -20, max: 20, step: 0.05, digits: 2 },
  { of: "driftMs", name: "layering/drifts", unit: "m/s", neutral: 0, min: -30, max: 30, step: 0.05, digits: 2 },
  { of: "exposureS", name: "layering/seenFor", hint: "layering/seenForMeans", unit: "s", neutral: 0.01, min: 0, max: 2, step: 0.001, digits: 3 },
  { of: "focusM", name: "layering/sharpAt", unit: "m", neutral: 5, min: 0.1, max: 200, step: 0.1, digits: 1, ...BY_LOG },
  { of: "blurPx", name: "layering/blurFar", hint: "layering/blurFarMeans", unit: "px", neutral: 0, min: 0, max: 300, step: 0.5, digits: 1 },
  { of: "seed", name: "layering/seed", hint: "layering/seedMeans", unit: "", neutral: 1, min: 0, max: MOST_SEED, step: 1, digits: 0 },
];

function ParticlesControls(props: ControlsProps<ParticlesContent>) {
  const { layer, content, isDisabled } = props;
  return (
    <>
      <Section>
        <Soft>{sentence("layering/particlesMean")}</Soft>
        <ContentValues {...props} values={THINGS} />
        <LightColour layer={layer} content={content} name="layering/theirLight" isDisabled={isDisabled} />
      </Section>
      <Section>
        <ContentValues {...props} values={WHERE} />
      </Section>
    </>
  );
}

type Kind = "dust" | "rain" | "snow" | "seeds";
/** How fast they fall, how large they are and how many: drops of 2 mm fall at 6.5 m/s (Gunn and Kinzer 1949), flakes at about 1; the rest is common practice, no source. */
const KINDS: Record<Kind, Omit<ParticlesContent, "type" | "seed" | "focusM" | "blurPx">> = {
  dust: { count: 1500, sizeMm: 0.8, nearM: 0.5, farM: 8, fallMs: 0.02, driftMs: 0.05, exposureS: 0.01, color: [0.6, 0.55, 0.45], solid: 0.5 },
  rain: { count: 8000, sizeMm: 3, nearM: 1, farM: 15, fallMs: 6.5, driftMs: 0.6, exposureS: 0.01, color: [2.4, 2.5, 2.6], solid: 1 },
  snow: { count: 6000, sizeMm: 12, nearM: 0.8, farM: 20, fallMs: 1, driftMs: 0.4, exposureS: 0.01, color: [0.9, 0.92, 0.95], solid: 0.95 },
  seeds: { count: 120, sizeMm: 12, nearM: 0.8, farM: 15, fallMs: 0.25, driftMs: 0.8, exposureS: 0.005, color: [0.7, 0.66, 0.55], solid: 0.8 },
};

const offerOf = (kind: Kind): Offer => ({
  id: `air-${kind}`,
  name: sentence(`layering/air.${kind}`),
  does: sentence(`layering/offer.${kind}`),
  layer: () => ({
    name: sentence(`layering/air.${kind}`),
    content: { type: "particles", ...KINDS[kind], focusM: 5, blurPx: 12, seed: 1 },
    blendIn: "light",
  }),
  tab: "content",
});

export const particles: ContentControls<ParticlesContent> = { Controls: ParticlesControls, offers: (["dust", "rain", "snow", "seeds"] as const).map(offerOf) };
