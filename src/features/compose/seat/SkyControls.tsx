"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { documentSize } from "../../../document/selectors";
import { changeSeat, plateNow } from "../../../document/seatEdits";
import { SUN_WIDE_DEG, sunFromSky } from "../../../document/seatGeometry";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Soft } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";

/** How wide something in the sky is seen: as it truly is, and larger on purpose. */
export function SkyControls({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const [plate, size] = [plateNow(records), documentSize(records)];
  const sun = plate && size && sunFromSky(plate, size, seat);
  return (
    <>
      <MeasuredControl
        name={sentence("seating/howWide")}
        unit="°"
        value={seat.wideDeg ?? SUN_WIDE_DEG}
        neutral={SUN_WIDE_DEG}
        min={0.01}
        max={60}
        step={0.01}
        digits={2}
        hint={sentence("seating/wideMeans")}
        isDisabled={isDisabled}
        onPreview={(wideDeg) => showLive(changeSeat(seat.id, { wideDeg }))}
        onChange={(wideDeg) =>
          edit(changeSeat(seat.id, { wideDeg }), { stage: "compose", label: valueStep(sentence("seating/howWide"), plain(wideDeg, 2), "°") })
        }
      />
      <MeasuredControl
        name={sentence("seating/timesAsWide")}
        unit="×"
        value={seat.times ?? 1}
        neutral={1}
        min={0.1}
        max={40}
        step={0.1}
        digits={1}
        hint={sentence("seating/timesMeans")}
        isDisabled={isDisabled}
        onPreview={(times) => showLive(changeSeat(seat.id, { times }))}
        onChange={(times) =>
          edit(changeSeat(seat.id, { times }), { stage: "compose", label: valueStep(sentence("seating/timesAsWide"), plain(times, 1), "×") })
        }
      />
      {sun && <Soft>{sentence(message("seating/litFromSun", { degrees: (sun.towardsDeg + 360) % 360, percent: 100 * sun.litShare }))}</Soft>}
    </>
  );
}
