"use client";
import { useState } from "react";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { updateRecord } from "../../document/edits";
import { MOST_CAST } from "../../document/limits";
import { MAY_BE, mendPin } from "../../document/pinEdits";
import type { PinRecord, Records } from "../../document/records/types";
import type { Mending, NeutralReading } from "../../engine/operations/finish/neutralPins";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { lookToMend } from "../../session/matching";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf, Soft } from "../../ui/components/panels";
import { plain } from "../../ui/format";

/** What a place that is known to be neutral reads, how far it may be off, and how it is mended along the thing there. */
export function NeutralPin({ pin, number, reading, readOnly }: { pin: PinRecord; number: number; reading: NeutralReading | undefined; readOnly: boolean }) {
  const { records, isBusy } = usePartsOf("records", "isBusy");
  const [found, setFound] = useState<{ records: Records; told: Mending } | null>(null);
  const mending = found?.records === records ? found.told : null;
  return (
    <>
      <Soft>{readingText(reading)}</Soft>
      <MeasuredControl
        name={sentence("finish/mayBe")}
        unit="ΔE"
        value={pin.mayBe ?? MAY_BE}
        neutral={MAY_BE}
        min={0}
        max={MOST_CAST}
        step={0.5}
        digits={1}
        isDisabled={readOnly}
        onChange={(mayBe) => edit(updateRecord<PinRecord>(pin.id, { mayBe }), { stage: "finish", label: message("step.pinMayBe", { number, deltaE: mayBe }) })}
      />
      {reading?.isOff && !mending && (
        <RowOf>
          <Button isDisabled={readOnly || isBusy} onPress={() => void lookToMend(pin.id).then((told) => told && setFound({ records, told }))}>
            {sentence("finish/lookToMend")}
          </Button>
        </RowOf>
      )}
      {mending && (
        <>
          <Soft>{sentence(message("finish/mendsShare", { percent: plain(100 * mending.share, 1), before: plain(mending.before, 1) }))}</Soft>
          <RowOf>
            {mending.ways.map((way) => (
              <Button
                key={way.adjustment}
                isDisabled={readOnly || isBusy}
                onPress={() =>
                  edit(
                    mendPin(pin, way, {
                      layer: sentence(message("finish/mendName", { number, way: ADJUSTMENT_WORDS[way.adjustment].name })),
                      group: sentence("finish/mended"),
                    }),
                    {
                      stage: "finish",
                      label: message("step.pinMended", { number }),
                    },
                  )
                }
              >
                {sentence(message(`finish/mendBy.${way.adjustment}`, { left: plain(way.left, 1) }))}
              </Button>
            ))}
          </RowOf>
        </>
      )}
    </>
  );
}

function readingText(reading: NeutralReading | undefined): string {
  if (!reading) return sentence("finish/pinReading");
  const deltaE = plain(reading.deltaE, 1);
  if (!reading.isOff) return sentence(message("finish/pinHolds", { deltaE }));
  return sentence(reading.byLayer === null ? message("finish/pinOff", { deltaE }) : message("finish/pinOffBy", { deltaE, by: reading.byLayer }));
}
