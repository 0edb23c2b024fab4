"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { lampsOf } from "../../../document/lampEdits";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { tellPlate } from "../../../document/seatEdits";
import { showLive } from "../../../session/live";
import { findLamps } from "../../../session/lamps";
import { edit } from "../../../session/openJob";
import { Button, Choice } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { signed } from "../../../ui/format";
import { useCompose } from "../../../view/composeState";

/** What shines in the plate and beside it, and the light of all else. */
export function LampSection({ plate, isDisabled }: { plate: PlateRecord; isDisabled: boolean }) {
  const plateTool = useCompose((s) => s.plateTool);
  const lamps = lampsOf(plate);
  return (
    <Section>
      <Heading>{sentence("seating/lamps")}</Heading>
      <Soft>{sentence(lamps.length ? "seating/lampsAreRows" : "seating/lampsMean")}</Soft>
      <RowOf>
        <Choice isSelected={plateTool === "lamp"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "lamp" : "none" })}>
          {sentence("seating/tool.lamp")}
        </Choice>
        <Button isDisabled={isDisabled} onPress={() => void findLamps()}>
          {sentence("seating/findLamps")}
        </Button>
      </RowOf>
      {lamps.length > 0 && (
        <MeasuredControl
          name={sentence("seating/ambient")}
          unit="EV"
          value={plate.ambientEv ?? 0}
          neutral={0}
          min={-16}
          max={4}
          step={0.1}
          digits={1}
          hint={sentence("seating/ambientMeans")}
          isDisabled={isDisabled}
          onPreview={(ambientEv) => showLive(tellPlate({ ambientEv }))}
          onChange={(ambientEv) =>
            edit(tellPlate({ ambientEv }), { stage: "compose", label: valueStep(sentence("seating/ambient"), signed(ambientEv, 1), "EV") })
          }
        />
      )}
    </Section>
  );
}
