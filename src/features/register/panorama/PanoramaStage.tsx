"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useMemo, useState } from "react";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { RegistrationRecord } from "../../../document/records/types";
import { activeFramesOf, frameNumber, geometryOf, levelLinesOf, panoramaFramesOf, panoramaOf, pinsOf, registrationOf } from "../../../document/selectors";
import { viewMap } from "../../../core/panorama/layout";
import type { LevelLine } from "../../../core/panorama/level";
import { addLevel, registerPanorama } from "../../../session/panorama";
import { setStage } from "../../../session/openJob";
import { useSession, usePartsOf } from "../../../session/store";
import { Button, PrimaryButton } from "../../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { PictureView } from "../../../view/PictureView";
import type { PictureTool } from "../../../view/pictureTool";
import { EmptyPicture, StageLayout } from "../../../view/StageLayout";
import { ViewChoices } from "../../../view/ViewChoices";
import { keepPlace } from "../CommonAreaSection";
import { CropOutline, Points } from "../overlays";
import { AreaSection } from "./AreaSection";
import { FocalField, LensSection } from "./LensSection";
import { LevelSection } from "./LevelSection";
import { FrameOutlines, LevelLines, MisfitPlaces } from "./panoramaOverlays";
import { PointsBench } from "./PointsBench";
import { ProjectionSection } from "./ProjectionSection";
import { ProjectionSheet } from "./ProjectionSheet";
import { TurnLedger } from "./TurnLedger";

/** How the camera was turned for each frame, how the picture lies and what of it is kept. */
export function PanoramaStage() {
  const records = useSession((s) => s.records);
  const [panorama, registration] = [panoramaOf(records), registrationOf(records)];
  return panorama && registration ? <Laid key={panorama.setId} panorama={panorama} registration={registration} /> : <NotLaid />;
}

function NotLaid() {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const frames = activeFramesOf(records).length;
  const [focalPx, setFocal] = useState<number | null>(null);
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{sentence(message("register/framesLayOut", { frames }))}</Heading>
          <Soft>{sentence("register/whereEachFrameLooks")}</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>{sentence("register/whatKnownLens")}</Heading>
          <FocalField value={focalPx} isDisabled={readOnly} onChange={setFocal} />
          <Soft>{sentence("register/leftEmptyFocalLength")}</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={frames < 2 ? sentence("register/panoramaNeedsLeastTwo") : sentence("register/framesNotLaidOut")}
        action={
          frames < 2 ? (
            <PrimaryButton onPress={() => setStage("gather")}>{sentence("common/goToGather")}</PrimaryButton>
          ) : (
            <PrimaryButton isDisabled={isBusy || readOnly} onPress={() => void registerPanorama({ focalPx })}>
              {sentence(message("register/layOutFrames", { frames }))}
            </PrimaryButton>
          )
        }
      >
        {sentence("register/marshFindsHowCamera")}
      </EmptyPicture>
    </StageLayout>
  );
}

type Shown = "picture" | "frames" | "misfit" | "projections" | "points";
const HINTS: Record<Shown, string> = {
  picture: sentence("register/laidOutEvenLight"),
  frames: sentence("register/eachFrameWhereLies"),
  misfit: sentence("register/ringPlaceTwoFrames"),
  projections: sentence("register/sameFramesEveryProjection"),
  points: "",
};

function Laid({ panorama, registration }: { panorama: PanoramaRecord; registration: RegistrationRecord }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const [shown, setShown] = useState<Shown>("picture");
  const [chosenId, choose] = useState<string | null>(null);
  const [keeping, setKeeping] = useState(false);
  const [levelling, setLevelling] = useState<LevelLine["kind"] | null>(null);
  const [first, setFirst] = useState<[number, number] | null>(null);
  const frames = panoramaFramesOf(records);
  const { view } = panorama;
  const map = useMemo(() => viewMap(view), [view]);
  const stays = pinsOf(records).filter((p) => p.purpose === "stay");
  const level: PictureTool | null = levelling && {
    cursor: "crosshair",
    down: (p) => {
      if (!first) setFirst([p.x, p.y]);
      else {
        void addLevel(levelling, map.toRay(...first), map.toRay(p.x, p.y));
        setFirst(null);
        setLevelling(null);
      }
    },
  };
  const keep: PictureTool | null = keeping ? { cursor: "crosshair", down: (p) => keepPlace(p.x, p.y) } : null;
  const hint = levelling
    ? sentence(message("register/clickTwoPlacesAlong", { value: levelling === "level" ? sentence("register/levelHorizonSay") : sentence("register/upright") }))
    : keeping
      ? sentence("register/clickWhatMustStay")
      : HINTS[shown];
  if (shown === "points") return <PointsBench panorama={panorama} onClose={() => setShown("misfit")} />;
  return (
    <StageLayout
      beside={shown === "projections"}
      ledger={<TurnLedger panorama={panorama} registration={registration} chosenId={chosenId} onChoose={(id) => choose(id === chosenId ? null : id)} />}
      bench={
        <>
          <ProjectionSection panorama={panorama} isDisabled={isBusy || readOnly} onCompare={() => setShown("projections")} />
          <LevelSection
            view={view}
            isDisabled={isBusy || readOnly}
            kind={levelling}
            onKind={(kind) => {
              setFirst(null);
              setKeeping(false);
              setLevelling(kind);
            }}
          />
          <AreaSection panorama={panorama} registration={registration} readOnly={readOnly} keeping={keeping} onKeeping={setKeeping} />
          <LensSection panorama={panorama} isDisabled={isBusy || readOnly} />
          <Section>
            <RowOf style={{ marginTop: 0 }}>
              <PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>
              <Button isDisabled={isBusy || readOnly} onPress={() => void registerPanorama()}>
                {sentence("register/layOutAgain")}
              </Button>
            </RowOf>
          </Section>
        </>
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "picture", label: sentence("register/picture") },
            { id: "frames", label: sentence("common/frames") },
            { id: "misfit", label: sentence("register/alignmentError") },
            { id: "projections", label: sentence("register/projections") },
            { id: "points", label: sentence("register/points") },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={<Soft style={{ padding: "6px 12px", minHeight: 30 }}>{hint}</Soft>}
    >
      {shown === "projections" ? (
        <ProjectionSheet panorama={panorama} isDisabled={isBusy || readOnly} onTaken={() => setShown("picture")} />
      ) : (
        <PictureView
          name={sentence("register/panorama")}
          panes={[{ view: { kind: "panorama", view: null }, records, label: "" }]}
          arrangement="single"
          size={view}
          tool={level ?? keep}
          overlay={({ toScreen: at }) => (
            <>
              {shown !== "frames" && <CropOutline at={at} crop={geometryOf(records)?.crop ?? registration.proposedCrop} />}
              {(shown === "frames" || chosenId) && (
                <FrameOutlines
                  at={at}
                  map={map}
                  frames={frames
                    .filter((f) => !chosenId || f.frame.id === chosenId)
                    .map((f) => ({ camera: f.camera, label: String(frameNumber(records, f.frame.id)) }))}
                />
              )}
              {shown === "misfit" && (
                <MisfitPlaces at={at} map={map} pairs={panorama.pairs.filter((p) => !chosenId || p.aId === chosenId || p.bId === chosenId)} />
              )}
              <LevelLines at={at} map={map} lines={levelLinesOf(records).map((l) => l.line)} />
              <Points
                at={at}
                places={[
                  ...stays.map((p, i) => ({ x: p.x, y: p.y, label: sentence(message("register/stays", { value: i + 1 })) })),
                  ...(first ? [{ x: first[0], y: first[1], label: "1" }] : []),
                ]}
              />
            </>
          )}
        />
      )}
    </StageLayout>
  );
}
