"use client";
import { useState } from "react";
import type { MergeRecord } from "../../document/records/types";
import { framesOf, frameNumber, mergedFramesOf, mergeOf, registrationOf } from "../../document/selectors";
import { FRAME_COLORS } from "../../core/color/frameColors";
import { merge, mergeBoth } from "../../session/actions";
import { setStage, useSession } from "../../session/session";
import { Button, PrimaryButton, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Figure, Heading, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, withUnit } from "../../ui/format";
import { PictureView, type Pane } from "../../view/PictureView";
import { ReadoutLine } from "../../view/ReadoutLine";
import { rowKeys } from "../../view/rowKeys";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { jumpTo } from "../../view/viewState";

type Shown = "chosen" | "radiance" | "fusion" | "split" | "provenance";

/** Two results from the same frames; the person compares and picks. */
export function MergeStage() {
  const { records, busy, readOnly } = useSession();
  const [shown, setShown] = useState<Shown>("chosen");
  const [at, setAt] = useState<[number, number] | null>(null);
  const record = mergeOf(records);
  const registration = registrationOf(records);
  const reference = framesOf(records).find((f) => f.id === registration?.referenceId);
  if (!record || !reference) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>Nothing merged yet</Heading>
            <Soft>What each frame gives to the picture will be listed here.</Soft>
          </Section>
        }
        bench={
          <Section>
            <Heading>Two ways</Heading>
            <Soft>
              Radiance keeps the scene&rsquo;s light as it is, in 32 bits, to be shaped afterwards. Exposure fusion takes the best-exposed part of every frame
              and is ready to look at.
            </Soft>
          </Section>
        }
      >
        <EmptyPicture
          title={registration ? "Merge the frames both ways and compare" : "The frames are not registered yet"}
          action={
            registration ? (
              <PrimaryButton isDisabled={busy !== null || readOnly} onPress={() => void mergeBoth()}>
                Merge {mergedFramesOf(records).length} frames
              </PrimaryButton>
            ) : (
              <PrimaryButton onPress={() => setStage("register")}>Go to Register</PrimaryButton>
            )
          }
        >
          Neither way changes the frames. You can go back and take the other at any time.
        </EmptyPicture>
      </StageLayout>
    );
  }
  const pane = (method: "radiance" | "fusion"): Pane => ({
    view: { kind: "merge", method },
    records,
    label: method === "radiance" ? "Radiance merge" : "Exposure fusion",
  });
  const panes: Pane[] =
    shown === "split"
      ? [pane("radiance"), pane("fusion")]
      : shown === "provenance"
        ? [{ view: { kind: "provenance" }, records, label: "" }]
        : [pane(shown === "chosen" ? record.method : shown)];
  return (
    <StageLayout
      ledger={<MergeLedger record={record} onShow={setShown} />}
      bench={<MergeBench record={record} />}
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "chosen", label: "In force" },
            { id: "radiance", label: "Radiance" },
            { id: "fusion", label: "Fusion" },
            { id: "split", label: "Split" },
            { id: "provenance", label: "Provenance" },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={<ReadoutLine records={records} at={at} />}
    >
      <PictureView
        name="Merge"
        panes={panes}
        arrangement={shown === "split" ? "split" : "single"}
        size={reference}
        onHover={(x, y) => setAt([Math.round(x), Math.round(y)])}
        overlay={(toScreen) =>
          record.motion.map((m, i) => {
            const [x0, y0] = toScreen(m.rectangle.x, m.rectangle.y);
            const [x1, y1] = toScreen(m.rectangle.x + m.rectangle.width, m.rectangle.y + m.rectangle.height);
            return (
              <g key={i} fill="none">
                <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#000" strokeWidth="3" />
                <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#fff" strokeWidth="1" />
              </g>
            );
          })
        }
      />
    </StageLayout>
  );
}

function MergeLedger({ record, onShow }: { record: MergeRecord; onShow: (s: Shown) => void }) {
  const { records, busy, readOnly } = useSession();
  const frames = mergedFramesOf(records);
  const methods = ["radiance", "fusion"] as const;
  const words = { radiance: ["Radiance merge", "scene light, 32 bit"], fusion: ["Exposure fusion", "ready to look at"] };
  const choose = (method: (typeof methods)[number]) => {
    if (method !== record.method && !busy && !readOnly) void merge(method);
    onShow("chosen");
  };
  return (
    <>
      <Section>
        <Heading>{record.method === "radiance" ? "Radiance merge in force" : "Exposure fusion in force"}</Heading>
        <Soft>Choose one; everything after it follows.</Soft>
      </Section>
      <Table aria-label="Merges">
        <tbody>
          {methods.map((m) => (
            <Row
              key={m}
              $chosen={m === record.method}
              tabIndex={m === record.method ? 0 : -1}
              aria-selected={m === record.method}
              onClick={() => choose(m)}
              onKeyDown={rowKeys([...methods], m, (id) => choose(id as typeof m))}
            >
              <td>
                <Figure value={words[m][0]} word={words[m][1]} />
              </td>
            </Row>
          ))}
        </tbody>
      </Table>
      <Section>
        <Heading>What each frame gives</Heading>
      </Section>
      <Table aria-label="Shares">
        <thead>
          <tr>
            <th>Frame</th>
            <th>In the map</th>
            <th>Gives most in</th>
          </tr>
        </thead>
        <tbody>
          {frames.map(({ frame }, i) => (
            <tr key={frame.id}>
              <td>
                <Figure value={String(frameNumber(records, frame.id))} />
              </td>
              <td>
                <svg width="44" height="14" aria-hidden="true">
                  <rect width="44" height="14" fill={`rgb(${FRAME_COLORS[i % FRAME_COLORS.length].join(" ")})`} />
                </svg>
              </td>
              <td>
                <Figure value={percent(record.shares[frame.id] ?? 0)} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

function MergeBench({ record }: { record: MergeRecord }) {
  const { busy, readOnly } = useSession();
  const disabled = busy !== null || readOnly;
  const weights = { contrast: record.contrast, saturation: record.saturation, exposedness: record.exposedness };
  const control = (key: keyof typeof weights, name: string) => (
    <MeasuredControl
      key={key}
      name={name}
      unit="power"
      value={record[key]}
      neutral={1}
      min={0}
      max={2}
      step={0.1}
      digits={1}
      isDisabled={disabled}
      onChange={(v) => void merge("fusion", { ...weights, [key]: v })}
    />
  );
  return (
    <>
      {record.motion.length > 0 && (
        <Section>
          <Heading>{record.motion.length === 1 ? "A moving object was found" : `${record.motion.length} moving objects were found`}</Heading>
          {record.motion.slice(0, 4).map((m, i) => (
            <Card key={i} $open>
              Frames {m.frames[0]} and {m.frames[1]} disagree over {m.rectangle.width}×{m.rectangle.height} px.{" "}
              <TextButton onPress={() => jumpTo(m.rectangle)}>Show at 1:1</TextButton>
            </Card>
          ))}
          <Soft>Ghosts are not handled in this version: in Compose, lay one frame over the place.</Soft>
        </Section>
      )}
      {record.method === "fusion" ? (
        <Section>
          <Heading>What counts as well exposed</Heading>
          {control("contrast", "Local contrast")}
          {control("saturation", "Colour strength")}
          {control("exposedness", "Nearness to mid tone")}
        </Section>
      ) : (
        <Section>
          <Heading>Weights</Heading>
          <Soft>
            Every frame counts by its own noise; samples within {withUnit("0.15", "EV")} of the top are left out. 1.0 is diffuse white at the reference
            frame&rsquo;s exposure.
          </Soft>
        </Section>
      )}
      <Section>
        <Heading>Next</Heading>
        <RowOf>
          <PrimaryButton onPress={() => setStage("compose")}>Go to Compose</PrimaryButton>
          <Button onPress={() => setStage("finish")}>Finish</Button>
        </RowOf>
      </Section>
    </>
  );
}
