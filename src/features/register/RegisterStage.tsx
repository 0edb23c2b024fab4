"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { undistort } from "../../core/geometry/lens";
import { IDENTITY, project } from "../../core/geometry/matrix3";
import type { RegionShape } from "../../core/register/regions";
import type { FrameRecord, RegistrationRecord } from "../../document/records/types";
import { activeFramesOf, frameNumber, geometryOf, pinsOf, regionsOf, registrationOf, workingSetOf } from "../../document/selectors";
import type { CompareMode } from "../../engine/operations/view/compareViews";
import type { ViewSpec } from "../../engine/operations/view/ViewSpec";
import { register, takeOneFrame } from "../../session/actions";
import { setStage } from "../../session/openJob";
import { setRecord } from "../../kinds/sets/records";
import { useSession, usePartsOf } from "../../session/store";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { PictureView } from "../../view/PictureView";
import type { PictureTool } from "../../view/pictureTool";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { CommonAreaSection, keepPlace } from "./CommonAreaSection";
import { cornersOf } from "./handMoves";
import { HandSection, type HandWork } from "./HandSection";
import { Corners, CropOutline, Points, Regions, ResidualMap } from "./overlays";
import { PanoramaStage } from "./panorama/PanoramaStage";
import { PlacementBench } from "./PlacementBench";
import { PlacementLedger } from "./PlacementLedger";
import { RegionSection, type Marking } from "./RegionSection";
import { useFigures } from "./useFigures";
import { useArrowKeys, useHandTool } from "./useHandTool";
import { useMarkTool } from "./useMarkTool";
import { useKeyName } from "../../view/keys";
import { useHeldKey } from "../../view/useHeldKey";

type Shown = CompareMode | "reference" | "residual";
const LABELS: { id: Shown; label: string }[] = [
  { id: "reference", label: sentence("register/referenceView") },
  { id: "difference", label: sentence("register/difference") },
  { id: "edges", label: sentence("common/edges") },
  { id: "checker", label: sentence("register/checker") },
  { id: "residual", label: sentence("register/residual") },
];
const LEGENDS: Partial<Record<Shown, string>> = {
  difference: sentence("register/blackWhereFramesAgree"),
  edges: sentence("register/outlinesReferenceDarkFrame"),
  checker: sentence("register/squaresFrameReferenceTurn"),
  residual: sentence("register/errorOfOnePx"),
};

/** How far the frames were apart, what is left, what has to line up, and the crop that holds no empty pixel. */
export function RegisterStage() {
  const records = useSession((s) => s.records);
  const registration = registrationOf(records);
  const frames = activeFramesOf(records);
  if (setRecord(workingSetOf(records)?.setKind ?? "separate").looksElsewhere) return <PanoramaStage />;
  const reference = frames.find((f) => f.id === registration?.referenceId);
  return registration && reference ? (
    <Registered key={registration.setId} registration={registration} frames={frames} reference={reference} />
  ) : (
    <Unregistered frames={frames.length} />
  );
}

function Unregistered({ frames }: { frames: number }) {
  const { isBusy, readOnly } = usePartsOf("isBusy", "readOnly");
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{sentence(message("register/framesToRegister", { frames }))}</Heading>
          <Soft>{sentence("register/shiftTurnScaleWhat")}</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>{sentence("register/howItWorks")}</Heading>
          <Soft>{sentence("register/framesNearExposureNeighbours")}</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={sentence(frames === 0 ? "register/noFrames" : frames === 1 ? "register/oneFrame" : "common/framesNotRegisteredYet")}
        action={
          frames === 1 ? (
            <PrimaryButton isDisabled={isBusy || readOnly} onPress={() => void takeOneFrame()}>
              {sentence("register/useAsPicture")}
            </PrimaryButton>
          ) : frames === 0 ? (
            <PrimaryButton onPress={() => setStage("gather")}>{sentence("common/goToGather")}</PrimaryButton>
          ) : (
            <PrimaryButton isDisabled={isBusy || readOnly} onPress={() => void register()}>
              {sentence(message("register/registerFramesFrames", { frames }))}
            </PrimaryButton>
          )
        }
      >
        {sentence(frames === 1 ? "register/oneFrameIsPicture" : "register/evenTripodMovesMarsh")}
      </EmptyPicture>
    </StageLayout>
  );
}

function Registered({ registration, frames, reference }: { registration: RegistrationRecord; frames: FrameRecord[]; reference: FrameRecord }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const [chosenId, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("frame");
  const [held, setHeld] = useState(false);
  const [hand, setHand] = useState<HandWork | null>(null);
  const [marking, setMarking] = useState<Marking | null>(null);
  const [keeping, setKeeping] = useState(false);
  const [draft, setDraft] = useState<RegionShape | null>(null);
  const candidates = registration.placements.filter((p) => p.frameId !== registration.referenceId);
  const chosen = registration.placements.find((p) => p.frameId === chosenId) ?? candidates[0] ?? registration.placements[0];
  const frame = frames.find((f) => f.id === chosen.frameId) ?? reference;
  const isReference = frame.id === reference.id;
  const work = hand?.frameId === frame.id ? hand : null;
  const figures = useFigures(records, frame.id, work?.placing ?? null);
  const regions = regionsOf(records);
  const placing = work?.placing ?? { matrix: chosen.matrix ?? IDENTITY, lens: chosen.lens };
  const comparable = !isReference && (chosen.registered || work !== null);
  const points = work?.tool === "points" ? work : null;

  const key = useKeyName("compare");
  useHeldKey("compare", setHeld);
  useArrowKeys(work, setHand);
  useEffect(() => {
    const onEscape = (e: KeyboardEvent) => {
      if (e.key !== "Escape") return;
      setMarking(null);
      setKeeping(false);
      setDraft(null);
    };
    window.addEventListener("keydown", onEscape);
    return () => window.removeEventListener("keydown", onEscape);
  }, []);

  const mode: CompareMode = shown === "reference" || shown === "residual" ? "frame" : shown;
  const referenceView: ViewSpec = { kind: "source", frameId: reference.id };
  const frameView: ViewSpec = { kind: "placing", frameId: frame.id, referenceId: reference.id, placing, mode };
  const view = held || shown === "reference" || !comparable ? referenceView : frameView;
  const markTool = useMarkTool(marking, reference, draft, setDraft, setMarking);
  const handTool = useHandTool(work, frame, reference, setHand);
  const keepTool: PictureTool | null = keeping ? { cursor: "crosshair", down: (p) => (keepPlace(p.x, p.y), setKeeping(false)) } : null;
  const begin = () => setHand({ frameId: frame.id, tool: chosen.registered ? "move" : "points", placing, points: chosen.points });
  const choose = (id: string) => (setChosen(id), setHand(null));
  const places = (pane: 0 | 1) =>
    (points?.points ?? []).map(([x, y, u, v], i) => {
      if (pane === 0) return { x, y, label: String(i + 1) };
      const [px, py] = project(placing.matrix, ...undistort(placing.lens, frame, u, v));
      return { x: px, y: py, label: String(i + 1) };
    });
  return (
    <StageLayout
      ledger={<PlacementLedger frames={frames} registration={registration} chosen={chosen} onChoose={choose} />}
      bench={
        work ? (
          <HandSection
            work={work}
            number={frameNumber(records, frame.id)}
            frame={frame}
            reference={reference}
            figures={figures}
            regions={regions}
            busy={isBusy || readOnly}
            onWork={setHand}
          />
        ) : (
          <>
            <PlacementBench registration={registration} chosen={chosen} onHand={begin} />
            <RegionSection
              regions={regions}
              marking={marking}
              placement={chosen}
              isDisabled={isBusy || readOnly}
              onMark={setMarking}
              onRegister={() => void register(registration.referenceId)}
            />
            <CommonAreaSection
              records={records}
              registration={registration}
              reference={reference}
              readOnly={readOnly}
              keeping={keeping}
              onKeeping={setKeeping}
            />
            <Section>
              <RowOf style={{ marginTop: 0 }}>
                <PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>
                <Button isDisabled={isBusy || readOnly} onPress={() => void register(registration.referenceId)}>
                  {sentence("register/registerAgain")}
                </Button>
              </RowOf>
            </Section>
          </>
        )
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "frame", label: sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) })) },
            ...LABELS.map((l) => ({ ...l, isDisabled: !comparable && l.id !== "reference" })),
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={
        <Legend
          text={
            marking
              ? markHint(marking)
              : points
                ? sentence("register/samePlaceCarriesSame")
                : (LEGENDS[shown] ?? (key === null ? "" : sentence(message("register/holdKeySeeReference", { key }))))
          }
        />
      }
    >
      <PictureView
        name={shown === "difference" ? sentence("register/differenceInEv") : sentence("register/registeredFrame")}
        panes={
          points
            ? [
                { view: referenceView, records, label: sentence("register/referenceView") },
                { view: { ...frameView, mode: "frame" }, records, label: sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) })) },
              ]
            : [{ view, records, label: "" }]
        }
        arrangement={points ? "side" : "single"}
        size={reference}
        tool={markTool ?? keepTool ?? handTool}
        overlay={({ toScreen: at, scale, pane }) => (
          <>
            {!work && <CropOutline at={at} crop={geometryOf(records)?.crop ?? registration.proposedCrop} />}
            {!work && pinsOf(records).some((p) => p.purpose === "stay") && (
              <Points
                at={at}
                places={pinsOf(records)
                  .filter((p) => p.purpose === "stay")
                  .map((p, i) => ({ x: p.x, y: p.y, label: sentence(message("register/stays", { value: i + 1 })) }))}
              />
            )}
            <Regions at={at} scale={scale} regions={regions} draft={draft} />
            {work?.tool === "corners" && <Corners at={at} corners={cornersOf(placing.matrix, frame)} />}
            {points && <Points at={at} places={places(pane)} />}
            {shown === "residual" && comparable && (
              <ResidualMap at={at} shifts={work ? (figures?.shifts ?? []).map((s) => [s.x, s.y, s.dx, s.dy, s.correlation]) : chosen.shifts} />
            )}
          </>
        )}
      />
    </StageLayout>
  );
}

function Legend({ text }: { text: string }) {
  return <Soft style={{ padding: "6px 12px", minHeight: 30 }}>{text}</Soft>;
}

function markHint(m: Marking): string {
  const what = m.purpose === "lineUp" ? sentence("register/whatHasLineUpWithin") : sentence("register/whatMustNotCount");
  return m.with === "box" ? sentence(message("register/drawBoxAroundEscape", { what })) : sentence(message("register/paintOverEscapeEnds", { what }));
}
