"use client";
import { useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { tellPlate } from "../../../document/seatEdits";
import { lightOf } from "../../../document/seatGeometry";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { markShadows, WHY_NOT } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { Choice, TextButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, signed, withUnit } from "../../../ui/format";
import { useCompose } from "../../../view/composeState";
import { SunByDate } from "./SunByDate";
import { useShadowFigures } from "./useShadowFigures";

/** Where the plate's light comes from, and by what that is told. */
export function LightSection({ plate, isDisabled }: { plate: PlateRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const plateTool = useCompose((s) => s.plateTool);
  const size = documentSize(records)!;
  const light = lightOf(plate, size);
  const direction = typeof light === "string" ? null : light;
  const figures = useShadowFigures(plate, direction);
  const [byDate, setByDate] = useState(plate.light?.by === "date");
  const tell = (change: { azimuthDeg?: number; elevationDeg?: number }) =>
    tellPlate({ light: { azimuthDeg: direction?.azimuthDeg ?? 0, elevationDeg: direction?.elevationDeg ?? 45, ...change }, overcast: false });
  return (
    <Section>
      <Heading>{sentence("seating/light")}</Heading>
      <Soft>
        {direction
          ? sentence(
              plate.light
                ? message(`seating/lightBy.${plate.light.by ?? "hand"}`, { degrees: direction.sigmaDeg })
                : message("seating/lightByShadows", { degrees: direction.sigmaDeg, count: plate.shadows.length }),
            )
          : light === "overcast"
            ? sentence("seating/lightOvercast")
            : sentence(plate.shadows.length ? WHY_NOT[light as keyof typeof WHY_NOT] : "seating/markOne")}
      </Soft>
      <RowOf>
        <Choice isSelected={plateTool === "shadow"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "shadow" : "none" })}>
          {sentence("seating/tool.shadow")}
        </Choice>
        <Choice isSelected={plateTool === "pair"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "pair" : "none" })}>
          {sentence("seating/tool.pair")}
        </Choice>
        <Choice isSelected={plateTool === "ball"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "ball" : "none" })}>
          {sentence("seating/tool.ball")}
        </Choice>
        <Choice isSelected={plateTool === "sun"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "sun" : "none" })}>
          {sentence("seating/tool.sun")}
        </Choice>
        <Choice
          isSelected={plate.overcast}
          isDisabled={isDisabled}
          onChange={(overcast) => edit(tellPlate({ overcast, light: null }), { stage: "compose", label: overcast ? "step.overcast" : "step.notOvercast" })}
        >
          {sentence("seating/overcast")}
        </Choice>
        <Choice isSelected={byDate} isDisabled={isDisabled} onChange={setByDate}>
          {sentence("seating/byDateAndPlace")}
        </Choice>
        {plate.light && (
          <TextButton isDisabled={isDisabled} onPress={() => edit(tellPlate({ light: null }), { stage: "compose", label: "step.lightByShadows" })}>
            {sentence("seating/asShadowsTell")}
          </TextButton>
        )}
        {plate.shadows.length > 0 && (
          <TextButton isDisabled={isDisabled} onPress={() => markShadows(plate.shadows.slice(0, -1))}>
            {sentence("seating/lastShadowBack")}
          </TextButton>
        )}
      </RowOf>
      {byDate && <SunByDate plate={plate} isDisabled={isDisabled} />}
      {!plate.overcast && (
        <>
          <MeasuredControl
            name={sentence("seating/azimuth")}
            unit="°"
            value={direction?.azimuthDeg ?? 0}
            neutral={0}
            min={-180}
            max={180}
            step={0.5}
            digits={1}
            hint={sentence("seating/azimuthMeans")}
            isDisabled={isDisabled}
            onPreview={(azimuthDeg) => showLive(tell({ azimuthDeg }))}
            onChange={(azimuthDeg) =>
              edit(tell({ azimuthDeg }), { stage: "compose", label: valueStep(sentence("seating/azimuth"), signed(azimuthDeg, 1), "°") })
            }
          />
          <MeasuredControl
            name={sentence("seating/elevation")}
            unit="°"
            value={direction?.elevationDeg ?? 45}
            neutral={45}
            min={1}
            max={89}
            step={0.5}
            digits={1}
            isDisabled={isDisabled}
            onPreview={(elevationDeg) => showLive(tell({ elevationDeg }))}
            onChange={(elevationDeg) =>
              edit(tell({ elevationDeg }), { stage: "compose", label: valueStep(sentence("seating/elevation"), plain(elevationDeg, 1), "°") })
            }
          />
        </>
      )}
      {figures && (
        <Facts aria-label={sentence("seating/shadowTells")}>
          {figures.ratioEv !== null && (
            <>
              <dt>{sentence("seating/ratio")}</dt>
              <dd>{withUnit(plain(figures.ratioEv, 1), "EV")}</dd>
            </>
          )}
          <dt>{sentence("seating/source")}</dt>
          <dd>{plain(figures.sourceDeg, 1)}°</dd>
          {figures.shadowMired !== null && (
            <>
              <dt>{sentence("seating/shade")}</dt>
              <dd>{withUnit(signed(figures.shadowMired, 0), "mired")}</dd>
            </>
          )}
        </Facts>
      )}
    </Section>
  );
}
