"use client";
import { useState } from "react";
import { GRID } from "../../core/measure/frameGrid";
import { focusLeaders } from "../../core/measure/sets/verifySet";
import { MERGE_NAMES, MERGE_PURPOSES, methodsFor, type MergeMethod } from "../../core/merge/mergeMethods";
import { gatheredFrame } from "../../document/sets";
import type { MergeRecord } from "../../document/records/types";
import { workingSetOf, framesOf, frameNumber, mergedFramesOf, mergeOf, registrationOf } from "../../document/selectors";
import { FRAME_COLORS } from "../../core/color/frameColors";
import { merge, mergeAsProposed } from "../../session/actions";
import { setStage, useSession } from "../../session/session";
import { Button, PrimaryButton, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Facts, Figure, Heading, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, plain, withUnit } from "../../ui/format";
import { PictureView, type Pane } from "../../view/PictureView";
import { ReadoutLine } from "../../view/ReadoutLine";
import { rowKeys } from "../../view/rowKeys";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { jumpTo } from "../../view/viewState";

type Shown = "chosen" | MergeMethod | "split" | "provenance" | "depth";

/** Two results from the same frames; the person compares and picks. */
export function MergeStage() {
  const { records, busy, readOnly } = useSession();
  const [shown, setShown] = useState<Shown>("chosen");
  const [at, setAt] = useState<[number, number] | null>(null);
  const record = mergeOf(records);
  const registration = registrationOf(records);
  const reference = framesOf(records).find((f) => f.id === registration?.referenceId);
  const methods = methodsFor(workingSetOf(records)?.setKind ?? "separate");
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
            <Heading>What suits these frames</Heading>
            {methods.map((m) => (
              <Soft key={m}>
                {MERGE_NAMES[m]}: {MERGE_PURPOSES[m]}.
              </Soft>
            ))}
          </Section>
        }
      >
        <EmptyPicture
          title={registration ? MERGE_CALLS[methods[0]] : "The frames are not registered yet"}
          action={
            registration ? (
              <PrimaryButton isDisabled={busy !== null || readOnly} onPress={() => void mergeAsProposed()}>
                Merge {mergedFramesOf(records).length} frames
              </PrimaryButton>
            ) : (
              <PrimaryButton onPress={() => setStage("register")}>Go to Register</PrimaryButton>
            )
          }
        >
          No way of merging changes the frames. You can go back and take another at any time.
        </EmptyPicture>
      </StageLayout>
    );
  }
  const pane = (method: MergeMethod): Pane => ({ view: { kind: "merge", method }, records, label: MERGE_NAMES[method] });
  const other = methods.find((m) => m !== record.method) ?? "fusion";
  const panes: Pane[] =
    shown === "split"
      ? [pane(record.method), pane(other)]
      : shown === "provenance" || shown === "depth"
        ? [{ view: { kind: shown }, records, label: "" }]
        : [pane(shown === "chosen" ? record.method : shown)];
  return (
    <StageLayout
      ledger={<MergeLedger record={record} onShow={setShown} />}
      bench={<MergeBench record={record} />}
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "chosen", label: "In force" },
            ...methods.filter((m) => m !== record.method).map((m) => ({ id: m, label: MERGE_NAMES[m] })),
            { id: "split", label: "Split" },
            { id: "provenance", label: "Provenance" },
            ...(record.method === "focus" ? [{ id: "depth" as const, label: "Depth" }] : []),
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
        overlay={(toScreen) => (
          <>
            {record.method === "focus" && <FocusGaps at={toScreen} size={reference} />}
            {record.motion.map((m, i) => {
              const [x0, y0] = toScreen(m.rectangle.x, m.rectangle.y);
              const [x1, y1] = toScreen(m.rectangle.x + m.rectangle.width, m.rectangle.y + m.rectangle.height);
              return (
                <g key={i} fill="none">
                  <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#000" strokeWidth="3" />
                  <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke="#fff" strokeWidth="1" />
                </g>
              );
            })}
          </>
        )}
      />
    </StageLayout>
  );
}

function MergeLedger({ record, onShow }: { record: MergeRecord; onShow: (s: Shown) => void }) {
  const { records, busy, readOnly } = useSession();
  const frames = mergedFramesOf(records);
  const suiting = methodsFor(workingSetOf(records)?.setKind ?? "separate");
  const methods = suiting.includes(record.method) ? suiting : [record.method, ...suiting];
  const choose = (method: MergeMethod) => {
    if (method !== record.method && !busy && !readOnly) void merge(method);
    onShow("chosen");
  };
  return (
    <>
      <Section>
        <Heading>{MERGE_NAMES[record.method]} in force</Heading>
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
              onKeyDown={rowKeys([...methods], m, (id) => choose(id as MergeMethod))}
            >
              <td>
                <Figure value={MERGE_NAMES[m]} word={MERGE_PURPOSES[m]} />
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
          <Soft>Where the merge shows both, lay one frame over the place in Compose.</Soft>
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
        <MethodSection record={record} />
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

/** What to know of the method in force, in figures. */
function MethodSection({ record }: { record: MergeRecord }) {
  const records = useSession((s) => s.records);
  if (record.method === "radiance") {
    return (
      <Section>
        <Heading>Weights</Heading>
        <Soft>
          Every frame counts by its own noise; samples within {withUnit("0.15", "EV")} of the top are left out. 1.0 is diffuse white at the reference
          frame&rsquo;s exposure.
        </Soft>
      </Section>
    );
  }
  if (record.noiseGain) {
    const { measured, ideal } = record.noiseGain;
    return (
      <Section>
        <Heading>Noise</Heading>
        <Facts>
          <dt>Lower by a factor of</dt>
          <dd>{plain(measured, 2)}</dd>
          <dt>√N at best</dt>
          <dd>{plain(ideal, 2)}</dd>
        </Facts>
        <Soft>Measured in the flattest areas, the reference frame against the merge.</Soft>
      </Section>
    );
  }
  const frames = mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame));
  const leaders = focusLeaders(frames);
  const gaps = leaders.filter((l) => !l.sharp && l.number !== null);
  const nearest = [...new Set(gaps.map((l) => l.number))];
  return (
    <Section>
      <Heading>Where it is sharp</Heading>
      {gaps.length === 0 ? (
        <Soft>Every part with structure is sharp in one of the frames.</Soft>
      ) : (
        <Card $open>
          In {percent(gaps.length / leaders.length)} of the picture no frame is sharp; nearest {nearest.length === 1 ? "is frame" : "are frames"}{" "}
          {nearest.join(", ")}. The places are outlined.
        </Card>
      )}
      <Soft>Depth shows how far along the stack each place is sharp: dark the first frame, light the last; hatched where nothing stands out.</Soft>
      <Soft>Where an edge wants another frame, paint it from that frame in Compose.</Soft>
    </Section>
  );
}

/** Cells that no frame of a focus stack shows sharp. */
function FocusGaps({ at, size }: { at: (x: number, y: number) => [number, number]; size: { width: number; height: number } }) {
  const records = useSession((s) => s.records);
  const leaders = focusLeaders(mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame)));
  return leaders.map((l, i) => {
    if (l.sharp || l.number === null) return null;
    const [c, r] = [i % GRID.columns, Math.floor(i / GRID.columns)];
    const [x0, y0] = at((c * size.width) / GRID.columns, (r * size.height) / GRID.rows);
    const [x1, y1] = at(((c + 1) * size.width) / GRID.columns, ((r + 1) * size.height) / GRID.rows);
    return (
      <g key={i} fill="none">
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#000" strokeWidth="3" />
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#fff" strokeWidth="1" />
      </g>
    );
  });
}

const MERGE_CALLS: Record<MergeMethod, string> = {
  radiance: "Merge the frames both ways and compare",
  fusion: "Fuse the frames",
  focus: "Merge what is sharp in each frame",
  clippedMean: "Average the frames",
  mean: "Average the frames",
  median: "Take the median of the frames",
};
