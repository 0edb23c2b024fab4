"use client";
import { sentence } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import styled from "styled-components";
import { removeRecord, updateRecord, type Edit } from "../../document/edits";
import { removeLayer } from "../../document/removal";
import { isFinishStep, resetFinish } from "../../document/finishEdits";
import { updateLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { PinRecord } from "../../document/records/types";
import { childrenOf, finishId, finishStepsOf, framesOf, geometryOf, finishPinsOf, workingSetIdOf } from "../../document/selectors";
import type { NeutralReading } from "../../engine/operations/finish/neutralPins";
import { wordsOf } from "../../kinds/contents/words";
import { ask, edit, setStage } from "../../session/openJob";
import { chooseLayer } from "../../view/composeState";
import { usePartsOf, useSession } from "../../session/store";
import { Choice, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Figure, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { tokens } from "../../ui/tokens/tokens";
import { useAsked } from "../../view/useAsked";
import { VariantsSection } from "./VariantsSection";
import { NeutralPin } from "./NeutralPin";
import { pixels, signed } from "../../ui/format";

/** What a click on the picture sets. */
export type PinTool = "none" | "neutral" | "exposure" | "pair" | "crop" | "line";

/** The steps that are set, and the pins. */
export function StepLedger({ pinTool, setPinTool }: { pinTool: PinTool; setPinTool: (t: PinTool) => void }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const steps = [...childrenOf(records, finishId(workingSetIdOf(records)))].reverse();
  const geometry = geometryOf(records);
  const pins = finishPinsOf(records);
  const readings = useAsked<NeutralReading[]>(pins.some((p) => p.purpose === "neutral") ? records : null, (signal) =>
    ask("readNeutralPins", { records }, { signal }),
  );
  const count = finishStepsOf(records).length + (geometry ? 1 : 0);
  return (
    <>
      <Section>
        <Heading>{sentence(message("finish/stepsSetCount", { count }))}</Heading>
        <Soft>{sentence("finish/layersOnTopAll")}</Soft>
      </Section>
      <Table aria-label={sentence("common/steps")}>
        <tbody>
          {steps.map((layer) => (
            <StepRow key={layer.id} layer={layer} readOnly={readOnly} />
          ))}
          {geometry && (
            <tr>
              <td>
                <Figure
                  value={sentence("common/crop")}
                  word={sentence(
                    message("finish/cropTurned", {
                      width: pixels(geometry.crop.width),
                      height: pixels(geometry.crop.height),
                      angleDeg: signed(geometry.angleDeg, 2),
                    }),
                  )}
                />
              </td>
              <td style={{ textAlign: "right" }}>
                <TextButton
                  isDisabled={readOnly}
                  aria-label={sentence("finish/resetCrop")}
                  onPress={() => edit(removeRecord(geometry.id), { stage: "finish", label: "step.cropReset" })}
                >
                  {sentence("common/reset")}
                </TextButton>
              </td>
            </tr>
          )}
        </tbody>
      </Table>
      <Section>
        <Heading>{sentence("finish/pins")}</Heading>
        <Soft>{sentence("finish/markWhatKnownProposals")}</Soft>
        <RowOf>
          <Choice isSelected={pinTool === "neutral"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "neutral" : "none")}>
            {sentence("finish/thisIsNeutral")}
          </Choice>
          <Choice isSelected={pinTool === "exposure"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "exposure" : "none")}>
            {sentence("finish/setLightnessHere")}
          </Choice>
        </RowOf>
      </Section>
      <Table aria-label={sentence("finish/pins")}>
        <tbody>
          {pins.map((pin, i) => (
            <PinRow key={pin.id} pin={pin} number={i + 1} reading={readings?.find((r) => r.pinId === pin.id)} readOnly={readOnly} />
          ))}
        </tbody>
      </Table>
      <VariantsSection />
    </>
  );
}

function PinRow({ pin, number, reading, readOnly }: { pin: PinRecord; number: number; reading: NeutralReading | undefined; readOnly: boolean }) {
  return (
    <tr>
      <td>
        <Figure value={`${number}  ${sentence(PURPOSES[pin.purpose as keyof typeof PURPOSES])}`} word={`x ${pixels(pin.x)} y ${pixels(pin.y)}`} />
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
            onChange={(v) => edit(updateRecord<PinRecord>(pin.id, { target: v }), { stage: "finish", label: message("step.pinTarget", { number, target: v }) })}
          />
        )}
        {pin.purpose === "neutral" && <NeutralPin {...{ pin, number, reading, readOnly }} />}
        {pin.like && <PairText pin={pin} />}
      </td>
      <td style={{ textAlign: "right" }}>
        <TextButton
          isDisabled={readOnly}
          aria-label={sentence(message("finish/removePinNumber", { number }))}
          onPress={() => edit(removeRecord(pin.id), { stage: "finish", label: message("step.pinRemoved", { number }) })}
        >
          {sentence("common/remove")}
        </TextButton>
      </td>
    </tr>
  );
}

const PURPOSES = { neutral: "finish/neutral", exposure: "finish/lightness", pair: "finish/pair" } as const;

/** Where the like of a place is. */
function PairText({ pin: { frameId, like } }: { pin: PinRecord }) {
  const name = useSession((s) => framesOf(s.records).find((f) => f.id === frameId)?.fileName ?? "");
  return <Soft>{sentence(message("finish/pairWith", { name, x: pixels(like!.x), y: pixels(like!.y) }))}</Soft>;
}

const Acts = styled.span`
  display: inline-flex;
  gap: calc(10px + ${tokens.hit.beyond});
  white-space: nowrap;
`;

/** A step with its values; it is hidden, masked and taken away as any layer. */
function StepRow({ layer, readOnly }: { layer: LayerRecord; readOnly: boolean }) {
  const { content, name } = layer;
  const step = content.type === "adjustment" && isFinishStep(content.adjustment) ? content.adjustment : null;
  const values = Object.entries(wordsOf(content).values?.(content) ?? {}).map(([of, text]) => `${of} ${text}`);
  const records = useSession((s) => s.records);
  const otherwise = step ? sentence("finish/asItBegins") : wordsOf(content).word(content, layer, records);
  const take = (change: Edit, label: Telling) => edit(change, { stage: "finish", label });
  return (
    <tr>
      <td>
        <Figure breaks value={name} word={values.join(", ") || otherwise} />
      </td>
      <td style={{ textAlign: "right" }}>
        <Acts>
          <TextButton
            aria-label={sentence(message("finish/maskOfName", { name }))}
            onPress={() => {
              chooseLayer(layer.id, "mask");
              setStage("compose");
            }}
          >
            {sentence("common/mask")}
          </TextButton>
          <TextButton
            isDisabled={readOnly}
            aria-label={`${layer.visible ? sentence("common/hide") : sentence("common/show")} ${name}`}
            onPress={() =>
              take(updateLayer(layer.id, { visible: !layer.visible }), message(layer.visible ? "step.finishHidden" : "step.finishShown", { name }))
            }
          >
            {layer.visible ? sentence("common/hide") : sentence("common/show")}
          </TextButton>
          <TextButton
            isDisabled={readOnly}
            aria-label={`${step ? sentence("common/reset") : sentence("common/remove")} ${name}`}
            onPress={() =>
              step ? take(resetFinish(step), message("step.finishReset", { name })) : take(removeLayer(layer.id), message("step.finishRemoved", { name }))
            }
          >
            {step ? sentence("common/reset") : sentence("common/remove")}
          </TextButton>
        </Acts>
      </td>
    </tr>
  );
}
