"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { seenFromBeside, sourceOf } from "../../../document/seatGeometry";
import { findSource } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";

/** How the camera that took it looked at it, beside the plate's. */
export function SourceSection({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const beside = seenFromBeside(records, seat);
  if (!sourceOf(records, seat)) return null;
  return (
    <Section>
      <Heading>{sentence("seating/takenFrom")}</Heading>
      {beside ? (
        <Facts aria-label={sentence("seating/takenFrom")}>
          <dt>{sentence("seating/itsCamera")}</dt>
          <dd>{sentence(message(beside.higherM >= 0 ? "seating/higherBy" : "seating/lowerBy", { metres: Math.abs(beside.higherM) }))}</dd>
          <dt>{sentence("seating/itsFeet")}</dt>
          <dd>{sentence(message(beside.steeperDeg >= 0 ? "seating/steeperBy" : "seating/flatterBy", { degrees: Math.abs(beside.steeperDeg) }))}</dd>
        </Facts>
      ) : (
        <Soft>{sentence(seat.seenFrom ? "seating/takenContradicts" : "seating/takenUnknown")}</Soft>
      )}
      <RowOf>
        <Button isDisabled={isDisabled} onPress={() => void findSource(seat)}>
          {sentence("seating/lookAtSource")}
        </Button>
      </RowOf>
    </Section>
  );
}
