"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { LINE_KINDS } from "../../../core/seat/stanceByLines";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { pulledHorizon, tellPlate } from "../../../document/seatEdits";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { drawLines, findPlateLines } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { Button, Choice, PrimaryButton, TextButton } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, signed } from "../../../ui/format";
import { useCompose, type PlateTool } from "../../../view/composeState";
import { AirSection } from "./AirSection";
import { LampSection } from "./LampSection";
import { LightSection } from "./LightSection";
import { SeatThings } from "./SeatThings";
import { SkySection } from "./SkySection";
import { SurfaceSection } from "./SurfaceSection";

interface Props {
  plate: PlateRecord;
  isDisabled: boolean;
}

/** What is known of the plate, and how to say more of it. */
export function PlateBench({ plate, isDisabled }: Props) {
  return (
    <>
      <SeatThings isDisabled={isDisabled} />
      <HorizonSection plate={plate} isDisabled={isDisabled} />
      <CameraSection plate={plate} isDisabled={isDisabled} />
      <SurfaceSection plate={plate} isDisabled={isDisabled} />
      <LightSection plate={plate} isDisabled={isDisabled} />
      <LampSection plate={plate} isDisabled={isDisabled} />
      <AirSection plate={plate} isDisabled={isDisabled} />
      <SkySection isDisabled={isDisabled} />
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Choice
            isSelected={plate.byTaste === true}
            isDisabled={isDisabled}
            onChange={(byTaste) => edit(tellPlate({ byTaste }), { stage: "compose", label: byTaste ? "step.byTaste" : "step.notByTaste" })}
          >
            {sentence("seating/byTaste")}
          </Choice>
        </RowOf>
        <Soft>{sentence("seating/byTasteMeans")}</Soft>
      </Section>
    </>
  );
}

const DRAWN: PlateTool[] = ["none", "horizon", ...LINE_KINDS.filter((k) => k !== "length" && k !== "height")];

/** The horizon by numbers, for whoever works without a pointer. */
const TILTS = [
  { of: "pitchDeg", name: "seating/looksUp", most: 60 },
  { of: "rollDeg", name: "seating/leans", most: 45 },
] as const;

function HorizonSection({ plate, isDisabled }: Props) {
  const plateTool = useCompose((s) => s.plateTool);
  const told = message(`seating/horizonBy.${plate.horizonBy}`, { degrees: plate.horizonSigmaDeg, lines: plate.vanishing.reduce((sum, v) => sum + v.lines, 0) });
  return (
    <Section>
      <Heading>{sentence("seating/horizon")}</Heading>
      <Soft>{sentence(told)}</Soft>
      <RowOf>
        <Button isDisabled={isDisabled} onPress={() => void findPlateLines()}>
          {sentence("seating/findLines")}
        </Button>
      </RowOf>
      <Choices<PlateTool>
        label={sentence("seating/dragDoes")}
        items={DRAWN.map((id) => ({ id, label: sentence(`seating/tool.${id}`) }))}
        chosen={DRAWN.includes(plateTool) ? plateTool : null}
        isDisabled={isDisabled}
        onChoose={(tool) => useCompose.setState({ plateTool: tool })}
      />
      <LineList plate={plate} isDisabled={isDisabled} />
      {TILTS.map(({ of, name, most }) => (
        <MeasuredControl
          key={of}
          name={sentence(name)}
          unit="°"
          value={plate.stance[of]}
          neutral={0}
          min={-most}
          max={most}
          step={0.05}
          digits={2}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(pulledHorizon({ ...plate.stance, [of]: v }))}
          onChange={(v) => edit(pulledHorizon({ ...plate.stance, [of]: v }), { stage: "compose", label: valueStep(sentence(name), signed(v, 2), "°") })}
        />
      ))}
    </Section>
  );
}

function LineList({ plate, isDisabled }: Props) {
  if (plate.lines.length === 0) return null;
  const { lines } = plate;
  return (
    <>
      {lines.map((line, i) => (
        <RowOf key={i}>
          <span>{sentence(`seating/tool.${line.is}`)}</span>
          <TextButton isDisabled={isDisabled} onPress={() => drawLines(lines.filter((_, k) => k !== i))}>
            {sentence("common/remove")}
          </TextButton>
        </RowOf>
      ))}
      {lines.map((line, i) =>
        line.metres > 0 ? (
          <MeasuredControl
            key={i}
            name={sentence(`seating/tool.${line.is}`)}
            unit="m"
            value={line.metres}
            neutral={1}
            min={0.05}
            max={100}
            step={0.01}
            digits={2}
            isDisabled={isDisabled}
            onChange={(metres) => drawLines(lines.map((l, k) => (k === i ? { ...l, metres } : l)))}
          />
        ) : null,
      )}
    </>
  );
}

const RAD = Math.PI / 180;

function CameraSection({ plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const plateTool = useCompose((s) => s.plateTool);
  const size = documentSize(records)!;
  const { stance } = plate;
  const viewDeg = (2 * Math.atan(size.width / 2 / stance.focalPx)) / RAD;
  const byView = (degrees: number) =>
    tellPlate({ stance: { ...stance, focalPx: size.width / 2 / Math.tan((degrees * RAD) / 2) }, focalBy: "hand", focalSigma: 0.02 });
  return (
    <Section>
      <Heading>{sentence("seating/camera")}</Heading>
      <Soft>{sentence(message(`seating/focalBy.${plate.focalBy}`, { percent: 100 * plate.focalSigma }))}</Soft>
      <MeasuredControl
        name={sentence("seating/fieldOfView")}
        unit="°"
        value={viewDeg}
        neutral={viewDeg}
        min={8}
        max={110}
        step={0.5}
        digits={1}
        isDisabled={isDisabled}
        onPreview={(v) => showLive(byView(v))}
        onChange={(v) => edit(byView(v), { stage: "compose", label: valueStep(sentence("seating/fieldOfView"), plain(v, 1), "°") })}
      />
      <MeasuredControl
        name={sentence("seating/cameraHeight")}
        unit="m"
        value={plate.heightM}
        neutral={1.6}
        min={0.05}
        max={60}
        step={0.01}
        digits={2}
        hint={sentence(`seating/heightBy.${plate.heightBy}`)}
        isDisabled={isDisabled || plate.heightBy === "length"}
        onPreview={(heightM) => showLive(tellPlate({ heightM, heightBy: "hand" }))}
        onChange={(heightM) =>
          edit(tellPlate({ heightM, heightBy: "hand" }), { stage: "compose", label: valueStep(sentence("seating/cameraHeight"), plain(heightM, 2), "m") })
        }
      />
      <RowOf>
        {(["length", "height"] as const).map((tool) => (
          <Choice key={tool} isSelected={plateTool === tool} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? tool : "none" })}>
            {sentence(`seating/tool.${tool}`)}
          </Choice>
        ))}
      </RowOf>
    </Section>
  );
}

/** The way back to the layers. */
export function BackToLayers() {
  return (
    <Section>
      <RowOf style={{ marginTop: 0 }}>
        <PrimaryButton onPress={() => useCompose.setState({ seating: false })}>{sentence("compose/backLayers")}</PrimaryButton>
      </RowOf>
    </Section>
  );
}
