"use client";
import { message } from "../../../messages/message";
import { sentence } from "../../../messages/sentence";
import { attitudeOf, rotationOf, transpose } from "../../../core/panorama/camera";
import { multiply } from "../../../core/geometry/matrix3";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { RegistrationRecord } from "../../../document/records/types";
import { frameNumber } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { Ledger, LedgerCell, LedgerRow } from "../../../ui/components/Ledger";
import { Card, Figure, Heading, Section, Soft, Table, TwoLines } from "../../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../../ui/format";

interface Props {
  panorama: PanoramaRecord;
  registration: RegistrationRecord;
  chosenId: string | null;
  onChoose: (id: string) => void;
}

/** Parallax that is worth a sentence, px. */
const NEAR_PX = 2;

/** Where each frame looks, what is left of it, and how pairs of frames meet. */
export function TurnLedger({ panorama, registration, chosenId, onChoose }: Props) {
  const records = useSession((s) => s.records);
  const back = transpose(rotationOf(panorama.view));
  const ids = panorama.frames.map((f) => f.frameId);
  const left = panorama.frames.filter((f) => !f.rotation);
  const worst = Math.max(0, ...panorama.pairs.map((p) => p.residualPx));
  const near = [...panorama.pairs].sort((a, b) => b.parallaxPx - a.parallaxPx)[0];
  const placementOf = (id: string) => registration.placements.find((p) => p.frameId === id);
  const whyOut = (id: string) => sentence(placementOf(id)?.reason ?? "placing.none");
  return (
    <>
      <Section>
        <Heading>
          {left.length
            ? sentence(message("register/framesLeftOut", { count: left.length, count2: ids.length }))
            : sentence(message("register/framesAlignedWithin", { count: ids.length, worst: withUnit(plain(worst, 2), "px") }))}
        </Heading>
        {left.map((f) => (
          <Card key={f.frameId} $open>
            {sentence(message("register/frameLeftOut", { number: frameNumber(records, f.frameId), value: whyOut(f.frameId) }))}
          </Card>
        ))}
        {near && near.parallaxPx > NEAR_PX && (
          <Card $open>
            {sentence(
              message("register/betweenFramesSomeThings", {
                number: frameNumber(records, near.aId),
                number2: frameNumber(records, near.bId),
                parallaxPx: withUnit(plain(near.parallaxPx, 0), "px"),
              }),
            )}
          </Card>
        )}
        <Soft>{sentence("register/directionsThoseLevelPicture")}</Soft>
      </Section>
      <Ledger
        label={sentence("common/frames")}
        heads={[
          sentence("common/frame"),
          sentence("register/yaw"),
          <TwoLines key="pitch" words={[sentence("register/pitch"), "roll"]} />,
          sentence("register/error"),
          sentence("register/light"),
        ]}
        rows={panorama.frames.map((f) => ({ id: f.frameId }))}
        chosen={chosenId}
        onChoose={onChoose}
      >
        {panorama.frames.map((f) => {
          const attitude = f.rotation && attitudeOf(multiply(back, f.rotation));
          const ev = (f.gainEv[0] + f.gainEv[1] + f.gainEv[2]) / 3;
          return (
            <LedgerRow key={f.frameId} id={f.frameId}>
              <LedgerCell>
                <Figure value={String(frameNumber(records, f.frameId))} word={f.rotation ? sentence("register/inPlace") : sentence("register/leftOut")} />
              </LedgerCell>
              <LedgerCell>{attitude && <Figure value={`${signed(attitude.yawDeg, 2)}°`} word={`±${plain(f.sdDeg, 3)}°`} />}</LedgerCell>
              <LedgerCell>{attitude && <Figure value={`${signed(attitude.pitchDeg, 2)}°`} word={`${signed(attitude.rollDeg, 2)}°`} />}</LedgerCell>
              <LedgerCell>{attitude && <Figure value={withUnit(plain(placementOf(f.frameId)?.residualPx ?? 0, 2), "px")} />}</LedgerCell>
              <LedgerCell>{attitude && <Figure value={withUnit(signed(ev, 2), "EV")} />}</LedgerCell>
            </LedgerRow>
          );
        })}
      </Ledger>
      <Section>
        <Heading>{sentence("register/pairs")}</Heading>
      </Section>
      <Table aria-label={sentence("register/pairs")}>
        <thead>
          <tr>
            <th>{sentence("common/frames")}</th>
            <th>{sentence("register/overlap")}</th>
            <th>{sentence("register/places")}</th>
            <th>{sentence("register/error")}</th>
          </tr>
        </thead>
        <tbody>
          {panorama.pairs.map((p) => (
            <tr key={`${p.aId}-${p.bId}`}>
              <td>
                <Figure value={sentence(message("common/andNumber", { number: frameNumber(records, p.aId), number2: frameNumber(records, p.bId) }))} />
              </td>
              <td>{percent(p.overlap)}</td>
              <td>{sentence(message("common/partOf", { part: p.agreeing, whole: p.measured }))}</td>
              <td>{withUnit(plain(p.residualPx, 2), "px")}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
