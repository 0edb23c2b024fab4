"use client";
import { useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { copySeats, MOST_COPIES } from "../../../document/copySeats";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { layerOf } from "../../../document/selectors";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section } from "../../../ui/components/panels";

const FIELDS = [
  { of: "count", name: "seating/copies", unit: "", neutral: 2, min: 1, max: MOST_COPIES, step: 1, digits: 0 },
  { of: "awayM", name: "seating/eachFurther", unit: "m", neutral: 2, min: -10, max: 20, step: 0.1, digits: 1 },
  { of: "asideM", name: "seating/eachAside", unit: "m", neutral: 0.5, min: -10, max: 10, step: 0.1, digits: 1 },
] as const;

/** Copies of what is seated, at several distances in one step. */
export function CopySection({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const [wanted, setWanted] = useState({ count: 2, awayM: 2, asideM: 0.5 });
  const name = layerOf(records, seat.layerId)?.name ?? "";
  return (
    <Section>
      <Heading>{sentence("seating/copiesOfIt")}</Heading>
      {FIELDS.map(({ of, name: called, ...range }) => (
        <MeasuredControl
          key={of}
          name={sentence(called)}
          value={wanted[of]}
          {...range}
          isDisabled={isDisabled}
          onChange={(v) => setWanted((now) => ({ ...now, [of]: v }))}
        />
      ))}
      <RowOf>
        <Button
          isDisabled={isDisabled}
          onPress={() =>
            edit(copySeats(seat.id, Math.round(wanted.count), wanted.awayM, wanted.asideM), { stage: "compose", label: message("step.seatCopied", { name }) })
          }
        >
          {sentence("seating/layCopies")}
        </Button>
      </RowOf>
    </Section>
  );
}
