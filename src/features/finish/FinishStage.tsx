"use client";
import { sentence } from "../../messages/sentence";
import { message, type Message } from "../../messages/message";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import { invert, project } from "../../core/geometry/matrix3";
import { intersect } from "../../core/geometry/rectangle";
import { addPin, setGeometry } from "../../document/edits";
import { setFinish } from "../../document/finishEdits";
import type { Records } from "../../document/records/types";
import { documentSize, finishPinsOf, finishStepsOf, mergeOf } from "../../document/selectors";
import { turnedCoverTest, validCrop } from "../../document/validCrop";
import { outputGeometry, outputToReference } from "../../document/outputGeometry";
import type { FinishProposals } from "../../engine/operations/finish/proposals";
import { ask, edit, setStage } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Choice, PrimaryButton, TextButton } from "../../ui/components/Button";
import type { Proposal } from "../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { PictureView } from "../../view/PictureView";
import type { PictureTool } from "../../view/pictureTool";
import { ReadoutLine } from "../../view/ReadoutLine";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { useHeldKey } from "../../view/useHeldKey";
import { ViewChoices } from "../../view/ViewChoices";
import { BesideReference, MarkedPairs } from "./BesideReference";
import { CropSection } from "./CropSection";
import { PinMark } from "./PinMark";
import { RenderingSection } from "./RenderingSection";
import { StepLedger, type PinTool } from "./StepLedger";
import { ReferenceSection, referencesOf } from "./ReferenceSection";
import { StepControls } from "./StepControls";
import { showLive, useLive } from "../../session/live";

const SHOWN = ["finished", "reference", "side"] as const;
type Shown = (typeof SHOWN)[number];
const SHOWN_WORDS = { finished: "common/finished", reference: "finish/viewReference", side: "finish/viewSide" } as const;

/** Adjustments as measured controls, the look of a reference, pins, straighten and crop. */
export function FinishStage() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const merge = mergeOf(records);
  const size = documentSize(records);
  const [pinTool, setPinTool] = useState<PinTool>("none");
  const [proposals, setProposals] = useState<FinishProposals | null>(null);
  const [referenceId, setReferenceId] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("finished");
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
  return (
    <StageLayout
      ledger={<StepLedger pinTool={pinTool} setPinTool={setPinTool} />}
      bench={
        <FinishBench
          proposals={proposals}
          cropping={cropping}
          setCropping={(on) => setPinTool(on ? "crop" : "none")}
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
          views={SHOWN.filter((id) => id === "finished" || reference).map((id) => ({ id, label: sentence(SHOWN_WORDS[id]) }))}
          chosen={pinTool === "pair" ? "side" : reference ? shown : "finished"}
          onChoose={(view) => {
            setShown(view);
            if (pinTool === "pair") setPinTool("none");
          }}
        />
      }
      readout={
        <FinishedReadout
          records={records}
          cropping={cropping}
          hint={pinTool !== "none" ? TOOL_HINTS[pinTool] : flipped && reference ? sentence("finish/holdsReference") : null}
        />
      }
    >
      {reference && pinTool === "pair" ? (
        <MarkedPairs records={records} reference={reference} readOnly={readOnly} />
      ) : reference && pinTool === "none" && (shown !== "finished" || flipped) ? (
        <BesideReference records={records} reference={reference} isSide={shown === "side"} />
      ) : (
        <FinishedPicture {...{ records, cropping, readOnly, pinTool }} onDone={() => setPinTool("none")} />
      )}
    </StageLayout>
  );
}

/** The job with what a control that is dragged makes of it, or uncropped where the crop is drawn. Only the picture and its readout follow it: the panels stay as they are while the hand moves. */
function useShown(records: Records, cropping: boolean) {
  const live = useLive((s) => s.edit);
  const size = documentSize(records)!;
  const preview = useMemo(() => live?.(records) ?? records, [live, records]);
  const whole = { x: 0, y: 0, width: size.width, height: size.height };
  const shown = cropping ? wholeFrame(records, outputGeometry(records).angleDeg, whole) : preview;
  const geometry = outputGeometry(shown);
  return { shown, geometry, toReference: outputToReference(geometry, size) };
}

function FinishedReadout({ records, cropping, hint }: { records: Records; cropping: boolean; hint: string | null }) {
  const { toReference } = useShown(records, cropping);
  return <ReadoutLine records={records} toReference={toReference} extra={hint && <span>{hint}</span>} />;
}

function FinishedPicture(props: { records: Records; cropping: boolean; readOnly: boolean; pinTool: PinTool; onDone: () => void }) {
  const { records, cropping, readOnly, pinTool, onDone } = props;
  const { shown, geometry, toReference } = useShown(records, cropping);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const inForce = outputGeometry(records);
  const back = invert(toReference);
  const cropTool: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => setDrawn({ x0: x, y0: y, x1: x, y1: y }),
    move: (points) => setDrawn((d) => d && { ...d, x1: points[points.length - 1].x, y1: points[points.length - 1].y }),
    up: () => {
      if (drawn) takeDrawnCrop(records, drawn);
      setDrawn(null);
      onDone();
    },
  };
  const pinning: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => {
      const [u, v] = project(toReference, x, y);
      const purpose = pinTool === "exposure" ? "exposure" : "neutral";
      edit(addPin({ purpose, x: Math.round(u), y: Math.round(v), radius: 4, target: purpose === "exposure" ? 60 : null }), {
        stage: "finish",
        label: purpose === "neutral" ? "step.neutralPin" : "step.exposurePin",
      });
      onDone();
    },
  };
  const tool = cropping ? cropTool : pinTool === "none" || readOnly ? null : pinning;
  return (
    <PictureView
      name={sentence("finish/finishedPicture")}
      panes={[{ view: { kind: "output" }, records: shown, label: "" }]}
      arrangement="single"
      size={geometry.crop}
      tool={tool}
      overlay={({ toScreen }) => (
        <>
          {finishPinsOf(records).map((pin, i) => (
            <PinMark key={pin.id} number={i + 1} at={toScreen(...(project(back, pin.x + 0.5, pin.y + 0.5) as [number, number]))} />
          ))}
          {cropping && (
            <Frame corners={[toScreen(inForce.crop.x, inForce.crop.y), toScreen(inForce.crop.x + inForce.crop.width, inForce.crop.y + inForce.crop.height)]} />
          )}
          {cropping && drawn && <Frame corners={[toScreen(drawn.x0, drawn.y0), toScreen(drawn.x1, drawn.y1)]} />}
        </>
      )}
    />
  );
}

interface Drawn {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

const TOOL_HINTS: Record<Exclude<PinTool, "none">, string> = {
  neutral: sentence("finish/clickPlaceNeutralLight"),
  exposure: sentence("finish/clickPlaceMustHave"),
  pair: sentence("finish/clickBothPlaces"),
  crop: sentence("finish/dragCropOverWhole"),
};

const wholeFrames = new WeakMap<Records, Records>();
/** The records with the crop taken off, kept while they stay the same. */
function wholeFrame(records: Records, angleDeg: number, crop: { x: number; y: number; width: number; height: number }): Records {
  const found = wholeFrames.get(records) ?? setGeometry({ angleDeg, crop, ratio: null })(records);
  wholeFrames.set(records, found);
  return found;
}

/** Makes a drawn rectangle (turned frame px) the crop, as far as every frame covers it. */
function takeDrawnCrop(records: Records, d: Drawn): void {
  const { angleDeg } = outputGeometry(records);
  const x = Math.round(Math.min(d.x0, d.x1));
  const y = Math.round(Math.min(d.y0, d.y1));
  const wanted = { x, y, width: Math.round(Math.max(d.x0, d.x1)) - x + 1, height: Math.round(Math.max(d.y0, d.y1)) - y + 1 };
  if (wanted.width < 16 || wanted.height < 16) return;
  const covered = turnedCoverTest(records, angleDeg);
  const border = Array.from({ length: 33 }, (_, i) => i / 32).flatMap((t) => [
    [x + t * (wanted.width - 1), y],
    [x + t * (wanted.width - 1), y + wanted.height - 1],
    [x, y + t * (wanted.height - 1)],
    [x + wanted.width - 1, y + t * (wanted.height - 1)],
  ]);
  const valid = border.every(([u, v]) => covered(u, v));
  const crop = valid ? wanted : intersect(wanted, validCrop(records, angleDeg, null));
  if (crop.width >= 16 && crop.height >= 16)
    edit(setGeometry({ angleDeg, crop, ratio: null }), { stage: "finish", label: message("step.cropDrawn", { width: crop.width, height: crop.height }) });
}

/** Our double hairline between two corners. */
function Frame({ corners: [[x0, y0], [x1, y1]] }: { corners: [[number, number], [number, number]] }) {
  const box = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
  return (
    <g fill="none">
      <rect {...box} stroke="#000" strokeWidth="3" />
      <rect {...box} stroke="#fff" strokeWidth="1" />
    </g>
  );
}

function FinishBench(props: { proposals: FinishProposals | null; cropping: boolean; setCropping: (on: boolean) => void; reference: ReactNode }) {
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
      <CropSection readOnly={readOnly} records={records} onPreview={showLive}>
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
