"use client";
import { useId } from "react";
import styled from "styled-components";
import { hexOfLight } from "../../../core/color/hexColour";
import { clearingOf, visibleM } from "../../../document/hazeEdits";
import type { HazeMark, PlateRecord } from "../../../document/records/plateTypes";
import { tellPlate } from "../../../document/seatEdits";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { clearAirOf, measureAir } from "../../../session/haze";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { tokens } from "../../../ui/tokens/tokens";
import { plain, withUnit } from "../../../ui/format";
import { toLayer, useCompose } from "../../../view/composeState";

const Patch = styled.span`
  display: inline-block;
  width: 44px;
  height: 14px;
  border: 1px solid ${tokens.line};
  vertical-align: middle;
`;

/** What the air of a plate hides with distance: measured, and taken away. */
export function AirSection({ plate, isDisabled }: { plate: PlateRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const plateTool = useCompose((s) => s.plateTool);
  const names = useId();
  const { air, hazeMarks: marks = [] } = plate;
  const cleared = clearingOf(records);
  const put = (next: HazeMark[], label: Parameters<typeof edit>[1]["label"]) => edit(tellPlate({ hazeMarks: next }), { stage: "compose", label });
  return (
    <Section>
      <Heading id={names}>{sentence("seating/air")}</Heading>
      <Soft>{sentence(air ? "seating/airIs" : plate.horizonBy === "guess" ? "seating/airNeedsHorizon" : "seating/airMeans")}</Soft>
      {air && (
        <Facts aria-labelledby={names}>
          <dt>{sentence("seating/oneSees")}</dt>
          <dd>{withUnit(plain(visibleM(air), 0), "m")}</dd>
          <dt>{sentence("seating/hidesBlue")}</dt>
          <dd>{withUnit(plain(air.perM[2] / air.perM[0], 2), "×")}</dd>
          <dt>{sentence("seating/airColour")}</dt>
          <dd>
            <Patch role="img" aria-label={hexOfLight(air.color)} style={{ background: hexOfLight(air.color) }} />
          </dd>
        </Facts>
      )}
      <RowOf>
        <Button isDisabled={isDisabled} onPress={() => void measureAir()}>
          {sentence(air ? "seating/measureAgain" : "seating/measureAir")}
        </Button>
        <Choice isSelected={plateTool === "distance"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "distance" : "none" })}>
          {sentence("seating/tool.distance")}
        </Choice>
      </RowOf>
      {marks.map((mark, i) => {
        const name = sentence(message("seating/distanceMark", { number: i + 1 }));
        return (
          <div key={i}>
            <MeasuredControl
              name={name}
              unit="m"
              value={mark.distanceM}
              neutral={mark.distanceM}
              min={0.5}
              max={2000}
              step={0.5}
              digits={1}
              isDisabled={isDisabled}
              onChange={(distanceM) =>
                put(
                  marks.map((m, k) => (k === i ? { ...m, distanceM } : m)),
                  valueStep(name, plain(distanceM, 1), "m"),
                )
              }
            />
            <RowOf style={{ marginTop: 0 }}>
              <TextButton
                aria-label={`${sentence("common/remove")}: ${name}`}
                isDisabled={isDisabled}
                onPress={() =>
                  put(
                    marks.filter((_, k) => k !== i),
                    "step.distanceRemoved",
                  )
                }
              >
                {sentence("common/remove")}
              </TextButton>
            </RowOf>
          </div>
        );
      })}
      {marks.length > 0 && <Soft>{sentence("seating/distancesMean")}</Soft>}
      <RowOf>
        {cleared ? (
          <Button onPress={() => toLayer(cleared.id, "content")}>{sentence("seating/toClearing")}</Button>
        ) : (
          air && (
            <Button isDisabled={isDisabled} onPress={() => clearAirOf(sentence("seating/clearingName"))}>
              {sentence("seating/clearAir")}
            </Button>
          )
        )}
      </RowOf>
    </Section>
  );
}
