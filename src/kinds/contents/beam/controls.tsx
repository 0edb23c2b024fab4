"use client";
import { sentence } from "../../../messages/sentence";
import { lampsOf } from "../../../document/lampEdits";
import { plateOf } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { CLOUD_M, MOST_SEED } from "../mist/record";
import { HALF_DEG, RADIUS_M, type BeamContent } from "./record";

const BY_LOG = { along: Math.log, back: Math.exp };
const CONE: ContentValue<BeamContent> = {
  of: "halfDeg",
  name: "layering/beamAngle",
  unit: "°",
  neutral: 15,
  min: HALF_DEG[0],
  max: HALF_DEG[1],
  step: 0.1,
  digits: 1,
  ...BY_LOG,
};
const SHAFT: ContentValue<BeamContent> = {
  of: "radiusM",
  name: "layering/beamRadius",
  unit: "m",
  neutral: 0.5,
  min: RADIUS_M[0],
  max: RADIUS_M[1],
  step: 0.01,
  digits: 2,
  ...BY_LOG,
};
const LIGHT: ContentValue<BeamContent>[] = [
  { of: "ev", name: "layering/beamLight", hint: "layering/beamLightMeans", unit: "EV", neutral: -3, min: -16, max: 8, step: 0.05, digits: 2 },
  { of: "soft", name: "layering/beamSoft", unit: "%", neutral: 0.4, min: 0.01, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "dusty", name: "layering/uneven", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "cloudM", name: "layering/cloudSize", unit: "m", neutral: 1, min: CLOUD_M[0], max: CLOUD_M[1], step: 0.1, digits: 1, ...BY_LOG },
  { of: "seed", name: "layering/seed", hint: "layering/seedMeans", unit: "", neutral: 1, min: 0, max: MOST_SEED, step: 1, digits: 0 },
];
const WHERE: ContentValue<BeamContent>[] = [
  { of: "toX", name: "layering/beamAcross", unit: "px", neutral: 0, min: -10_000, max: 20_000, step: 1, digits: 0 },
  { of: "toY", name: "layering/beamDown", unit: "px", neutral: 0, min: -10_000, max: 20_000, step: 1, digits: 0 },
  { of: "toM", name: "layering/beamAway", unit: "m", neutral: 5, min: 0.3, max: 500, step: 0.05, digits: 2, ...BY_LOG },
];

function BeamControls(props: ControlsProps<BeamContent>) {
  const isFar = useSession((s) => lampsOf(plateOf(s.records)).find((l) => l.id === props.content.lampId)?.distanceM) === null;
  return (
    <>
      <Section>
        <Soft>{sentence("layering/lampFollows")}</Soft>
        <ContentValues {...props} values={[isFar ? SHAFT : CONE, ...LIGHT]} />
      </Section>
      <Section>
        <Soft>{sentence("layering/beamFallsOn")}</Soft>
        <ContentValues {...props} values={WHERE} />
      </Section>
    </>
  );
}

export const beam: ContentControls<BeamContent> = { Controls: BeamControls, offers: [] };
