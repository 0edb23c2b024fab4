"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { OutlineLight } from "../../../core/seat/outlineLight";
import { lightInPicture, turn } from "../../../core/seat/outlineLight";
import type { PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, framesOf, layerOf } from "../../../document/selectors";
import { mirrorSeat } from "../../../document/seatEdits";
import { lightOf, standsAt } from "../../../document/seatGeometry";
import { pictureIdOf } from "../../../document/sourceIds";
import { ask, edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Choice } from "../../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import { useAsked } from "./useAsked";

interface Props {
  seat: SeatRecord;
  plate: PlateRecord;
  isDisabled: boolean;
}

/** The light on what is seated, as its outline tells, beside the plate's. */
export function OwnLight({ seat, plate, isDisabled }: Props) {
  const records = useSession((s) => s.records);
  const layer = layerOf(records, seat.layerId)!;
  const content = layer.content.type === "frame" ? layer.content : null;
  const { mirrored = false, angleDeg = 0 } = content?.moved ?? {};
  const frame = framesOf(records).find((f) => f.id === content?.frameId);
  const of = content?.cut && frame ? JSON.stringify([pictureIdOf(frame), frame.development, content.cut, mirrored, angleDeg.toFixed(1)]) : null;
  const own = useAsked<OutlineLight>(of, (signal) => ask("outlineLight", { records, layerId: seat.layerId }, { signal }));
  const size = documentSize(records)!;
  const foot = standsAt(plate, size, seat);
  const light = lightOf(plate, size);
  const wanted = foot && typeof light !== "string" ? lightInPicture(foot, light) : null;
  return (
    <Section>
      <Heading>{sentence("seating/ownLight")}</Heading>
      {!own && <Soft>{sentence(own === undefined ? "seating/ownLightMeasuring" : "seating/ownLightTellsNothing")}</Soft>}
      {own && (
        <Facts aria-label={sentence("seating/ownLight")}>
          <dt>{sentence("seating/comesFrom")}</dt>
          <dd>{sentence(message("seating/side", { degrees: clockwise(own.angleDeg), sigma: own.sigmaDeg }))}</dd>
          {wanted !== null && (
            <>
              <dt>{sentence("seating/platesFrom")}</dt>
              <dd>{plain(clockwise(wanted), 0)}°</dd>
              <dt>{sentence("seating/apartBy")}</dt>
              <dd>{plain(Math.abs(turn(wanted, own.angleDeg)), 0)}°</dd>
              <dt>{sentence("seating/apartMirrored")}</dt>
              <dd>{plain(Math.abs(turn(wanted, 180 - own.angleDeg)), 0)}°</dd>
            </>
          )}
        </Facts>
      )}
      <RowOf>
        <Choice
          isSelected={mirrored}
          isDisabled={isDisabled}
          onChange={() => edit(mirrorSeat(seat.id), { stage: "compose", label: message("step.seatMirrored", { name: layer.name }) })}
        >
          {sentence("seating/mirrored")}
        </Choice>
      </RowOf>
    </Section>
  );
}

/** Degrees clockwise from straight above, as a clock has them, of degrees from the right. */
const clockwise = (angleDeg: number): number => (((90 - angleDeg) % 360) + 360) % 360;
