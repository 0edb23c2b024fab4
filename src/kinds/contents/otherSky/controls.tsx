"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { documentSize, plateOf } from "../../../document/selectors";
import { skyCovers, skySun } from "../../../document/skyEdits";
import { useSession } from "../../../session/store";
import { Facts, Section, Soft } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import type { ContentControls, ControlsProps } from "../controlling";
import { ContentValues, type ContentValue } from "../ContentValues";
import { MOST_TIMES, type OtherSkyContent } from "./record";

const PLACING: ContentValue<OtherSkyContent>[] = [
  { of: "panDeg", name: "layering/skyPan", unit: "°", neutral: 0, min: -180, max: 180, step: 0.25, digits: 2 },
  { of: "liftDeg", name: "layering/skyLift", unit: "°", neutral: 0, min: -30, max: 30, step: 0.1, digits: 1 },
  {
    of: "times",
    name: "layering/skyTimes",
    hint: "layering/skyTimesMean",
    unit: "%",
    neutral: 1,
    min: 0.5,
    max: MOST_TIMES,
    step: 0.01,
    digits: 0,
    scale: 100,
  },
  { of: "exposureEv", name: "layering/skyLight", unit: "EV", neutral: 0, min: -4, max: 4, step: 0.05, digits: 2 },
];
const LIGHT: ContentValue<OtherSkyContent>[] = [
  { of: "landAmount", name: "layering/skyOnLand", hint: "layering/skyOnLandMeans", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "haze", name: "layering/skyHaze", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "hazeDeg", name: "layering/skyHazeDeg", unit: "°", neutral: 3, min: 0.2, max: 30, step: 0.1, digits: 1 },
  { of: "water", name: "layering/skyInWater", hint: "layering/skyInWaterMeans", unit: "%", neutral: 0, min: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
];

function OtherSkyControls(props: ControlsProps<OtherSkyContent>) {
  const records = useSession((s) => s.records);
  const [plate, size, shown] = [plateOf(records), documentSize(records), records[props.content.frameId]];
  const frame = shown?.kind === "frame" ? shown : null;
  const sun = plate && size && frame ? skySun(plate, size, frame, props.content) : null;
  return (
    <>
      <Section>
        <Soft>{sentence("layering/skyMeans")}</Soft>
        {plate && size && frame && (
          <Facts aria-label={sentence("layering/skyFigures")}>
            <dt>{sentence("layering/skyCovers")}</dt>
            <dd>{plain(100 * skyCovers(plate, size, frame, props.content), 0)} %</dd>
            <dt>{sentence("layering/skySun")}</dt>
            <dd>{sun ? `${plain(sun.azimuthDeg, 0)}° / ${plain(sun.elevationDeg, 0)}°` : "–"}</dd>
            {sun?.apartDeg != null && (
              <>
                <dt>{sentence("layering/skySunApart")}</dt>
                <dd>{sentence(message("layering/degreesApart", { degrees: sun.apartDeg }))}</dd>
              </>
            )}
          </Facts>
        )}
        <ContentValues {...props} values={PLACING} />
      </Section>
      <Section>
        <ContentValues {...props} values={LIGHT} />
      </Section>
    </>
  );
}

export const otherSky: ContentControls<OtherSkyContent> = { Controls: OtherSkyControls, offers: [] };
