"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { LAMP_KINDS, type LampKind } from "../../../core/light/lamp";
import {
  asKind,
  atDistance,
  beamOf,
  changeLamp,
  layBeam,
  glowOf,
  lampLightOf,
  layLampLight,
  layMirror,
  mirrorOf,
  removeLamp,
} from "../../../document/lampEdits";
import type { PlateLamp, PlateRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { showLive } from "../../../session/live";
import { measureStrength, throwGlow } from "../../../session/lamps";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, signed } from "../../../ui/format";
import { toLayer, useCompose } from "../../../view/composeState";
import { LampColour } from "./LampColour";

interface Props {
  lamp: PlateLamp;
  plate: PlateRecord;
  isDisabled: boolean;
}

/** A lamp: what it is, where, how strong, and what it does to the plate. What it does to a thing stands with that. */
export function LampBench({ lamp, plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const size = documentSize(records)!;
  const name = sentence(`seating/lamp.${lamp.is}`);
  const set = (change: Partial<PlateLamp>, label: Parameters<typeof edit>[1]["label"]) => edit(changeLamp(lamp.id, change), { stage: "compose", label });
  const show = (change: Partial<PlateLamp>) => showLive(changeLamp(lamp.id, change));
  const isFar = lamp.distanceM === null;
  const [glow, pool, ray] = [glowOf(records, lamp.id), lampLightOf(records, lamp.id, null), beamOf(records, lamp.id)];
  const waters = (plate.surfaces ?? []).map((surface, i) => ({ surface, number: i + 1 })).filter(({ surface }) => surface.is === "water");
  return (
    <>
      <Section>
        <Heading>{name}</Heading>
        <Choices<LampKind>
          label={sentence("seating/lampIs")}
          items={LAMP_KINDS.map((id) => ({ id, label: sentence(`seating/lamp.${id}`) }))}
          chosen={lamp.is}
          isDisabled={isDisabled}
          onChoose={(is) => set(asKind(plate, size, lamp, is), "step.lampKind")}
        />
        <RowOf>
          <Choice isSelected={lamp.isAdded} isDisabled={isDisabled} onChange={(isAdded) => set({ isAdded }, "step.lampAdded")}>
            {sentence("seating/lampIsAdded")}
          </Choice>
        </RowOf>
        <Soft>{sentence(lamp.isAdded ? "seating/lampAddedMeans" : "seating/lampShownMeans")}</Soft>
      </Section>
      <Section>
        {!isFar && (
          <MeasuredControl
            name={sentence("seating/away")}
            unit="m"
            value={lamp.distanceM ?? 0}
            neutral={5}
            min={0.3}
            max={200}
            step={0.05}
            digits={2}
            along={Math.log}
            back={Math.exp}
            hint={sentence("seating/lampAwayMeans")}
            isDisabled={isDisabled}
            onPreview={(v) => show(atDistance(plate, size, lamp, v))}
            onChange={(v) => set(atDistance(plate, size, lamp, v), valueStep(sentence("seating/away"), plain(v, 2), "m"))}
          />
        )}
        <MeasuredControl
          name={sentence("seating/lampWide")}
          unit={isFar ? "°" : "m"}
          value={lamp.wide}
          neutral={lamp.wide}
          min={isFar ? 0.05 : 0.005}
          max={isFar ? 30 : 10}
          step={0.005}
          digits={isFar ? 2 : 3}
          along={Math.log}
          back={Math.exp}
          isDisabled={isDisabled}
          onPreview={(wide) => show({ wide })}
          onChange={(wide) => set({ wide }, valueStep(sentence("seating/lampWide"), plain(wide, 3), isFar ? "°" : "m"))}
        />
        <MeasuredControl
          name={sentence("seating/lampStrength")}
          unit="EV"
          value={lamp.ev}
          neutral={plate.ambientEv ?? 0}
          min={-16}
          max={12}
          step={0.1}
          digits={1}
          hint={sentence(isFar ? "seating/lampStrengthFar" : "seating/lampStrengthNear")}
          isDisabled={isDisabled}
          onPreview={(ev) => show({ ev })}
          onChange={(ev) => set({ ev }, valueStep(sentence("seating/lampStrength"), signed(ev, 1), "EV"))}
        />
        <LampColour lamp={lamp} isDisabled={isDisabled} onShow={(color) => show({ color })} onChange={(color) => set({ color }, "step.lampColour")} />
        {!lamp.isAdded && (
          <RowOf>
            <Button isDisabled={isDisabled} onPress={() => void measureStrength(lamp)}>
              {sentence("seating/measureLamp")}
            </Button>
          </RowOf>
        )}
        {PLACE.map(({ of, name: placeName }) => (
          <MeasuredControl
            key={of}
            name={sentence(placeName)}
            unit="px"
            value={lamp[of]}
            neutral={lamp[of]}
            min={-size.width}
            max={2 * size.width}
            step={1}
            digits={0}
            isDisabled={isDisabled}
            onPreview={(v) => show({ [of]: v })}
            onChange={(v) => set({ [of]: v }, valueStep(sentence(placeName), plain(v, 0), "px"))}
          />
        ))}
      </Section>
      <Section>
        <Heading>{sentence("seating/whatItDoes")}</Heading>
        <Soft>{sentence("seating/whatItDoesMeans")}</Soft>
        <RowOf>
          {glow ? (
            <Button onPress={() => toLayer(glow.id, "content")}>{sentence("seating/toGlow")}</Button>
          ) : (
            <Button isDisabled={isDisabled} onPress={() => void throwGlow(lamp, sentence("seating/glowName"))}>
              {sentence("seating/layGlow")}
            </Button>
          )}
          {ray ? (
            <Button onPress={() => toLayer(ray.id, "content")}>{sentence("seating/toBeam")}</Button>
          ) : (
            <Button isDisabled={isDisabled} onPress={() => edit(layBeam(lamp.id, sentence("seating/beamName")), { stage: "compose", label: "step.beamLaid" })}>
              {sentence("seating/layBeam")}
            </Button>
          )}
          {waters.map(({ surface, number }) => {
            const mirror = mirrorOf(records, lamp.id, surface.id);
            return mirror ? (
              <Button key={surface.id} onPress={() => toLayer(mirror.id, "content")}>
                {sentence(message("seating/toMirror", { number }))}
              </Button>
            ) : (
              <Button
                key={surface.id}
                isDisabled={isDisabled}
                onPress={() => edit(layMirror(lamp.id, surface.id, sentence("seating/mirrorName")), { stage: "compose", label: "step.lampMirrored" })}
              >
                {sentence(message("seating/layMirror", { number }))}
              </Button>
            );
          })}
          {pool ? (
            <Button onPress={() => toLayer(pool.id, "content")}>{sentence("seating/toLampOnPlate")}</Button>
          ) : (
            lamp.isAdded && (
              <Button
                isDisabled={isDisabled}
                onPress={() => edit(layLampLight(lamp.id, null, sentence("seating/lampOnPlateName")), { stage: "compose", label: "step.lampOnPlate" })}
              >
                {sentence("seating/layLampOnPlate")}
              </Button>
            )
          )}
          <Button
            isDisabled={isDisabled}
            onPress={() => {
              if (edit(removeLamp(lamp.id), { stage: "compose", label: "step.lampRemoved" })) useCompose.setState({ lampId: null });
            }}
          >
            {sentence("seating/removeLamp")}
          </Button>
        </RowOf>
      </Section>
    </>
  );
}

const PLACE = [
  { of: "x", name: "seating/middleAcross" },
  { of: "y", name: "seating/middleDown" },
] as const;
