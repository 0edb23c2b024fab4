"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { hasCell, runsOfStroke } from "../../core/masks/cellRuns";
import { controlsOf } from "../../kinds/merges/controls";
import { mergeKind, methodsFor, type MergeMethod, type MergeRecord } from "../../kinds/merges/records";
import { paintDonor } from "../../document/mergeEdits";
import { mergeRemarks } from "../../document/mergeRemarks";
import type { Records } from "../../document/records/types";
import { documentSize, workingSetOf, frameNumber, ghostsOf, mergedFramesOf, mergeOf, registrationOf } from "../../document/selectors";
import type { FoundGhosts } from "../../engine/operations/merge/findGhosts";
import { mergeAsProposed } from "../../session/actions";
import { MERGE_WORDS } from "../../kinds/merges/words";
import { edit, setStage } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button, Choice, PrimaryButton } from "../../ui/components/Button";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { sizeByKey, useBrush, usePictureKeys } from "../../view/brush";
import { BorderNotes } from "../../view/BorderNotes";
import type { Pane } from "../../view/usePanes";
import { PictureView } from "../../view/PictureView";
import type { PictureTool } from "../../view/pictureTool";
import { ReadoutLine } from "../../view/ReadoutLine";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { GhostSection, type Painting } from "./GhostSection";
import { MergeLedger } from "./MergeLedger";
import { GhostOutlines, StrokeTrace, useTrace } from "./overlays";

type Shown = "chosen" | MergeMethod | "split" | "provenance" | "depth" | "confidence" | "lifted";
/** Brightening under which remnants of what was taken out show, EV. Common practice, no source. */
const LIFT_EV = 4;
/** Cells of a place painted before anything was found, px. */
const PAINTED_CELL_PX = 4;

/** Frames become one picture: the method, what moved, what each frame gives. */
export function MergeStage() {
  const records = useSession((s) => s.records);
  const record = mergeOf(records);
  const size = documentSize(records);
  return record && size ? <Merged record={record} size={size} /> : <NotMerged />;
}

/** What can be looked at while a merge is being made. */
const coarsePane = ({ method, records }: { method: MergeMethod; records: Records }): Pane => ({
  view: mergeKind(method).looksElsewhere ? { kind: "panorama", view: null } : { kind: "coarse", method },
  records,
  label: "",
});

function NotMerged() {
  const { records, isBusy, merging, readOnly } = usePartsOf("records", "isBusy", "merging", "readOnly");
  const registration = registrationOf(records);
  const size = documentSize(records);
  const methods = methodsFor(workingSetOf(records)?.setKind ?? "separate");
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{sentence("merge/nothingMergedYet")}</Heading>
          <Soft>{sentence("merge/whatEachFrameGivesPicture")}</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>{sentence("merge/whatSuitsTheseFrames")}</Heading>
          {methods.map((m) => (
            <Soft key={m}>
              {MERGE_WORDS[m].name}: {MERGE_WORDS[m].gives}.
            </Soft>
          ))}
        </Section>
      }
    >
      {merging && size ? (
        <PictureView name={sentence("common/merge")} panes={[coarsePane(merging)]} arrangement="single" size={size} />
      ) : (
        <EmptyPicture
          title={registration ? MERGE_WORDS[methods[0]].call : sentence("common/framesNotRegisteredYet")}
          action={
            registration ? (
              <PrimaryButton isDisabled={isBusy || readOnly} onPress={() => void mergeAsProposed()}>
                {sentence(message("merge/mergeFramesCount", { count: mergedFramesOf(records).length }))}
              </PrimaryButton>
            ) : (
              <PrimaryButton onPress={() => setStage("register")}>{sentence("common/goToRegister")}</PrimaryButton>
            )
          }
        >
          {sentence("merge/noWayMergingChanges")}
        </EmptyPicture>
      )}
    </StageLayout>
  );
}

function Merged({ record, size }: { record: MergeRecord; size: { width: number; height: number } }) {
  const { records, merging, readOnly } = usePartsOf("records", "merging", "readOnly");
  const [wanted, setShown] = useState<Shown>("chosen");
  // a map that the method in force does not have
  const { Controls, maps = [], Overlay } = controlsOf(record);
  const lacking = (wanted === "confidence" || wanted === "depth") && !maps.some((m) => m.id === wanted);
  const shown = lacking ? "chosen" : wanted;
  const [chosenId, choose] = useState<string | null>(null);
  const [preview, setPreview] = useState<FoundGhosts | null>(null);
  const [outlines, setOutlines] = useState(true);
  const [painting, paint] = useState<Painting>(null);
  const brush = useDonorBrush(painting, size, choose);
  const methods = methodsFor(workingSetOf(records)?.setKind ?? "separate");
  const ghosts = ghostsOf(records);
  const remarks = mergeRemarks(records);
  const chosen = ghosts.find((g) => g.id === chosenId) ?? null;
  const pane = (method: MergeMethod): Pane => ({ view: { kind: "merge", method }, records, label: MERGE_WORDS[method].name });
  const other = methods.find((m) => m !== record.method) ?? null;
  const panes: Pane[] =
    shown === "split" && other
      ? [pane(record.method), pane(other)]
      : shown === "provenance" || shown === "depth" || shown === "confidence"
        ? [{ view: { kind: shown }, records, label: "" }]
        : shown === "lifted"
          ? [{ view: { kind: "merge", method: record.method, liftEv: LIFT_EV }, records, label: "" }]
          : shown === "chosen" && merging && merging.method !== record.method
            ? [coarsePane(merging)]
            : [pane(shown === "chosen" || shown === "split" ? record.method : shown)];
  const pick: PictureTool = {
    cursor: "crosshair",
    down: (p) => choose(ghosts.find((g) => hasCell(g.runs, Math.floor(p.x / g.cellPx), Math.floor(p.y / g.cellPx)))?.id ?? null),
  };
  const outlined = preview ? preview.regions.map((r, i) => ({ ...r, id: String(i), number: 0 })) : ghosts;
  return (
    <StageLayout
      ledger={<MergeLedger record={record} onShow={() => setShown("chosen")} />}
      bench={
        <>
          {remarks.length > 0 && (
            <Section>
              {remarks.map((r) => (
                <Card key={sentence(r)} $open>
                  {sentence(r)}
                </Card>
              ))}
            </Section>
          )}
          <GhostSection {...{ record, chosen, preview, painting }} onChoose={choose} onPreview={setPreview} onPaint={paint} />
          <Controls record={record} />
          <Section>
            <Heading>{sentence("merge/next")}</Heading>
            <BorderNotes records={records} by="picture" />
            <RowOf>
              <PrimaryButton onPress={() => setStage("compose")}>{sentence("merge/goToCompose")}</PrimaryButton>
              <Button onPress={() => setStage("finish")}>{sentence("merge/finish")}</Button>
            </RowOf>
          </Section>
        </>
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "chosen", label: sentence("common/inUse") },
            // the bar has room for one other; all are in the ledger
            ...(other
              ? [
                  { id: other, label: MERGE_WORDS[other].word },
                  { id: "split" as const, label: sentence("common/split") },
                ]
              : []),
            { id: "provenance", label: sentence("merge/sourceFrames") },
            { id: "lifted", label: `+${LIFT_EV} EV` },
            ...maps,
          ]}
          chosen={shown}
          onChoose={setShown}
        >
          {ghosts.length > 0 && (
            <Choice isSelected={outlines} onChange={setOutlines}>
              {sentence("merge/outlines")}
            </Choice>
          )}
        </ViewChoices>
      }
      readout={
        <ReadoutLine
          records={records}
          extra={
            painting && (
              <span>
                {sentence("merge/painting")}{" "}
                <b>
                  {painting.donorId
                    ? sentence(message("common/frameWithin", { number: frameNumber(records, painting.donorId) }))
                    : sentence("merge/allFramesAgain")}
                </b>
              </span>
            )
          }
        />
      }
    >
      <PictureView
        name={sentence("common/merge")}
        panes={panes}
        arrangement={panes.length > 1 ? "split" : "single"}
        size={size}
        tool={painting && !readOnly ? brush.tool : ghosts.length > 0 && shown !== "split" ? pick : null}
        overlay={({ toScreen }) => (
          <>
            {Overlay && <Overlay at={toScreen} size={size} />}
            {(outlines || preview) && <GhostOutlines ghosts={outlined} chosenId={chosen?.id ?? null} at={toScreen} />}
            <StrokeTrace diameterPx={brush.diameterPx} at={toScreen} />
          </>
        )}
      />
    </StageLayout>
  );
}

/** Painting a place from a frame: a stroke becomes a place, or a part of one, when the pen is lifted. */
function useDonorBrush(painting: Painting, size: { width: number; height: number }, onPainted: (id: string) => void) {
  const { diameterPx } = useBrush();
  const cellPx = useSession((s) => ghostsOf(s.records)[0]?.cellPx) ?? PAINTED_CELL_PX;
  usePictureKeys((event) => painting !== null && sizeByKey(event));
  const draw = (points: number[]) => useTrace.setState({ points });
  // left in the middle of it, nothing was painted
  useEffect(() => () => useTrace.setState({ points: [] }), []);
  const drawn = () => useTrace.getState().points;
  const tool: PictureTool = {
    cursor: "none",
    ring: diameterPx,
    down: (p) => draw([p.x, p.y, 1]),
    move: (list) => drawn().length > 0 && draw([...drawn(), ...list.flatMap((p) => [p.x, p.y, 1])]),
    up: () => {
      const stroke = drawn();
      draw([]);
      if (!painting || stroke.length === 0) return;
      const runs = runsOfStroke(stroke, diameterPx, cellPx, size);
      const { records } = useSession.getState();
      const label = painting.donorId ? message("step.paintedFrom", { number: frameNumber(records, painting.donorId) }) : "step.paintedMerged";
      edit(paintDonor(runs, cellPx, painting.donorId), { stage: "merge", label });
      const last = ghostsOf(useSession.getState().records).at(-1);
      if (painting.donorId && last) onPainted(last.id);
    },
  };
  return { tool, diameterPx };
}
