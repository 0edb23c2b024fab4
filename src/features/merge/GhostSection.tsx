"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { countCells, runRectangle } from "../../core/masks/cellRuns";
import { removeRecord } from "../../document/edits";
import { chooseDonor } from "../../document/mergeEdits";
import type { GhostRecord } from "../../document/records/types";
import { mergeKind, type MergeRecord } from "../../kinds/merges/records";
import { frameNumber, ghostsOf, mergedFramesOf, mergeOf } from "../../document/selectors";
import type { FoundGhosts } from "../../engine/operations/merge/findGhosts";
import { merge } from "../../session/actions";
import { ask, edit } from "../../session/openJob";
import { report, useSession, usePartsOf } from "../../session/store";
import { Button, Choice, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Card, Figure, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { percent, pixels, plain } from "../../ui/format";
import { BrushSize } from "../../view/BrushSize";
import { isCancelled } from "../../workers/client/EngineClient";
import { jumpTo } from "../../view/viewState";
import { PatchStrip } from "./PatchStrip";

/** What a stroke on the picture takes: a frame, the merge again, or nothing while nobody paints. */
export type Painting = { donorId: string | null } | null;

interface Props {
  record: MergeRecord;
  chosen: GhostRecord | null;
  onChoose: (id: string) => void;
  /** what a threshold that is being moved would find */
  onPreview: (found: FoundGhosts | null) => void;
  preview: FoundGhosts | null;
  painting: Painting;
  onPaint: (painting: Painting) => void;
}

/** Where frames differ, which frame is taken there, and painting a frame by hand. */
export function GhostSection({ record, chosen, onChoose, onPreview, preview, painting, onPaint }: Props) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const disabled = isBusy || readOnly;
  const ghosts = ghostsOf(records);
  // frames that look elsewhere differ everywhere
  const byHand = mergeKind(record.method).looksElsewhere;
  return (
    <>
      <Section>
        <Heading>{byHand ? sentence("merge/paintedByHand") : sentence(message("merge/placesMovedCount", { count: ghosts.length }))}</Heading>
        {!byHand && <Threshold record={record} preview={preview} onPreview={onPreview} isDisabled={disabled} />}
        {!byHand && <Base record={record} isDisabled={disabled} />}
      </Section>
      {ghosts.length > 0 && <Places ghosts={ghosts} chosen={chosen} onChoose={onChoose} />}
      {chosen && <Place key={chosen.id} ghost={chosen} isDisabled={disabled} />}
      <Section>
        <Paint painting={painting} onPaint={onPaint} isDisabled={disabled} />
      </Section>
    </>
  );
}

function Threshold(props: { record: MergeRecord; preview: FoundGhosts | null; onPreview: Props["onPreview"]; isDisabled: boolean }) {
  const { record, preview, onPreview, isDisabled } = props;
  const records = useSession((s) => s.records);
  const [asked, setAsked] = useState<number | null>(null);
  useEffect(() => {
    if (asked === null) return;
    const controller = new AbortController();
    ask("findGhosts", { records, threshold: asked }, { signal: controller.signal }).then(
      (found) => !controller.signal.aborted && onPreview(found),
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
  }, [asked, records, onPreview]);
  const places =
    preview && (preview.tooMuch ? sentence("merge/framesDifferNearlyEverywhere") : sentence(message("merge/places", { count: preview.regions.length })));
  return (
    <>
      <MeasuredControl
        name={sentence("merge/threshold")}
        unit={sentence("merge/timesNoise")}
        value={record.ghostThreshold}
        neutral={6}
        min={2}
        max={30}
        step={0.5}
        digits={1}
        isDisabled={isDisabled}
        onPreview={setAsked}
        onChange={(v) => {
          setAsked(null);
          onPreview(null);
          void merge(record.method, { ghostThreshold: v }, message("step.movedFrom", { times: v }));
        }}
      />
      <Soft aria-live="polite">
        {preview && places
          ? sentence(message("merge/ofThePicture", { places, share: percent(preview.share) }))
          : mergeKind(record.method).followsFocus
            ? sentence("merge/framesComparedEqualExposure")
            : sentence("merge/framesComparedEqualExposureAgainst")}
      </Soft>
    </>
  );
}

function Base({ record, isDisabled }: { record: MergeRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const options = mergedFramesOf(records).map(({ frame }) => ({
    id: frame.id,
    label: sentence(message("common/frameWithin", { number: frameNumber(records, frame.id) })),
  }));
  const isBase = mergeKind(record.method).takesNothingUnasked;
  return (
    <Select
      label={isBase ? sentence("merge/base") : sentence("merge/movingThingsFrom")}
      chosen={record.baseId ?? ""}
      items={[{ id: "", label: isBase ? sentence("merge/theReference") : sentence("merge/bestFrameEachPlace") }, ...options]}
      isDisabled={isDisabled}
      onChoose={(id) => void merge(record.method, { baseId: id || null }, id ? message("step.base", { number: frameNumber(records, id) }) : "step.noBase")}
    />
  );
}

function Places({ ghosts, chosen, onChoose }: { ghosts: GhostRecord[]; chosen: GhostRecord | null; onChoose: (id: string) => void }) {
  const records = useSession((s) => s.records);
  const method = mergeOf(records)?.method ?? "radiance";
  const whole = mergeKind(method).takesNothingUnasked ? sentence("common/theBase") : "all";
  return (
    <Ledger
      label={sentence("merge/placesThatMoved")}
      heads={[sentence("common/place"), sentence("merge/differsBy"), sentence("merge/takenFrom")]}
      rows={ghosts.map((g) => ({ id: g.id }))}
      chosen={chosen?.id ?? null}
      onChoose={onChoose}
    >
      {ghosts.map((g) => {
        const { width, height } = runRectangle(g.runs, g.cellPx);
        return (
          <LedgerRow key={g.id} id={g.id}>
            <LedgerCell>
              <Figure value={String(g.number)} word={`${width}×${height} px`} />
            </LedgerCell>
            <LedgerCell>
              <Figure
                value={g.by === "hand" ? sentence("merge/painted") : `${plain(g.strength, 0)}×`}
                word={g.by === "hand" ? "" : sentence("common/noiseWithin")}
              />
            </LedgerCell>
            <LedgerCell>
              <Figure
                value={g.donorId ? sentence(message("common/frameWithin", { number: frameNumber(records, g.donorId) })) : whole}
                word={
                  g.chosen
                    ? sentence("merge/chosen")
                    : g.donorId
                      ? sentence("merge/asProposed")
                      : !mergeKind(method).smearsMotion && !mergeKind(method).takesNothingUnasked
                        ? sentence("merge/asMerged")
                        : sentence("merge/undecided")
                }
              />
            </LedgerCell>
          </LedgerRow>
        );
      })}
    </Ledger>
  );
}

/** One place: the same patch from every frame, to be compared and taken with a click. */
function Place({ ghost, isDisabled }: { ghost: GhostRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const rectangle = runRectangle(ghost.runs, ghost.cellPx);
  const take = (donorId: string | null) =>
    edit(chooseDonor(ghost.id, donorId), {
      stage: "merge",
      label: donorId
        ? message("step.placeFrom", { number: ghost.number, frame: frameNumber(records, donorId) })
        : message("step.placeMerged", { number: ghost.number }),
    });
  return (
    <Section>
      <Heading>{sentence(message("common/placeNumber", { number: ghost.number }))}</Heading>
      <PatchStrip ghost={ghost} rectangle={rectangle} isDisabled={isDisabled} onTake={take} />
      <Card $open>
        {sentence(ghost.reason)} <TextButton onPress={() => jumpTo(rectangle)}>{sentence("common/showOneToOne")}</TextButton>
      </Card>
      <Soft>
        {sentence(message("merge/px", { pixels: pixels(countCells(ghost.runs) * ghost.cellPx ** 2) }))}{" "}
        <TextButton
          isDisabled={isDisabled}
          onPress={() => edit(removeRecord(ghost.id), { stage: "merge", label: message("step.placeIgnored", { number: ghost.number }) })}
        >
          {sentence("merge/ignoreThisPlace")}
        </TextButton>
      </Soft>
    </Section>
  );
}

function Paint({ painting, onPaint, isDisabled }: { painting: Painting; onPaint: (p: Painting) => void; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const frames = mergedFramesOf(records);
  return (
    <>
      <Heading>{sentence("merge/paintPlaceFrom")}</Heading>
      <RowOf role="group" aria-label={sentence("merge/paintPlaceFrom")}>
        {frames.map(({ frame }) => (
          <Choice
            key={frame.id}
            isSelected={painting?.donorId === frame.id}
            isDisabled={isDisabled}
            onChange={(on) => onPaint(on ? { donorId: frame.id } : null)}
            aria-label={sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) }))}
          >
            {frameNumber(records, frame.id)}
          </Choice>
        ))}
        <Choice isSelected={painting !== null && painting.donorId === null} isDisabled={isDisabled} onChange={(on) => onPaint(on ? { donorId: null } : null)}>
          {sentence("merge/asMergedChoice")}
        </Choice>
      </RowOf>
      {painting && (
        <>
          <BrushSize name={sentence("merge/brushSize")} />
          <RowOf>
            <Button onPress={() => onPaint(null)}>{sentence("merge/donePainting")}</Button>
          </RowOf>
        </>
      )}
      <Soft>{sentence("merge/borderJoinedBandBy")}</Soft>
    </>
  );
}
