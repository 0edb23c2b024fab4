"use client";
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
          {left.length ? `${left.length} of ${ids.length} frames left out` : `${ids.length} frames aligned, within ${withUnit(plain(worst, 2), "px")}`}
        </Heading>
        {left.map((f) => (
          <Card key={f.frameId} $open>
            Frame {frameNumber(records, f.frameId)} is left out. {whyOut(f.frameId)}
          </Card>
        ))}
        {near && near.parallaxPx > NEAR_PX && (
          <Card $open>
            Between frames {frameNumber(records, near.aId)} and {frameNumber(records, near.bId)} some things are off by{" "}
            {withUnit(plain(near.parallaxPx, 0), "px")}: they moved, or they are near and the camera was not turned about its entrance pupil.
          </Card>
        )}
        <Soft>Directions are those of the level picture; light is against the mean of all frames.</Soft>
      </Section>
      <Ledger
        label="Frames"
        heads={["Frame", "Yaw", <TwoLines key="pitch" words={["Pitch", "roll"]} />, "Error", "Light"]}
        chosen={chosenId}
        onChoose={onChoose}
      >
        {panorama.frames.map((f) => {
          const attitude = f.rotation && attitudeOf(multiply(back, f.rotation));
          const ev = (f.gainEv[0] + f.gainEv[1] + f.gainEv[2]) / 3;
          return (
            <LedgerRow key={f.frameId} id={f.frameId}>
              <LedgerCell>
                <Figure value={String(frameNumber(records, f.frameId))} word={f.rotation ? "in place" : "left out"} />
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
        <Heading>Pairs</Heading>
      </Section>
      <Table aria-label="Pairs">
        <thead>
          <tr>
            <th>Frames</th>
            <th>Overlap</th>
            <th>Places</th>
            <th>Error</th>
          </tr>
        </thead>
        <tbody>
          {panorama.pairs.map((p) => (
            <tr key={`${p.aId}-${p.bId}`}>
              <td>
                <Figure value={`${frameNumber(records, p.aId)} and ${frameNumber(records, p.bId)}`} />
              </td>
              <td>{percent(p.overlap)}</td>
              <td>
                {p.agreeing} of {p.measured}
              </td>
              <td>{withUnit(plain(p.residualPx, 2), "px")}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
