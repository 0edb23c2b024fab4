"use client";
import { removeRecord, resetAdjustment, updateRecord } from "../../document/edits";
import type { AdjustmentType, PinRecord } from "../../document/records/types";
import { ADJUSTMENT_NAMES, adjustmentOf, adjustmentValues, geometryOf, NEUTRAL, pinsOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { useSession } from "../../session/store";
import { Choice, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Figure, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { pixels, plain, signed, withUnit } from "../../ui/format";

/** What a click on the picture sets. */
export type PinTool = "none" | "neutral" | "exposure" | "crop";

function describeValues(type: AdjustmentType, v: Record<string, number>): string {
  switch (type) {
    case "exposure":
      return withUnit(signed(v.ev, 2), "EV");
    case "whiteBalance":
      return `${withUnit(signed(v.mired, 0), "mired")}, Duv ${signed(v.duv, 4)}`;
    case "contrast":
      return `${plain(v.factor, 2)} around ${withUnit(signed(Math.log2(v.pivot / 0.18), 1), "EV")}`;
    case "chroma":
      return withUnit(plain(v.factor * 100, 0), "%");
    case "tone":
      return `${v.curve === 1 ? "toe and shoulder" : "Reinhard"}, white at ${withUnit(signed(v.headroomEv, 1), "EV")}`;
    case "local":
      return `${withUnit(plain(v.strength * 100, 0), "%")} of the base compressed`;
  }
}

/** The steps that are set, and the pins. */
export function StepLedger({ pinTool, setPinTool }: { pinTool: PinTool; setPinTool: (t: PinTool) => void }) {
  const { records, readOnly } = useSession();
  const types = (Object.keys(NEUTRAL) as AdjustmentType[]).filter((t) => adjustmentOf(records, t));
  const geometry = geometryOf(records);
  const pins = pinsOf(records);
  const count = types.length + (geometry ? 1 : 0);
  return (
    <>
      <Section>
        <Heading>{count === 0 ? "No steps set" : count === 1 ? "1 step set" : `${count} steps set`}</Heading>
        <Soft>They lie on top of the layers and can be changed at any time.</Soft>
      </Section>
      <Table aria-label="Steps">
        <tbody>
          {types.map((t) => (
            <tr key={t}>
              <td>
                <Figure value={ADJUSTMENT_NAMES[t]} word={describeValues(t, adjustmentValues(records, t))} />
              </td>
              <td style={{ textAlign: "right" }}>
                <TextButton
                  isDisabled={readOnly}
                  aria-label={`Reset ${ADJUSTMENT_NAMES[t]}`}
                  onPress={() => edit(resetAdjustment(t), { stage: "finish", label: `${ADJUSTMENT_NAMES[t]} reset` })}
                >
                  Reset
                </TextButton>
              </td>
            </tr>
          ))}
          {geometry && (
            <tr>
              <td>
                <Figure value="Crop" word={`${pixels(geometry.crop.width)} × ${pixels(geometry.crop.height)} px, turned ${signed(geometry.angleDeg, 2)}°`} />
              </td>
              <td style={{ textAlign: "right" }}>
                <TextButton
                  isDisabled={readOnly}
                  aria-label="Reset Crop"
                  onPress={() => edit(removeRecord(geometry.id), { stage: "finish", label: "Crop reset to the proposal" })}
                >
                  Reset
                </TextButton>
              </td>
            </tr>
          )}
        </tbody>
      </Table>
      <Section>
        <Heading>Pins</Heading>
        <Soft>Mark what is known; the proposals follow.</Soft>
        <RowOf>
          <Choice isSelected={pinTool === "neutral"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "neutral" : "none")}>
            This is neutral
          </Choice>
          <Choice isSelected={pinTool === "exposure"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "exposure" : "none")}>
            Set lightness here
          </Choice>
        </RowOf>
      </Section>
      <Table aria-label="Pins">
        <tbody>
          {pins.map((pin, i) => (
            <PinRow key={pin.id} pin={pin} number={i + 1} readOnly={readOnly} />
          ))}
        </tbody>
      </Table>
    </>
  );
}

function PinRow({ pin, number, readOnly }: { pin: PinRecord; number: number; readOnly: boolean }) {
  return (
    <tr>
      <td>
        <Figure value={`${number}  ${pin.purpose === "neutral" ? "Neutral" : "Lightness"}`} word={`x ${pixels(pin.x)} y ${pixels(pin.y)}`} />
      </td>
      <td>
        {pin.target !== null && (
          <MeasuredControl
            name="L*"
            unit=""
            value={pin.target}
            neutral={60}
            min={2}
            max={98}
            step={1}
            digits={0}
            isDisabled={readOnly}
            onChange={(v) => edit(updateRecord<PinRecord>(pin.id, { target: v }), { stage: "finish", label: `Pin ${number} wants L* ${v}` })}
          />
        )}
      </td>
      <td style={{ textAlign: "right" }}>
        <TextButton
          isDisabled={readOnly}
          aria-label={`Remove pin ${number}`}
          onPress={() => edit(removeRecord(pin.id), { stage: "finish", label: `Pin ${number} removed` })}
        >
          Remove
        </TextButton>
      </td>
    </tr>
  );
}
