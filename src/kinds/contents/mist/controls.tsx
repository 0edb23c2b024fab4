"use client";
import { sentence } from "../../../messages/sentence";
import { airAtHorizon } from "../../../session/sky";
import { Button, Choice } from "../../../ui/components/Button";
import { RowOf, Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { LightColour } from "../LightColour";
import { setContent } from "../setContent";
import { CLOUD_M, HEIGHT_M, MOST_SEED, VISIBLE_M, type MistContent } from "./record";

const BY_LOG = { along: Math.log, back: Math.exp };
const AIR: ContentValue<MistContent>[] = [
  {
    of: "visibleM",
    name: "layering/mistVisible",
    hint: "layering/mistVisibleMeans",
    unit: "m",
    neutral: 1000,
    min: VISIBLE_M[0],
    max: VISIBLE_M[1],
    step: 1,
    digits: 0,
    ...BY_LOG,
  },
  { of: "farM", name: "layering/mistFar", hint: "layering/mistFarMeans", unit: "m", neutral: 500, min: 1, max: 20_000, step: 1, digits: 0, ...BY_LOG },
];
const HEIGHT: ContentValue<MistContent> = {
  ...{ of: "halfHeightM", name: "layering/mistHeight", unit: "m", neutral: 1, min: HEIGHT_M[0], max: 50, step: 0.05, digits: 2 },
  ...BY_LOG,
};
const CLOUDS: ContentValue<MistContent>[] = [
  { of: "patchy", name: "layering/uneven", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "cloudM", name: "layering/cloudSize", unit: "m", neutral: 5, min: CLOUD_M[0], max: CLOUD_M[1], step: 0.1, digits: 1, ...BY_LOG },
  { of: "seed", name: "layering/seed", hint: "layering/seedMeans", unit: "", neutral: 1, min: 0, max: MOST_SEED, step: 1, digits: 0 },
];
/** Height at which mist on the ground is half as thick, at first, metres. */
const KNEE_M = 0.8;

function MistControls(props: ControlsProps<MistContent>) {
  const { layer, content, isDisabled } = props;
  const isLow = content.halfHeightM !== null;
  return (
    <>
      <Section>
        <Soft>{sentence("layering/mistMeans")}</Soft>
        <RowOf>
          <Choice
            isSelected={isLow}
            isDisabled={isDisabled}
            onChange={(low) => setContent(layer, { ...content, halfHeightM: low ? KNEE_M : null }, low ? "step.mistLow" : "step.mistEven")}
          >
            {sentence("layering/mistLow")}
          </Choice>
        </RowOf>
        <ContentValues {...props} values={isLow ? [...AIR, HEIGHT] : AIR} />
        <LightColour layer={layer} content={content} name="layering/airLight" isDisabled={isDisabled} />
        <RowOf>
          <Button isDisabled={isDisabled} onPress={() => void airAtHorizon(layer)}>
            {sentence("layering/asHorizon")}
          </Button>
        </RowOf>
      </Section>
      <Section>
        <ContentValues {...props} values={CLOUDS} />
      </Section>
    </>
  );
}

export const mist: ContentControls<MistContent> = {
  Controls: MistControls,
  offers: [
    {
      id: "mist",
      name: sentence("layering/mist"),
      does: sentence("layering/mistOffer"),
      layer: () => ({
        name: sentence("layering/mist"),
        content: { type: "mist", visibleM: 400, halfHeightM: null, patchy: 0.3, cloudM: 6, seed: 1, color: [0.35, 0.37, 0.4], farM: 500 },
        blendIn: "light",
      }),
      tab: "content",
    },
  ],
};
