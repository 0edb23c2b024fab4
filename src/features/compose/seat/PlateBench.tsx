"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { LINE_KINDS } from "../../../core/seat/stanceByLines";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { pulledHorizon, tellPlate } from "../../../document/seatEdits";
import { lightOf } from "../../../document/seatGeometry";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { drawLines, findPlateLines, markShadows, WHY_NOT } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { Button, Choice, PrimaryButton, TextButton } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, signed, withUnit } from "../../../ui/format";
import { useCompose, type PlateTool } from "../../../view/composeState";
import { useShadowFigures } from "./useShadowFigures";
import { SeatThings } from "./SeatThings";

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
      <LightSection plate={plate} isDisabled={isDisabled} />
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

function LightSection({ plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const plateTool = useCompose((s) => s.plateTool);
  const size = documentSize(records)!;
  const light = lightOf(plate, size);
  const direction = typeof light === "string" ? null : light;
  const figures = useShadowFigures(plate, direction);
  const tell = (change: { azimuthDeg?: number; elevationDeg?: number }) =>
    tellPlate({ light: { azimuthDeg: direction?.azimuthDeg ?? 0, elevationDeg: direction?.elevationDeg ?? 45, ...change }, overcast: false });
  return (
    <Section>
      <Heading>{sentence("seating/light")}</Heading>
      <Soft>
        {direction
          ? sentence(plate.light ? "seating/lightByHand" : message("seating/lightByShadows", { degrees: direction.sigmaDeg, count: plate.shadows.length }))
          : light === "overcast"
            ? sentence("seating/lightOvercast")
            : sentence(plate.shadows.length ? WHY_NOT[light as keyof typeof WHY_NOT] : "seating/markOne")}
      </Soft>
      <RowOf>
        <Choice isSelected={plateTool === "shadow"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? "shadow" : "none" })}>
          {sentence("seating/tool.shadow")}
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
