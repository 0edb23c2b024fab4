"use client";
import { sentence } from "../../messages/sentence";
import { message, type Message } from "../../messages/message";
import { useEffect, useState, type ReactNode } from "react";
import { setFinish } from "../../document/finishEdits";
import { pathTo } from "../../document/history";
import type { FrameRecord } from "../../document/records/types";
import { documentSize, finishStepsOf, mergeOf } from "../../document/selectors";
import type { FinishProposals } from "../../engine/operations/finish/proposals";
import { ask, edit, setStage } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Choice, PrimaryButton, TextButton } from "../../ui/components/Button";
import type { Proposal } from "../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { useHeldKey } from "../../view/useHeldKey";
import { ViewChoices } from "../../view/ViewChoices";
import { BesideReference, MarkedPairs } from "./BesideReference";
import { CropSection } from "./CropSection";
import { FinishedPicture, FinishedReadout, type Shown } from "./FinishedPicture";
import { RenderingSection } from "./RenderingSection";
import { StepLedger, type PinTool } from "./StepLedger";
import { ReferenceSection, referencesOf } from "./ReferenceSection";
import { StepControls } from "./StepControls";
import { showLive } from "../../session/live";

const SHOWN: Shown[] = ["finished", "other", "split", "side"];

/** What the picture is compared with: see `comparedPane`, or another picture whose look is wanted. */
const REFERENCE = "reference";

/** Adjustments as measured controls, the look of a reference, pins, straighten and crop. */
export function FinishStage() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const merge = mergeOf(records);
  const size = documentSize(records);
  const [pinTool, setPinTool] = useState<PinTool>("none");
  const [proposals, setProposals] = useState<FinishProposals | null>(null);
  const [referenceId, setReferenceId] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("finished");
  const [chosenAgainst, setAgainst] = useState<string | null>(null);
  const [flipped, setFlipped] = useState(false);
  useHeldKey("compare", setFlipped);
  useEffect(() => {
    if (!merge) return;
    let current = true;
    ask("proposeFinish", { records }).then(
      (p) => current && setProposals(p),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [records, merge]);
  if (!merge || !size) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>{sentence("finish/noSteps")}</Heading>
          </Section>
        }
        bench={
          <Section>
            <Soft>{sentence("finish/finishingWorksOnMerge")}</Soft>
          </Section>
        }
      >
        <EmptyPicture
          title={sentence("finish/thereNoMergeFinish")}
          action={<PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>}
        >
          {sentence("finish/exposureWhiteBalanceContrast")}
        </EmptyPicture>
      </StageLayout>
    );
  }
  const cropping = pinTool === "crop" && !readOnly;
  const references = referencesOf(records);
  const reference = references.find((f) => f.id === referenceId) ?? references[0] ?? null;
  const against = chosenAgainst ?? (reference ? REFERENCE : "unfinished");
  const isReference = reference !== null && (against === REFERENCE || pinTool === "pair");
  // two pictures of two sizes cannot be split
  const seen = isReference && shown === "split" ? "side" : shown;
  return (
    <StageLayout
      ledger={<StepLedger pinTool={pinTool} setPinTool={setPinTool} />}
      bench={
        <FinishBench
          proposals={proposals}
          cropping={cropping}
          setCropping={(on) => setPinTool(on ? "crop" : "none")}
          drawingLine={pinTool === "line"}
          setDrawingLine={(on) => setPinTool(on ? "line" : "none")}
          reference={
            <ReferenceSection
              referenceId={referenceId}
              onChoose={setReferenceId}
              isMarking={pinTool === "pair"}
              onMark={(on) => setPinTool(on ? "pair" : "none")}
            />
          }
        />
      }
      bar={
        <ViewChoices<Shown>
          views={SHOWN.filter((id) => id !== "split" || !isReference).map((id) => ({
            id,
            label:
              id === "finished"
                ? sentence("common/finished")
                : id === "other"
                  ? sentence(isReference ? "finish/viewReference" : "finish/viewBefore")
                  : sentence(id === "split" ? "common/split" : "finish/viewSide"),
          }))}
          chosen={pinTool === "pair" ? "side" : seen}
          onChoose={(view) => {
            setShown(view);
            if (pinTool === "pair") setPinTool("none");
          }}
        >
          <Against reference={reference} chosen={against} onChoose={setAgainst} />
        </ViewChoices>
      }
      readout={
        <FinishedReadout
          records={records}
          cropping={cropping}
          hint={pinTool !== "none" ? TOOL_HINTS[pinTool] : flipped && isReference ? sentence("finish/holdsReference") : null}
        />
      }
    >
      {reference && pinTool === "pair" ? (
        <MarkedPairs records={records} reference={reference} readOnly={readOnly} />
      ) : isReference && pinTool === "none" && (seen !== "finished" || flipped) ? (
        <BesideReference records={records} reference={reference} isSide={seen === "side"} />
      ) : (
        <FinishedPicture
          {...{ records, cropping, readOnly, pinTool }}
          shown={pinTool !== "none" || isReference ? "finished" : flipped ? "other" : seen}
          against={against}
          onDone={() => setPinTool("none")}
        />
      )}
    </StageLayout>
  );
}

/** What the picture is compared with. */
function Against({ reference, chosen, onChoose }: { reference: FrameRecord | null; chosen: string; onChoose: (id: string) => void }) {
  const { records, history } = usePartsOf("records", "history");
  const steps = finishStepsOf(records).filter((l) => l.visible);
  const earlier = pathTo(history, history.head).filter((s) => s.id !== history.head && COMPARED_STAGES.includes(s.stage));
  const items = [
    ...(reference ? [{ id: REFERENCE, label: sentence("finish/viewReference") }] : []),
    { id: "unfinished", label: sentence("finish/asMerged") },
    { id: "merge", label: sentence("common/theMerge") },
    ...steps.map(({ id, name }) => ({ id, label: sentence(message("view/withoutLayer", { name })) })),
    ...earlier.map((s, i) => ({ id: s.id, label: `${i + 1}. ${sentence(s.label)}` })),
  ];
  const known = items.some((i) => i.id === chosen) ? chosen : "unfinished";
  return <Select label={sentence("finish/against")} inline items={items} chosen={known} onChoose={onChoose} />;
}

const COMPARED_STAGES = ["compose", "finish", "proof"];

const TOOL_HINTS: Record<Exclude<PinTool, "none">, string> = {
  neutral: sentence("finish/clickPlaceNeutralLight"),
  exposure: sentence("finish/clickPlaceMustHave"),
  pair: sentence("finish/clickBothPlaces"),
  line: sentence("finish/dragLine"),
  crop: sentence("finish/dragCropOverWhole"),
};

function FinishBench(props: {
  proposals: FinishProposals | null;
  cropping: boolean;
  setCropping: (on: boolean) => void;
  drawingLine: boolean;
  setDrawingLine: (on: boolean) => void;
  reference: ReactNode;
}) {
  const { proposals } = props;
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const wb = proposals?.whiteBalance;
  const proposed = (value: number | undefined, reason: Message | undefined, digits: number): Proposal | undefined =>
    value === undefined || reason === undefined ? undefined : { value: Math.round(value * 10 ** digits) / 10 ** digits, reason: sentence(reason) };
  return (
    <>
      <RenderingSection isBegun={finishStepsOf(records).some(({ content }) => content.type === "adjustment" && content.adjustment !== "toneResponse")} />
      {mergeOf(records)?.method === "radiance" && (
        <Section>
          <Heading>{sentence("common/toneResponse")}</Heading>
          <StepControls step="toneResponse" proposals={{ headroomEv: proposed(proposals?.headroom?.ev, proposals?.headroom?.reason, 1) }} />
          <Heading style={{ marginTop: 10 }}>{sentence("finish/local")}</Heading>
          <StepControls step="localTone" />
        </Section>
      )}
      <Section>
        <Heading>{sentence("common/colour")}</Heading>
        <StepControls step="whiteBalance" proposals={{ mired: proposed(wb?.mired, wb?.reason, 1), duv: proposed(wb?.duv, wb?.reason, 4) }} />
        {wb && (
          <RowOf>
            <TextButton
              isDisabled={readOnly}
              onPress={() => edit(setFinish("whiteBalance", { mired: wb.mired, duv: wb.duv }), { stage: "finish", label: "step.fromNeutralPin" })}
            >
              {sentence("finish/takeBothFromPin")}
            </TextButton>
          </RowOf>
        )}
        <StepControls step="chroma" />
      </Section>
      <Section>
        <Heading>{sentence("finish/levelAndContrast")}</Heading>
        <StepControls step="exposure" proposals={{ ev: proposed(proposals?.exposure?.ev, proposals?.exposure?.reason, 2) }} />
        <StepControls step="contrast" />
      </Section>
      {props.reference}
      <CropSection readOnly={readOnly} records={records} onPreview={showLive} isDrawingLine={props.drawingLine} onDrawLine={props.setDrawingLine}>
        <Choice isSelected={props.cropping} isDisabled={readOnly} onChange={props.setCropping}>
          {sentence("finish/draw")}
        </Choice>
      </CropSection>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton onPress={() => setStage("proof")}>{sentence("finish/goToProof")}</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}
