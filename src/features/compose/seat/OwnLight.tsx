"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { OutlineLight } from "../../../core/seat/outlineLight";
import { lightInPicture, sidesEv, turn } from "../../../core/seat/outlineLight";
import type { PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, framesOf, layerOf } from "../../../document/selectors";
import { changeSeat, mirrorSeat } from "../../../document/seatEdits";
import { lightOf, standsAt, sunFromSky } from "../../../document/seatGeometry";
import { pictureIdOf } from "../../../document/sourceIds";
import { ask, edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice } from "../../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, withUnit } from "../../../ui/format";
import { useAsked } from "../../../view/useAsked";

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
  const told = useAsked<OutlineLight | "even">(of, (signal) => ask("outlineLight", { records, layerId: seat.layerId }, { signal }));
  const own = told === "even" ? null : told;
  const size = documentSize(records)!;
  const foot = standsAt(plate, size, seat);
  const light = lightOf(plate, size);
  const sun = seat.on === "sky" ? sunFromSky(plate, size, seat) : null;
  const wanted = sun ? 90 - sun.towardsDeg : foot && typeof light !== "string" ? lightInPicture(foot, light) : null;
  return (
    <Section>
      <Heading>{sentence("seating/ownLight")}</Heading>
      {!own && (
        <Soft>{sentence(own === undefined ? "seating/ownLightMeasuring" : told === "even" ? "seating/ownLightEven" : "seating/ownLightTellsNothing")}</Soft>
      )}
      {own && (
        <Facts aria-label={sentence("seating/ownLight")}>
          <dt>{sentence("seating/comesFrom")}</dt>
          <dd>{sentence(message("seating/side", { degrees: clockwise(own.angleDeg), sigma: own.sigmaDeg }))}</dd>
          <dt>{sentence("seating/sidesApart")}</dt>
          <dd>{withUnit(plain(sidesEv(own.strength), 1), "EV")}</dd>
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
        {sun && own && wanted !== null && (
          <Button
            isDisabled={isDisabled}
            onPress={() => edit(changeSeat(seat.id, { turnDeg: turned(seat, own.angleDeg - wanted) }), { stage: "compose", label: "step.turnedToSun" })}
          >
            {sentence("seating/turnToSun")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}

/** By how much a thing in the sky is turned once it is turned so much further, −180..180. */
const turned = ({ turnDeg = 0 }: SeatRecord, by: number): number => Math.round(10 * turn(0, turnDeg + by)) / 10;

/** Degrees clockwise from straight above, as a clock has them, of degrees from the right. */
const clockwise = (angleDeg: number): number => (((90 - angleDeg) % 360) + 360) % 360;
