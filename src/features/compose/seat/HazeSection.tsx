"use client";
import { airNow, hazeOn } from "../../../document/hazeEdits";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { seatFigures } from "../../../document/seatGeometry";
import { layerOf } from "../../../document/selectors";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { hazeThing } from "../../../session/haze";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { toLayer } from "../../../view/composeState";

/** How much of a thing the plate's air hides where it stands; nothing until the plate's air was measured. */
export function HazeSection({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const air = airNow(records);
  const metres = seatFigures(records, seat)?.distanceM ?? null;
  if (!air || metres === null || seat.on !== "ground") return null;
  const laid = hazeOn(records, seat.layerId);
  const { name } = layerOf(records, seat.layerId)!;
  return (
    <Section>
      <Heading>{sentence("seating/air")}</Heading>
      <Soft>{sentence(message("seating/hazeMeans", { metres, percent: 100 * (1 - Math.exp(-air.perM[1] * metres)) }))}</Soft>
      <RowOf>
        {laid ? (
          <Button onPress={() => toLayer(laid.id, "content")}>{sentence("seating/toHaze")}</Button>
        ) : (
          <Button isDisabled={isDisabled} onPress={() => hazeThing(seat, sentence(message("seating/hazeName", { name })))}>
            {sentence("seating/layHaze")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
