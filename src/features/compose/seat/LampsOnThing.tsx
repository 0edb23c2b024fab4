"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { lampLightOf, lampShadowOf, lampsOf, layLampLight, layLampShadow, relightOf } from "../../../document/lampEdits";
import { overAmbient } from "../../../document/lampSight";
import type { PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, layerOf } from "../../../document/selectors";
import { lightOf } from "../../../document/seatGeometry";
import { turnLight } from "../../../session/lamps";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { signed, withUnit } from "../../../ui/format";
import { toLayer } from "../../../view/composeState";
import { useShadowFigures } from "./useShadowFigures";

interface Props {
  seat: SeatRecord;
  plate: PlateRecord;
  isDisabled: boolean;
}

/** The light on what is seated turned to the plate's, and what each lamp of the plate does to it. */
export function LampsOnThing({ seat, plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const size = documentSize(records)!;
  const light = lightOf(plate, size);
  const figures = useShadowFigures(plate, typeof light === "string" ? null : light);
  const { name } = layerOf(records, seat.layerId)!;
  const turned = relightOf(records, seat.layerId);
  const isLit = typeof light !== "string" || light === "overcast";
  return (
    <>
      <Section>
        <Heading>{sentence("seating/turnedLight")}</Heading>
        <Soft>{sentence(isLit ? "seating/turnedLightMeans" : "seating/shadowNeedsLight")}</Soft>
        <RowOf>
          {turned ? (
            <Button onPress={() => toLayer(turned.id, "content")}>{sentence("seating/toTurnedLight")}</Button>
          ) : (
            <Button
              isDisabled={isDisabled || !isLit || figures === undefined || seat.on !== "ground"}
              onPress={() => void turnLight(seat, figures?.ratioEv ?? null, sentence(message("seating/turnedLightName", { name })))}
            >
              {sentence("seating/turnLight")}
            </Button>
          )}
        </RowOf>
      </Section>
      {lampsOf(plate).length > 0 && (
        <Section>
          <Heading>{sentence("seating/lampsOnIt")}</Heading>
          {lampsOf(plate).map((lamp, i) => {
            const lampName = `${i + 1}. ${sentence(`seating/lamp.${lamp.is}`)}`;
            const [lit, shadow] = [lampLightOf(records, lamp.id, seat.layerId), lampShadowOf(records, lamp.id, seat.layerId)];
            const ev = overAmbient(plate, size, lamp, seat);
            const isShaded = lampLightOf(records, lamp.id, null)?.mask.parts.some((p) => p.kind === "cast" && p.layerId === seat.layerId);
            const canShade = seat.on === "ground" && (!lamp.isAdded || lampLightOf(records, lamp.id, null));
            return (
              <div key={lamp.id} role="group" aria-label={lampName}>
                <Facts aria-label={lampName}>
                  <dt>{lampName}</dt>
                  <dd>{ev === null ? "–" : withUnit(signed(ev, 1), "EV")}</dd>
                </Facts>
                <RowOf style={{ marginTop: 0 }}>
                  {lit ? (
                    <Button onPress={() => toLayer(lit.id, "content")}>{sentence("seating/toLampLight")}</Button>
                  ) : (
                    <Button
                      isDisabled={isDisabled}
                      onPress={() =>
                        edit(layLampLight(lamp.id, seat.layerId, sentence(message("seating/lampLightName", { name }))), {
                          stage: "compose",
                          label: message("step.lampLightLaid", { name }),
                        })
                      }
                    >
                      {sentence("seating/layLampLight")}
                    </Button>
                  )}
                  {shadow ? (
                    <Button onPress={() => toLayer(shadow.id, "content")}>{sentence("seating/toShadow")}</Button>
                  ) : (
                    !isShaded &&
                    canShade && (
                      <Button
                        isDisabled={isDisabled}
                        onPress={() =>
                          edit(layLampShadow(lamp.id, seat.layerId, sentence(message("seating/lampShadowName", { name }))), {
                            stage: "compose",
                            label: message("step.shadowLaid", { name }),
                          })
                        }
                      >
                        {sentence("seating/layShadow")}
                      </Button>
                    )
                  )}
                </RowOf>
              </div>
            );
          })}
          <Soft>{sentence("seating/lampsOnItMean")}</Soft>
        </Section>
      )}
    </>
  );
}
