"use client";
import { parseDateTime } from "@internationalized/date";
import { useState } from "react";
import { DateField, DateInput, DateSegment, I18nProvider, Label } from "react-aria-components";
import styled from "styled-components";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { turn } from "../../../core/seat/outlineLight";
import { sunByDate, type Whereabouts } from "../../../core/seat/sunByDate";
import { lightFromShadows } from "../../../core/seat/lightFromShadows";
import type { FrameRecord } from "../../../document/records/types";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { lightByDate, plateFrame, tellPlate } from "../../../document/seatEdits";
import { cameraOf } from "../../../document/seatGeometry";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { RowOf, Soft } from "../../../ui/components/panels";
import { tokens } from "../../../ui/tokens/tokens";

const Clock = styled(DateField)`
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
  padding: 4px 0;
  border-bottom: 1px solid ${tokens.line};
  label {
    white-space: nowrap;
  }
  .react-aria-DateInput {
    display: flex;
    padding: 1px 4px;
    border: 1px solid ${tokens.lineStrong};
    background: ${tokens.field};
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
  .react-aria-DateSegment {
    padding: 0 1px;
    outline: none;
  }
  .react-aria-DateSegment[data-focused] {
    background: ${tokens.text};
    color: ${tokens.field};
  }
`;

/** Values of where a picture was taken, with what they may be. */
const VALUES = [
  { of: "overUtcH", name: "seating/overUtc", unit: "h", min: -14, max: 14, step: 0.25, digits: 2 },
  { of: "latitudeDeg", name: "seating/latitude", unit: "°", min: -90, max: 90, step: 0.01, digits: 2 },
  { of: "longitudeDeg", name: "seating/longitude", unit: "°", min: -180, max: 180, step: 0.01, digits: 2 },
  { of: "headingDeg", name: "seating/heading", unit: "°", min: 0, max: 360, step: 0.5, digits: 1 },
] as const;

/** The light by when and where the plate was taken, for plates that show no shadow; and by a shadow, where the camera looked. */
export function SunByDate({ plate, isDisabled }: { plate: PlateRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const [asked, setAsked] = useState<Partial<Whereabouts>>({});
  const told: Whereabouts = { ...UNKNOWN, ...notedBy(plateFrame(records)), ...plate.whereabouts, ...asked };
  const sun = sunByDate(told);
  // while the light is by date, it follows what is said here
  const say = (change: Partial<Whereabouts>) => {
    setAsked({});
    const next = { ...told, ...change };
    edit(plate.light?.by === "date" ? lightByDate(next) : tellPlate({ whereabouts: next }), { stage: "compose", label: "step.whereabouts" });
  };
  const shadows = lightFromShadows(cameraOf(plate, documentSize(records)!), plate.shadows);
  const heading = sun && typeof shadows !== "string" ? (told.headingDeg + turn(shadows.azimuthDeg, sun.azimuthDeg) + 360) % 360 : null;
  return (
    <>
      {/* year first, as files are named, wherever it is read */}
      <I18nProvider locale="en-SE">
        <Clock
          granularity="minute"
          hourCycle={24}
          shouldForceLeadingZeros
          value={parseDateTime(told.clock)}
          isDisabled={isDisabled}
          onChange={(value) => value && setAsked({ ...asked, clock: value.toString().slice(0, 16) })}
          onBlur={() => asked.clock && say({ clock: asked.clock })}
        >
          <Label>{sentence("seating/takenAt")}</Label>
          <DateInput>{(segment) => <DateSegment segment={segment} />}</DateInput>
        </Clock>
      </I18nProvider>
      {VALUES.map(({ of, name, ...range }) => (
        <MeasuredControl
          key={of}
          name={sentence(name)}
          {...range}
          value={told[of]}
          neutral={told[of]}
          isDisabled={isDisabled}
          onPreview={(v) => setAsked({ [of]: v })}
          onChange={(v) => say({ [of]: v })}
        />
      ))}
      <Soft>
        {sun && sun.elevationDeg > 0
          ? sentence(message("seating/sunStood", { azimuth: sun.azimuthDeg, elevation: sun.elevationDeg }))
          : sentence("seating/sunWasDown")}
      </Soft>
      <RowOf>
        <Button
          isDisabled={isDisabled || !sun || sun.elevationDeg <= 0}
          onPress={() => edit(lightByDate(told), { stage: "compose", label: "step.lightByDate" })}
        >
          {sentence("seating/lightFromThere")}
        </Button>
        {heading !== null && (
          <Button isDisabled={isDisabled} onPress={() => say({ headingDeg: Math.round(10 * heading) / 10 })}>
            {sentence("seating/headingByShadow")}
          </Button>
        )}
      </RowOf>
    </>
  );
}

const UNKNOWN: Whereabouts = { clock: "2026-09-12T12:00", overUtcH: 0, latitudeDeg: 52, longitudeDeg: 0, headingDeg: 0 };

/** What a camera noted of when and where it took a frame. */
function notedBy(frame: FrameRecord | undefined): Partial<Whereabouts> {
  const { headingDeg = null, overUtcH = null, ...place } = frame?.shotFrom ?? {};
  const parts = frame?.takenAt?.match(/^(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d)/);
  const clock = parts && `${parts[1]}-${parts[2]}-${parts[3]}T${parts[4]}:${parts[5]}`;
  return {
    ...place,
    ...(clock && Number.isFinite(Date.parse(`${clock}Z`)) && { clock }),
    ...(headingDeg !== null && { headingDeg }),
    ...(overUtcH !== null && { overUtcH }),
  };
}
