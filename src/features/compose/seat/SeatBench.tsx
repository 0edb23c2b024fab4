"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { SEAT_ON, type SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, layerOf } from "../../../document/selectors";
import { changeSeat, plateNow, removeSeat } from "../../../document/seatEdits";
import { seatFigures, standsAt } from "../../../document/seatGeometry";
import { hideSeat, isHidden } from "../../../document/hideSeat";
import { sinkSeat, sunkBy } from "../../../document/sinkSeat";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, signed, withUnit } from "../../../ui/format";
import { CopySection } from "./CopySection";
import { FocusSection } from "./FocusSection";
import { MatchSection } from "./MatchSection";
import { HazeSection } from "./HazeSection";
import { LampsOnThing } from "./LampsOnThing";
import { ReflectionSection, ShadowSection } from "./ThrownSections";
import { SkyControls } from "./SkyControls";
import { SourceSection } from "./SourceSection";
import { OwnLight } from "./OwnLight";
import { toLayer, useCompose } from "../../../view/composeState";

interface Props {
  seat: SeatRecord;
  isDisabled: boolean;
}

/** Something that is seated: where it stands, how tall it is, and what follows from that. */
export function SeatBench({ seat, isDisabled: isAlways }: Props) {
  const records = useSession((s) => s.records);
  const layer = layerOf(records, seat.layerId);
  const isDisabled = isAlways || layer?.locked === true;
  const [size, plate] = [documentSize(records), plateNow(records)];
  if (!layer || !size || !plate) return null;
  const figures = seatFigures(records, seat);
  const place = standsAt(plate, size, seat);
  const step = (change: Parameters<typeof changeSeat>[1], label: Parameters<typeof edit>[1]["label"]) =>
    edit(changeSeat(seat.id, change), { stage: "compose", label });
  return (
    <>
      <Section>
        <Heading>{layer.name}</Heading>
        <Choices<SeatRecord["on"]>
          label={sentence("seating/standsOn")}
          items={SEAT_ON.map((id) => ({ id, label: sentence(`seating/on.${id}`) }))}
          chosen={seat.on}
          isDisabled={isDisabled}
          onChoose={(on) =>
            step(
              { on, ...(on === "free" && figures ? { scale: figures.heightPx / ownHeight(seat) } : {}) },
              message("step.seatOn", { name: layer.name, on: sentence(`seating/on.${on}`).toLowerCase() }),
            )
          }
        />
        <Soft>{sentence(`seating/onMeans.${seat.on}`)}</Soft>
        {layer.locked && <Card>{sentence("seating/layerLocked")}</Card>}
        {!figures && <Card $open>{sentence("seating/footAboveHorizon")}</Card>}
        {figures?.byHand && (
          <Card>
            {sentence("seating/movedSinceLong")}{" "}
            <TextButton isDisabled={isDisabled} onPress={() => step({ foot: { ...seat.foot } }, message("step.seated", { name: layer.name }))}>
              {sentence("seating/seatAgain")}
            </TextButton>
          </Card>
        )}
      </Section>
      <Section>
        {seat.on === "ground" || seat.on === "flat" ? (
          <MeasuredControl
            name={sentence(seat.on === "flat" ? "seating/howLong" : "seating/howTall")}
            unit="m"
            value={seat.heightM}
            neutral={1}
            min={0.02}
            max={30}
            step={0.01}
            digits={2}
            hint={sentence(seat.heightBy === "guess" ? "seating/heightGuessed" : "seating/heightSaid")}
            isDisabled={isDisabled}
            onPreview={(heightM) => showLive(changeSeat(seat.id, { heightM, heightBy: "hand" }))}
            onChange={(heightM) => step({ heightM, heightBy: "hand" }, valueStep(sentence("seating/howTall"), plain(heightM, 2), "m"))}
          />
        ) : seat.on === "sky" ? (
          <SkyControls seat={seat} isDisabled={isDisabled} />
        ) : (
          <MeasuredControl
            name={sentence("common/size")}
            unit="%"
            value={seat.scale}
            neutral={1}
            min={0.01}
            max={10}
            step={0.005}
            digits={1}
            scale={100}
            isDisabled={isDisabled}
            onPreview={(scale) => showLive(changeSeat(seat.id, { scale }))}
            onChange={(scale) => step({ scale }, valueStep(sentence("common/size"), plain(100 * scale, 1), "%"))}
          />
        )}
        {(seat.on === "sky" || seat.on === "flat") && (
          <MeasuredControl
            name={sentence("seating/turnedBy")}
            unit="°"
            value={seat.turnDeg ?? 0}
            neutral={0}
            min={-180}
            max={180}
            step={0.5}
            digits={1}
            isDisabled={isDisabled}
            onPreview={(turnDeg) => showLive(changeSeat(seat.id, { turnDeg }))}
            onChange={(turnDeg) => step({ turnDeg }, valueStep(sentence("seating/turnedBy"), signed(turnDeg, 1), "°"))}
          />
        )}
        {(["x", "y"] as const).map((axis) => (
          <MeasuredControl
            key={axis}
            name={sentence(PLACE[seat.on === "sky" ? "middle" : "foot"][axis])}
            unit="px"
            value={seat.foot[axis]}
            neutral={seat.foot[axis]}
            min={-size.width}
            max={2 * size.width}
            step={1}
            digits={0}
            isDisabled={isDisabled}
            onPreview={(v) => showLive(changeSeat(seat.id, { foot: { ...seat.foot, [axis]: v } }))}
            onChange={(v) => step({ foot: { ...seat.foot, [axis]: v } }, message("step.seatMoved", { name: layer.name }))}
          />
        ))}
        {seat.on === "ground" && (
          <MeasuredControl
            name={sentence("seating/sunkBy")}
            unit="cm"
            value={sunkBy(records, seat)}
            neutral={0}
            min={0}
            max={100}
            step={0.5}
            digits={1}
            hint={sentence("seating/sunkMeans")}
            isDisabled={isDisabled}
            onPreview={(cm) => showLive(sinkSeat(seat.id, cm))}
            onChange={(cm) => edit(sinkSeat(seat.id, cm), { stage: "compose", label: valueStep(sentence("seating/sunkBy"), plain(cm, 1), "cm") })}
          />
        )}
        {seat.on === "ground" && (isHidden(records, seat) || (plate.surfaces ?? []).some((s) => s.is !== "water")) && (
          <RowOf style={{ marginBottom: 6 }}>
            <Choice
              isSelected={isHidden(records, seat)}
              isDisabled={isDisabled}
              onChange={(on) =>
                edit(hideSeat(seat.id, on), { stage: "compose", label: message(on ? "step.seatHidden" : "step.seatUnhidden", { name: layer.name }) })
              }
            >
              {sentence("seating/hiddenByNearer")}
            </Choice>
          </RowOf>
        )}
        {figures && (
          <Facts aria-label={sentence("seating/figures")}>
            {figures.distanceM !== null && (
              <>
                <dt>{sentence("seating/away")}</dt>
                <dd>{withUnit(plain(figures.distanceM, 1), "m")}</dd>
              </>
            )}
            <dt>{sentence("seating/inPicture")}</dt>
            <dd>{withUnit(plain(figures.heightPx, 0), "px")}</dd>
            {seat.on === "ground" && place && (
              <>
                <dt>{sentence("seating/againstEyes")}</dt>
                <dd>
                  {sentence(
                    message(place[1] + seat.heightM > plate.heightM ? "seating/overHorizon" : "seating/underHorizon", {
                      metres: Math.abs(place[1] + seat.heightM - plate.heightM),
                    }),
                  )}
                </dd>
              </>
            )}
          </Facts>
        )}
        {plate.horizonBy === "guess" && <Card $open>{sentence("seating/plateUnknown")}</Card>}
      </Section>
      {seat.on !== "sky" && <ShadowSection seat={seat} plate={plate} isDisabled={isDisabled} />}
      {(seat.on === "ground" || seat.on === "sky") && <ReflectionSection seat={seat} plate={plate} isDisabled={isDisabled} />}
      <OwnLight seat={seat} plate={plate} isDisabled={isDisabled} />
      {(seat.on === "ground" || seat.on === "free") && <LampsOnThing seat={seat} plate={plate} isDisabled={isDisabled} />}
      <HazeSection seat={seat} isDisabled={isDisabled} />
      <MatchSection seat={seat} isDisabled={isDisabled} />
      <FocusSection seat={seat} isDisabled={isDisabled} />
      {seat.on === "ground" && <SourceSection seat={seat} isDisabled={isDisabled} />}
      {seat.on === "ground" && figures && <CopySection seat={seat} isDisabled={isDisabled} />}
      <Section>
        <Heading>{sentence("seating/footAndTop")}</Heading>
        <Soft>{sentence("seating/footAndTopOf")}</Soft>
        {OWN.map(({ of, name }) => (
          <MeasuredControl
            key={of}
            name={sentence(name)}
            unit="px"
            value={seat.own[of]}
            neutral={seat.own[of]}
            min={-20_000}
            max={40_000}
            step={1}
            digits={0}
            isDisabled={isDisabled}
            onPreview={(v) => showLive(changeSeat(seat.id, { own: { ...seat.own, [of]: v } }))}
            onChange={(v) => step({ own: { ...seat.own, [of]: v } }, valueStep(sentence(name), plain(v, 0), "px"))}
          />
        ))}
      </Section>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button onPress={() => toLayer(seat.layerId, "content")}>{sentence("seating/toLayer")}</Button>
          <Button
            isDisabled={isDisabled}
            onPress={() => {
              if (edit(removeSeat(seat.id), { stage: "compose", label: message("step.seatDropped", { name: layer.name }) }))
                useCompose.setState({ seatId: null });
            }}
          >
            {sentence("seating/notSeated")}
          </Button>
        </RowOf>
      </Section>
    </>
  );
}

const PLACE = {
  foot: { x: "seating/footAcross", y: "seating/footDown" },
  middle: { x: "seating/middleAcross", y: "seating/middleDown" },
} as const;

const OWN = [
  { of: "footX", name: "seating/ownFootAcross" },
  { of: "footY", name: "seating/ownFootDown" },
  { of: "topX", name: "seating/ownTopAcross" },
  { of: "topY", name: "seating/ownTopDown" },
] as const;

const ownHeight = ({ own }: SeatRecord): number => Math.hypot(own.topX - own.footX, own.topY - own.footY);
