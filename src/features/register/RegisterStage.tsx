"use client";
import { useState } from "react";
import { describeMatrix } from "../../core/geometry/describeMatrix";
import { setGeometry } from "../../document/edits";
import type { FramePlacement, FrameRecord, RegistrationRecord } from "../../document/records/types";
import { activeFramesOf, frameNumber, geometryOf, registrationOf } from "../../document/selectors";
import { cropToProposed, register } from "../../session/actions";
import { edit, setStage, useSession } from "../../session/session";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { Card, Facts, Figure, Heading, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, pixels, plain, signed, withUnit } from "../../ui/format";
import { PictureView } from "../../view/PictureView";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { tokens } from "../../ui/tokens/tokens";
import { rowKeys } from "../../view/rowKeys";

type Shown = "frame" | "reference" | "difference" | "residual";

/** How far the frames were apart, what is left, and the crop that holds no empty pixel. */
export function RegisterStage() {
  const { records, busy, readOnly } = useSession();
  const registration = registrationOf(records);
  const frames = activeFramesOf(records);
  const [chosenId, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("frame");
  if (!registration) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>{frames.length} frames to register</Heading>
            <Soft>Shift, turn, scale and what is left over will be listed here for each frame.</Soft>
          </Section>
        }
        bench={
          <Section>
            <Heading>How it works</Heading>
            <Soft>
              Neighbours of the exposure ladder are compared where both hold light, to a fraction of a pixel, and all frames are refined together. A frame that
              fits nowhere is left out.
            </Soft>
          </Section>
        }
      >
        <EmptyPicture
          title={frames.length < 2 ? "Registering needs at least two frames" : "The frames are not registered yet"}
          action={
            frames.length < 2 ? (
              <PrimaryButton onPress={() => setStage("gather")}>Go to Gather</PrimaryButton>
            ) : (
              <PrimaryButton isDisabled={busy !== null || readOnly} onPress={() => void register()}>
                Register {frames.length} frames
              </PrimaryButton>
            )
          }
        >
          Even a tripod moves. Marsh measures how far each frame is off and puts it in place.
        </EmptyPicture>
      </StageLayout>
    );
  }
  const reference = frames.find((f) => f.id === registration.referenceId) ?? frames[0];
  const candidates = registration.placements.filter((p) => p.frameId !== registration.referenceId);
  const chosen = registration.placements.find((p) => p.frameId === chosenId) ?? candidates[0] ?? registration.placements[0];
  const isReference = chosen.frameId === reference.id;
  const usable = chosen.registered && !isReference;
  const view =
    shown === "reference" || !chosen.registered
      ? ({ kind: "frame", frameId: reference.id } as const)
      : shown === "difference" && usable
        ? ({ kind: "difference", frameId: chosen.frameId, againstId: nearest(chosen.frameId, registration, records) } as const)
        : ({ kind: "frame", frameId: chosen.frameId } as const);
  return (
    <StageLayout
      ledger={<PlacementLedger frames={frames} registration={registration} chosen={chosen} onChoose={setChosen} />}
      bench={<PlacementBench frames={frames} registration={registration} chosen={chosen} />}
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "frame", label: `Frame ${frameNumber(records, chosen.frameId)} in place` },
            { id: "reference", label: "Reference" },
            { id: "difference", label: "Difference", isDisabled: !usable },
            { id: "residual", label: "Residual map", isDisabled: !usable },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
    >
      <PictureView
        name={shown === "difference" ? "Difference in EV" : "Registered frame"}
        panes={[{ view, records, label: "" }]}
        arrangement="single"
        size={reference}
        overlay={(at) => (
          <>
            <CropOutline at={at} crop={geometryOf(records)?.crop ?? registration.proposedCrop} />
            {shown === "residual" && usable && <ResidualMap at={at} shifts={chosen.shifts} />}
          </>
        )}
      />
    </StageLayout>
  );
}

function nearest(frameId: string, registration: RegistrationRecord, records: Parameters<typeof activeFramesOf>[0]): string {
  const ladder = activeFramesOf(records)
    .filter((f) => registration.placements.some((p) => p.frameId === f.id && p.registered))
    .sort((a, b) => a.measures.brightness - b.measures.brightness);
  const at = ladder.findIndex((f) => f.id === frameId);
  const towards = ladder.findIndex((f) => f.id === registration.referenceId) > at ? 1 : -1;
  return ladder[at + towards]?.id ?? registration.referenceId;
}

type ToScreen = (x: number, y: number) => [number, number];

/** Our double hairline, light and dark. */
export function CropOutline({ at, crop }: { at: ToScreen; crop: { x: number; y: number; width: number; height: number } }) {
  const [x0, y0] = at(crop.x, crop.y);
  const [x1, y1] = at(crop.x + crop.width, crop.y + crop.height);
  return (
    <g fill="none">
      <rect x={x0 - 0.5} y={y0 - 0.5} width={x1 - x0 + 1} height={y1 - y0 + 1} stroke="#000" />
      <rect x={x0 + 0.5} y={y0 + 0.5} width={x1 - x0 - 1} height={y1 - y0 - 1} stroke="#fff" />
    </g>
  );
}

/** Screen px a line has for one px that is left. */
const LINE_PX = 60;

/** What is left at each place as a line; places that disagree carry a cross. */
function ResidualMap({ at, shifts }: { at: ToScreen; shifts: number[][] }) {
  return (
    <g>
      {shifts.map(([x, y, dx, dy, correlation], i) => {
        const [sx, sy] = at(x + 0.5, y + 0.5);
        const agrees = correlation >= 0.6 && Math.hypot(dx, dy) <= 1.5;
        const long = LINE_PX;
        const line = agrees ? `M${sx} ${sy} l${dx * long} ${dy * long}` : `M${sx - 4} ${sy - 4} l8 8 m0 -8 l-8 8`;
        return (
          <g key={i} fill="none">
            <path d={line} stroke="#000" strokeWidth="3" />
            <path d={line} stroke="#fff" strokeWidth="1.2" />
            {agrees && <circle cx={sx} cy={sy} r="1.8" fill="#fff" stroke="#000" strokeWidth="0.8" />}
          </g>
        );
      })}
    </g>
  );
}

function PlacementLedger(props: { frames: FrameRecord[]; registration: RegistrationRecord; chosen: FramePlacement; onChoose: (id: string) => void }) {
  const { frames, registration, chosen, onChoose } = props;
  const records = useSession((s) => s.records);
  const ids = registration.placements.map((p) => p.frameId);
  const left = registration.placements.filter((p) => !p.registered);
  const worst = Math.max(0, ...registration.placements.map((p) => p.residualPx));
  return (
    <>
      <Section>
        <Heading>
          {left.length ? `${left.length} of ${ids.length} frames left out` : `${ids.length} frames in place, ${worst.toFixed(2)} px left at most`}
        </Heading>
        <Soft>What is left is the RMS shift over all places that agree, at full size.</Soft>
      </Section>
      <Table aria-label="Registration">
        <thead>
          <tr>
            <th>Frame</th>
            <th>Shift</th>
            <th>
              Turn
              <br />
              scale
            </th>
            <th>
              Before
              <br />
              left
            </th>
            <th>Agree</th>
          </tr>
        </thead>
        <tbody>
          {registration.placements.map((p) => {
            const frame = frames.find((f) => f.id === p.frameId);
            if (!frame) return null;
            const figures = p.matrix && describeMatrix(p.matrix, frame.width, frame.height);
            const isReference = p.frameId === registration.referenceId;
            return (
              <Row
                key={p.frameId}
                $chosen={p.frameId === chosen.frameId}
                tabIndex={p.frameId === chosen.frameId ? 0 : -1}
                aria-selected={p.frameId === chosen.frameId}
                onClick={() => onChoose(p.frameId)}
                onKeyDown={rowKeys(ids, p.frameId, onChoose)}
              >
                <td>
                  <Figure value={String(frameNumber(records, p.frameId))} word={isReference ? "reference" : p.registered ? "in place" : "left out"} />
                </td>
                <td>{isReference ? "" : figures ? <Figure value={`${signed(figures.dx, 1)} ${signed(figures.dy, 1)}`} word="px" /> : "none"}</td>
                <td>{isReference ? "" : figures && <Figure value={`${signed(figures.rotationDeg, 2)}°`} word={plain(figures.scale, 4)} />}</td>
                <td>
                  {isReference
                    ? ""
                    : p.registered && <Figure value={withUnit(plain(p.residualBeforePx, 1), "px")} word={withUnit(plain(p.residualPx, 2), "px")} />}
                </td>
                <td>{isReference ? "" : p.registered && <Figure value={percent(p.agreeing)} word={`of ${p.shifts.length}`} />}</td>
              </Row>
            );
          })}
        </tbody>
      </Table>
    </>
  );
}

function PlacementBench({ frames, registration, chosen }: { frames: FrameRecord[]; registration: RegistrationRecord; chosen: FramePlacement }) {
  const { records, busy, readOnly } = useSession();
  const number = frameNumber(records, chosen.frameId);
  const isReference = chosen.frameId === registration.referenceId;
  const { proposedCrop: crop } = registration;
  const reference = frames.find((f) => f.id === registration.referenceId)!;
  const kept = (crop.width * crop.height) / (reference.width * reference.height);
  const inForce = geometryOf(records)?.crop ?? crop;
  const cropped = inForce.width === crop.width && inForce.height === crop.height;
  const away = [...chosen.shifts].filter((s) => s[4] < 0.6 || Math.hypot(s[2], s[3]) > 1.5).length;
  return (
    <>
      <Section>
        <Heading>
          Frame {number}
          {isReference ? ", the reference" : ""}
        </Heading>
        {isReference ? <Soft>{registration.referenceReason}</Soft> : chosen.reason ? <Card $open>{chosen.reason}</Card> : null}
        {!isReference && chosen.registered && (
          <Facts style={{ marginTop: 6 }}>
            <dt>Places measured</dt>
            <dd>{chosen.shifts.length}</dd>
            <dt>That disagree</dt>
            <dd>{away}</dd>
            <dt>Confidence</dt>
            <dd>{percent(chosen.confidence)}</dd>
          </Facts>
        )}
        {!isReference && <Soft style={{ marginTop: 6 }}>Confidence is the share that agrees, less what so few places can prove.</Soft>}
        {!isReference && (
          <RowOf>
            <Button isDisabled={busy !== null || readOnly} onPress={() => void register(chosen.frameId)}>
              Make it the reference
            </Button>
          </RowOf>
        )}
      </Section>
      <Section>
        <Heading>Crop without empty border</Heading>
        <Soft>
          {pixels(crop.width)} × {pixels(crop.height)} px, keeps {percent(kept)} of the reference.{" "}
          {cropped ? "In force; nothing is thrown away." : "Another crop is in force."}
        </Soft>
        <RowOf>
          {cropped ? (
            <Button
              isDisabled={readOnly}
              onPress={() =>
                edit(setGeometry({ angleDeg: 0, crop: { x: 0, y: 0, width: reference.width, height: reference.height }, ratio: null }), {
                  stage: "register",
                  label: "Whole reference frame shown, border included",
                })
              }
            >
              Show the whole frame
            </Button>
          ) : (
            <Button isDisabled={readOnly} onPress={() => edit(cropToProposed, { stage: "register", label: "Cropped to the covered area" })}>
              Take it
            </Button>
          )}
        </RowOf>
      </Section>
      <Section>
        <Heading>Next</Heading>
        <RowOf>
          <PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>
          <Button isDisabled={busy !== null || readOnly} onPress={() => void register(registration.referenceId)}>
            Register again
          </Button>
        </RowOf>
      </Section>
      <Section style={{ color: tokens.textSoft, borderBottom: 0 }}>
        <Soft>
          Difference: black where frames agree after equal exposure, white at 1 EV. Residual map: 1 px left would be a line of 60 px on the screen; a cross
          marks a place that disagrees.
        </Soft>
      </Section>
    </>
  );
}
