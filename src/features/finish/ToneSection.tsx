"use client";
import { useMemo } from "react";
import { toneResponse, type ToneValues } from "../../core/color/toneCurve";
import { encodeSrgb } from "../../core/color/srgbCurve";
import { setAdjustment } from "../../document/edits";
import type { Records } from "../../document/records/types";
import { adjustmentValues } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { useSession } from "../../session/store";
import { Choice } from "../../ui/components/Button";
import { LineChart, type Series } from "../../ui/components/LineChart";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { AdjustmentControl } from "./AdjustmentControl";

interface Props {
  headroom: { ev: number; reason: string } | null;
  onPreview: (change: (r: Records) => Records) => void;
}

const LOWEST_EV = -10;
const HIGHEST_EV = 8;

/** How scene light becomes light for a screen: one curve for all of the picture, and an evening out of its base. */
export function ToneSection({ headroom, onPreview }: Props) {
  const { records, readOnly } = useSession();
  const values = adjustmentValues(records, "tone") as unknown as ToneValues;
  const key = JSON.stringify(values);
  const series = useMemo<Series[]>(() => {
    const response = toneResponse(JSON.parse(key) as ToneValues);
    const points = Array.from({ length: 91 }, (_, i) => LOWEST_EV + (i * (HIGHEST_EV - LOWEST_EV)) / 90);
    return [{ label: "response", color: "#141414", points: points.map((ev) => ({ x: ev, y: 255 * Math.min(1, encodeSrgb(response(2 ** ev))) })) }];
  }, [key]);
  const filmic = values.curve === 1;
  return (
    <Section>
      <Heading>Tone response</Heading>
      <RowOf role="group" aria-label="Curve">
        {["Reinhard", "Toe and shoulder"].map((name, curve) => (
          <Choice
            key={name}
            isSelected={values.curve === curve}
            isDisabled={readOnly}
            onChange={() =>
              values.curve !== curve && edit(setAdjustment("tone", { curve }), { stage: "finish", label: `Tone response: ${name.toLowerCase()}` })
            }
          >
            {name}
          </Choice>
        ))}
      </RowOf>
      <LineChart
        summary="sRGB on the screen by scene light in EV against white"
        series={series}
        xTitle="scene EV against white"
        yTitle="sRGB"
        xMin={LOWEST_EV}
        xMax={HIGHEST_EV}
        xStep={2}
        yMax={255}
        height={104}
      />
      <AdjustmentControl
        type="tone"
        of="headroomEv"
        name="White point"
        unit="EV"
        min={0}
        max={16}
        step={0.1}
        digits={1}
        proposal={headroom && { value: headroom.ev, reason: headroom.reason }}
        onPreview={onPreview}
      />
      {filmic && (
        <>
          <AdjustmentControl type="tone" of="shoulderEv" name="Shoulder below white" unit="EV" min={0.1} max={6} step={0.1} digits={1} onPreview={onPreview} />
          <AdjustmentControl type="tone" of="toeEv" name="Toe below white" unit="EV" min={2} max={12} step={0.1} digits={1} onPreview={onPreview} />
          <AdjustmentControl type="tone" of="toeLiftEv" name="Lift blacks" unit="EV" min={-4} max={3.5} step={0.1} digits={1} onPreview={onPreview} />
        </>
      )}
      <Heading style={{ marginTop: 10 }}>Local</Heading>
      <AdjustmentControl
        type="local"
        of="strength"
        name="Local tone compression"
        unit="%"
        min={0}
        max={1}
        step={0.01}
        digits={0}
        scale={100}
        onPreview={onPreview}
      />
      {adjustmentValues(records, "local").strength > 0 ? (
        <>
          <AdjustmentControl
            type="local"
            of="scale"
            name="Scale"
            unit="% of the side"
            min={0.005}
            max={0.3}
            step={0.005}
            digits={1}
            scale={100}
            onPreview={onPreview}
          />
          <AdjustmentControl type="local" of="floorEv" name="Floor" unit="EV" min={-14} max={0} step={0.1} digits={1} onPreview={onPreview} />
          <AdjustmentControl type="local" of="ceilingEv" name="Ceiling" unit="EV" min={-2} max={12} step={0.1} digits={1} onPreview={onPreview} />
          <AdjustmentControl type="local" of="pivotEv" name="Stays at" unit="EV" min={-8} max={4} step={0.1} digits={1} onPreview={onPreview} />
        </>
      ) : (
        <Soft>Evens out large differences of light and keeps what is finer; edges carry no halo.</Soft>
      )}
    </Section>
  );
}
