"use client";
import { useEffect, useState } from "react";
import { removeFrame, setExcluded } from "../../document/edits";
import type { FrameRecord } from "../../document/records/types";
import { exposuresOf, framesOf, registrationOf } from "../../document/selectors";
import { gather, gatherDemo, listDemoJobs, type DemoJob } from "../../session/actions";
import { edit, setNameOf, setStage, useSession } from "../../session/session";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { FilePicker } from "../../ui/components/FilePicker";
import { Card, Facts, Figure, Heading, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { megapixels, percent, plain, shutter, signed, withUnit } from "../../ui/format";
import { rowKeys } from "../../view/rowKeys";
import { PictureView } from "../../view/PictureView";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";

export const PICTURE_TYPES = ["image/jpeg", "image/png", "image/tiff", ".tif", ".tiff"];
const toFiles = (files: File[]) => files.map((file) => ({ name: file.name, file }));

/** Frames with what was measured of them, and the name of the set. */
export function GatherStage() {
  const records = useSession((s) => s.records);
  const frames = framesOf(records);
  const [chosenId, setChosen] = useState<string | null>(null);
  const chosen = frames.find((f) => f.id === chosenId) ?? frames[Math.floor(frames.length / 2)];
  if (frames.length === 0) return <EmptyGather />;
  return (
    <StageLayout
      ledger={<FrameLedger frames={frames} chosen={chosen} onChoose={setChosen} />}
      bench={<FrameBench frame={chosen} number={frames.indexOf(chosen) + 1} />}
      bar={<ViewChoices views={frames.slice(0, 9).map((f, i) => ({ id: f.id, label: `Frame ${i + 1}` }))} chosen={chosen.id} onChoose={setChosen} />}
    >
      <PictureView
        name={`Frame ${chosen.fileName}`}
        panes={[{ view: { kind: "source", frameId: chosen.id }, records, label: chosen.fileName }]}
        arrangement="single"
        size={chosen}
      />
    </StageLayout>
  );
}

function FrameLedger({ frames, chosen, onChoose }: { frames: FrameRecord[]; chosen: FrameRecord; onChoose: (id: string) => void }) {
  const records = useSession((s) => s.records);
  const measured = exposuresOf(records)?.measuredEv;
  const set = setNameOf(records);
  const middle = registrationOf(records)?.referenceId ?? frames[Math.floor(frames.length / 2)].id;
  const base = frames.find((f) => f.id === middle)!;
  return (
    <>
      <Section>
        <Heading>{set.sentence}</Heading>
        {set.oddities.map((o) => (
          <Card key={o} $open>
            {o}
          </Card>
        ))}
      </Section>
      <Table aria-label="Frames">
        <thead>
          <tr>
            <th>No.</th>
            <th>Shot</th>
            <th>
              Metered
              <br />
              measured
            </th>
            <th>
              Clipped
              <br />
              top, bottom
            </th>
            <th>Noise σ</th>
            <th>Edges</th>
          </tr>
        </thead>
        <tbody>
          {frames.map((f, i) => {
            const ev = measured && measured[f.id] !== undefined && measured[base.id] !== undefined ? measured[f.id] - measured[base.id] : null;
            const metered = f.meteredEv !== null && base.meteredEv !== null ? f.meteredEv - base.meteredEv : null;
            return (
              <Row
                key={f.id}
                $chosen={f.id === chosen.id}
                $off={f.excluded}
                tabIndex={f.id === chosen.id ? 0 : -1}
                aria-selected={f.id === chosen.id}
                onClick={() => onChoose(f.id)}
                onKeyDown={rowKeys(
                  frames.map((x) => x.id),
                  f.id,
                  onChoose,
                )}
              >
                <td>
                  <Figure value={String(i + 1)} />
                </td>
                <td>
                  <Figure
                    value={f.exposureTimeS ? shutter(f.exposureTimeS) : "no shutter"}
                    word={f.aperture && f.iso ? `f/${plain(f.aperture, f.aperture % 1 ? 1 : 0)} ISO ${f.iso}` : "no metadata"}
                  />
                </td>
                <td>
                  <Figure value={metered === null ? "none" : signed(metered, 1)} word={ev === null ? "not yet" : signed(ev, 2)} />
                </td>
                <td>
                  <Figure value={percent(Math.max(...f.measures.clippedHigh))} word={percent(Math.max(...f.measures.clippedLow))} />
                </td>
                <td>
                  <Figure value={plain(f.measures.noiseSigma, 2)} word="of 255" />
                </td>
                <td>
                  <Figure value={f.measures.edgeWidthPx ? withUnit(plain(f.measures.edgeWidthPx, 1), "px") : "none"} word="wide" />
                </td>
              </Row>
            );
          })}
        </tbody>
      </Table>
      <Section>
        <Soft>Exposures in EV against frame {frames.indexOf(base) + 1}. Edges: 10 to 90 % width of the sharpest; smaller is sharper.</Soft>
        <RowOf>
          <FilePicker accept={PICTURE_TYPES} multiple onFiles={(files) => void gather(toFiles(files))}>
            Add frames
          </FilePicker>
        </RowOf>
      </Section>
    </>
  );
}

function FrameBench({ frame, number }: { frame: FrameRecord; number: number }) {
  const { records, readOnly } = useSession();
  const m = frame.measures;
  const channels = (v: readonly number[]) => v.map((s) => percent(s)).join("  ");
  return (
    <>
      <Section>
        <Heading>Frame {number}</Heading>
        <Soft>{frame.fileName}</Soft>
        <Facts style={{ marginTop: 8 }}>
          <dt>Size</dt>
          <dd>
            {frame.width}×{frame.height}, {megapixels(frame.width, frame.height)}
          </dd>
          <dt>File</dt>
          <dd>
            {frame.format}, {frame.bits} bit, {frame.colorName}
          </dd>
          <dt>Camera</dt>
          <dd>{frame.model ?? "not stated"}</dd>
          <dt>Focal length</dt>
          <dd>{frame.focalLengthMm ? withUnit(plain(frame.focalLengthMm, 0), "mm") : "not stated"}</dd>
          <dt>Taken</dt>
          <dd>{frame.takenAt ?? "not stated"}</dd>
          <dt>At the top R G B</dt>
          <dd>{channels(m.clippedHigh)}</dd>
          <dt>At the bottom R G B</dt>
          <dd>{channels(m.clippedLow)}</dd>
          <dt>Mean light</dt>
          <dd>{percent(m.brightness)}</dd>
        </Facts>
        {frame.notes.map((n) => (
          <Card key={n} $open>
            {n}
          </Card>
        ))}
        <RowOf>
          <Button
            isDisabled={readOnly}
            onPress={() =>
              edit(setExcluded(frame.id, !frame.excluded), {
                stage: "gather",
                label: frame.excluded ? `Frame ${number} takes part again` : `Frame ${number} left out`,
              })
            }
          >
            {frame.excluded ? "Take part again" : "Leave out"}
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(removeFrame(frame.id), { stage: "gather", label: `Frame ${number} removed` })}>
            Remove
          </Button>
        </RowOf>
      </Section>
      <Section>
        <Heading>Next</Heading>
        <Soft>{registrationOf(records) ? "The frames are registered." : "The frames are measured. Register them to see how far they are apart."}</Soft>
        <RowOf>
          <PrimaryButton onPress={() => setStage("register")}>Go to Register</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}

function EmptyGather() {
  const [demos, setDemos] = useState<DemoJob[]>([]);
  useEffect(() => {
    void listDemoJobs().then(setDemos, () => undefined);
  }, []);
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>No frames yet</Heading>
          <Soft>Each frame will be listed here with its exposure as metered and as measured, clipping, noise and sharpness.</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>What Marsh reads</Heading>
          <Soft>JPEG, PNG and TIFF with 8 or 16 bits, up to 120 MP a frame. Everything stays in this browser.</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title="Bring the frames of one picture"
        action={
          <RowOf>
            <FilePicker accept={PICTURE_TYPES} multiple primary onFiles={(files) => void gather(toFiles(files))}>
              Choose files
            </FilePicker>
            {demos.map((d) => (
              <Button key={d.id} onPress={() => void gatherDemo(d)}>
                Try “{d.name}”
              </Button>
            ))}
          </RowOf>
        }
      >
        Drop them anywhere in this window, or choose them. A bracket of three or five frames is a good start.
      </EmptyPicture>
    </StageLayout>
  );
}
