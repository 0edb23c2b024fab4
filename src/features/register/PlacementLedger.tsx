"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { describeMatrix } from "../../core/geometry/describeMatrix";
import type { FramePlacement, FrameRecord, RegistrationRecord } from "../../document/records/types";
import { frameNumber, isMeasured } from "../../document/selectors";
import { useSession } from "../../session/store";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Figure, Heading, Section, Soft, TwoLines } from "../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../ui/format";

interface Props {
  frames: FrameRecord[];
  registration: RegistrationRecord;
  chosen: FramePlacement;
  onChoose: (id: string) => void;
}

const HOW: Record<FramePlacement["by"], string> = {
  measured: sentence("register/inPlace"),
  hand: sentence("register/byHand"),
  points: sentence("register/byPoints"),
};

/** Where each frame was, and what is left of it. */
export function PlacementLedger({ frames, registration, chosen, onChoose }: Props) {
  const records = useSession((s) => s.records);
  const ids = registration.placements.map((p) => p.frameId);
  const left = registration.placements.filter((p) => !p.registered);
  const unmeasured = registration.placements.filter((p) => p.registered && !isMeasured(p)).length;
  const unsure = registration.placements.filter((p) => p.otherPx.length > 0).length;
  const worst = Math.max(0, ...registration.placements.map((p) => p.residualPx));
  const pinned = registration.placements.some((p) => p.drift);
  return (
    <>
      <Section>
        <Heading>
          {left.length
            ? sentence(message("register/framesLeftOut", { count: left.length, count2: ids.length }))
            : sentence(
                message("register/framesAlignedWithinPx", {
                  count: ids.length,
                  inRegions: pinned ? "yes" : "no",
                  worst: worst.toFixed(2),
                }),
              )}
        </Heading>
        {unmeasured > 0 && <Soft>{sentence(message("register/themNothingCouldMeasured", { unmeasured }))}</Soft>}
        {unsure > 0 && <Soft>{sentence(message("register/themNothingTellsWhere", { unsure }))}</Soft>}
        <Soft>{sentence("register/beforeAfterRmsAlignment")}</Soft>
      </Section>
      <Ledger
        label={sentence("register/registration")}
        heads={[
          sentence("common/frame"),
          sentence("register/shift"),
          <TwoLines key="rotation" words={[sentence("common/rotation"), "scale"]} />,
          <TwoLines key="before" words={[sentence("register/before"), "after"]} />,
          sentence("register/matches"),
        ]}
        rows={ids.filter((id) => frames.some((f) => f.id === id)).map((id) => ({ id }))}
        chosen={chosen.frameId}
        onChoose={onChoose}
      >
        {registration.placements.map((p) => {
          const frame = frames.find((f) => f.id === p.frameId);
          if (!frame) return null;
          const isReference = p.frameId === registration.referenceId;
          const figures = p.matrix && !isReference ? describeMatrix(p.matrix, frame.width, frame.height) : null;
          return (
            <LedgerRow key={p.frameId} id={p.frameId}>
              <LedgerCell>
                <Figure
                  value={String(frameNumber(records, p.frameId))}
                  word={
                    isReference
                      ? sentence("register/reference")
                      : p.registered
                        ? p.otherPx.length > 0
                          ? sentence("register/unsure")
                          : HOW[p.by]
                        : sentence("register/leftOut")
                  }
                />
              </LedgerCell>
              <LedgerCell>
                {figures ? <Figure value={`${signed(figures.dx, 1)} ${signed(figures.dy, 1)}`} word="px" /> : isReference ? "" : sentence("common/none")}
              </LedgerCell>
              <LedgerCell>{figures && <Figure value={`${signed(figures.rotationDeg, 2)}°`} word={plain(figures.scale, 4)} />}</LedgerCell>
              <LedgerCell>
                {figures && (
                  <Figure
                    value={withUnit(plain(p.residualBeforePx, 1), "px")}
                    word={isMeasured(p) ? withUnit(plain(p.residualPx, 2), "px") : sentence("register/unknown")}
                  />
                )}
              </LedgerCell>
              <LedgerCell>{figures && <Figure value={percent(p.agreeing)} word={SHORT[p.model]} />}</LedgerCell>
            </LedgerRow>
          );
        })}
      </Ledger>
    </>
  );
}

/** One word for the ledger; the bench has the whole name. */
const SHORT: Record<FramePlacement["model"], string> = {
  translation: "shifted",
  breathing: "breathing",
  similarity: "turned",
  affine: "affine",
  homography: "perspective",
  radial: "lens",
};
