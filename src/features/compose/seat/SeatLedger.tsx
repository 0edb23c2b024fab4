"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { lampsOf } from "../../../document/lampEdits";
import type { PlateLamp, PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { documentSize, layerOf } from "../../../document/selectors";
import { lightOf, seatFigures, SUN_WIDE_DEG } from "../../../document/seatGeometry";
import { shadowOf } from "../../../document/shadowEdits";
import { usePartsOf } from "../../../session/store";
import { Ledger, LedgerCell, LedgerRow } from "../../../ui/components/Ledger";
import { Figure, Heading, Section, Soft } from "../../../ui/components/panels";
import { plain, signed, withUnit } from "../../../ui/format";
import { useCompose } from "../../../view/composeState";

/** The row of the plate. */
const PLATE = "plate";

/** The plate, and what is seated in it: how far away it stands, how tall it is, and the light. */
export function SeatLedger({ plate, seats, chosen, lamp }: { plate: PlateRecord; seats: SeatRecord[]; chosen: SeatRecord | null; lamp: PlateLamp | null }) {
  const { records } = usePartsOf("records");
  const size = documentSize(records)!;
  const light = lightOf(plate, size);
  const lamps = lampsOf(plate);
  const lightShown =
    light === "overcast"
      ? { value: sentence("seating/overcast"), word: sentence("seating/noDirection") }
      : typeof light === "string"
        ? { value: "–", word: sentence("seating/notMarked") }
        : { value: `${plain(light.azimuthDeg, 0)}° / ${plain(light.elevationDeg, 0)}°`, word: sentence("seating/azimuthElevation") };
  const horizon =
    plate.horizonBy === "guess"
      ? { value: "?", word: sentence("seating/horizonUnknown") }
      : { value: `± ${plain(plate.horizonSigmaDeg, 1)}°`, word: sentence("seating/horizon") };
  return (
    <>
      <Section>
        <Heading>{sentence(message("seating/count", { count: seats.length }))}</Heading>
        <Soft>{sentence(seats.length ? "seating/dragsFeet" : "seating/tellPlateFirst")}</Soft>
      </Section>
      <Ledger
        label={sentence("seating/plateAndThings")}
        heads={[sentence("seating/thing"), sentence("seating/away"), sentence("seating/tall"), sentence("seating/light")]}
        rows={[{ id: PLATE }, ...seats.map(({ id }) => ({ id })), ...lamps.map(({ id }) => ({ id }))]}
        chosen={chosen?.id ?? lamp?.id ?? PLATE}
        onChoose={(id) =>
          useCompose.setState({ seatId: seats.some((s) => s.id === id) ? id : null, lampId: lamps.some((l) => l.id === id) ? id : null, plateTool: "none" })
        }
      >
        {[
          <LedgerRow key={PLATE} id={PLATE}>
            <LedgerCell>
              <Figure value={sentence("seating/plate")} word="" />
            </LedgerCell>
            <LedgerCell>
              <Figure {...horizon} />
            </LedgerCell>
            <LedgerCell>
              <Figure value={withUnit(plain(plate.heightM, 2), "m")} word={sentence(plate.heightBy === "guess" ? "seating/cameraGuessed" : "seating/camera")} />
            </LedgerCell>
            <LedgerCell>
              <Figure {...lightShown} />
            </LedgerCell>
          </LedgerRow>,
          ...seats.map((seat, i) => {
            const figures = seatFigures(records, seat);
            const shadow = shadowOf(records, seat)?.content;
            const shadowEv = shadow?.type === "adjustment" ? (shadow.values.ev ?? 0) : null;
            return (
              <LedgerRow key={seat.id} id={seat.id}>
                <LedgerCell>
                  <Figure breaks value={String(i + 1)} word={layerOf(records, seat.layerId)!.name} />
                  {figures?.byHand && <Soft>{sentence("seating/movedSince")}</Soft>}
                </LedgerCell>
                <LedgerCell>
                  <Figure
                    value={figures?.distanceM != null ? withUnit(plain(figures.distanceM, 1), "m") : "–"}
                    word={figures ? sentence(`seating/on.${seat.on}`).toLowerCase() : sentence("seating/noGround")}
                  />
                </LedgerCell>
                <LedgerCell>
                  <Figure
                    value={seat.on === "sky" ? `${plain((seat.wideDeg ?? SUN_WIDE_DEG) * (seat.times ?? 1), 2)}°` : withUnit(plain(seat.heightM, 2), "m")}
                    word={figures ? withUnit(plain(figures.heightPx, 0), "px") : ""}
                  />
                </LedgerCell>
                <LedgerCell>
                  <Figure
                    value={shadowEv === null ? "–" : withUnit(signed(shadowEv, 1), "EV")}
                    word={sentence(shadowEv === null ? "seating/noShadow" : "seating/withShadow")}
                  />
                </LedgerCell>
              </LedgerRow>
            );
          }),
          ...lamps.map((l, i) => (
            <LedgerRow key={l.id} id={l.id}>
              <LedgerCell>
                <Figure breaks value={String(seats.length + i + 1)} word={sentence(`seating/lamp.${l.is}`)} />
              </LedgerCell>
              <LedgerCell>
                <Figure
                  value={l.distanceM === null ? "–" : withUnit(plain(l.distanceM, 1), "m")}
                  word={sentence(l.distanceM === null ? "seating/inSky" : l.isAdded ? "seating/isAdded" : "seating/isShown")}
                />
              </LedgerCell>
              <LedgerCell>
                <Figure value={l.distanceM === null ? `${plain(l.wide, 2)}°` : withUnit(plain(l.wide, 2), "m")} word={sentence("seating/isWide")} />
              </LedgerCell>
              <LedgerCell>
                <Figure value={withUnit(signed(l.ev, 1), "EV")} word={sentence(l.distanceM === null ? "seating/onWhite" : "seating/atMetre")} />
              </LedgerCell>
            </LedgerRow>
          )),
        ]}
      </Ledger>
    </>
  );
}
