"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, layerOf } from "../../../document/selectors";
import { reflectionOf } from "../../../document/reflectionEdits";
import { lightOf } from "../../../document/seatGeometry";
import { shadowOf } from "../../../document/shadowEdits";
import { throwReflection, throwShadow } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { toLayer } from "../../../view/composeState";
import { useShadowFigures } from "./useShadowFigures";

interface Props {
  seat: SeatRecord;
  plate: PlateRecord;
  isDisabled: boolean;
}

/** The shadow that it throws, as a layer of its own under it. */
export function ShadowSection({ seat, plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const light = lightOf(plate, documentSize(records)!);
  const measured = useShadowFigures(plate, typeof light === "string" ? null : light);
  const layer = layerOf(records, seat.layerId)!;
  const shadow = shadowOf(records, seat);
  const isLit = typeof light !== "string" || light === "overcast";
  const names = {
    shadow: sentence(message("seating/shadowName", { name: layer.name })),
    contact: sentence(message("seating/contactName", { name: layer.name })),
  };
  return (
    <Section>
      <Heading>{sentence("seating/shadow")}</Heading>
      <Soft>
        {shadow
          ? sentence("seating/shadowIsLayer")
          : !isLit
            ? sentence("seating/shadowNeedsLight")
            : seat.on !== "ground"
              ? sentence("seating/shadowNeedsGround")
              : sentence(
                  light === "overcast"
                    ? "seating/shadowOfSky"
                    : measured === undefined
                      ? "seating/shadowMeasuring"
                      : measured?.ratioEv != null
                        ? message("seating/shadowMeasured", { ev: measured.ratioEv, degrees: measured.sourceDeg })
                        : "seating/shadowGuessed",
                )}
      </Soft>
      <RowOf>
        {shadow ? (
          <Button onPress={() => toLayer(shadow.id, "mask")}>{sentence("seating/toShadow")}</Button>
        ) : (
          <Button
            isDisabled={isDisabled || !isLit || measured === undefined || seat.on !== "ground"}
            onPress={() => void throwShadow(seat, measured ?? null, names)}
          >
            {sentence("seating/layShadow")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}

/** Its mirror image in the plate's water, as a layer of its own under it. */
export function ReflectionSection({ seat, plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const { name } = layerOf(records, seat.layerId)!;
  const laid = reflectionOf(records, seat);
  const hasWater = (plate.surfaces ?? []).some((s) => s.is === "water");
  if (!laid && !hasWater) return null;
  return (
    <Section>
      <Heading>{sentence("seating/reflection")}</Heading>
      <Soft>{sentence(laid ? "seating/reflectionIsLayer" : "seating/reflectionOfIt")}</Soft>
      <RowOf>
        {laid ? (
          <Button onPress={() => toLayer(laid.id, "content")}>{sentence("seating/toReflection")}</Button>
        ) : (
          <Button isDisabled={isDisabled} onPress={() => void throwReflection(seat, sentence(message("seating/reflectionName", { name })))}>
            {sentence("seating/layReflection")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
