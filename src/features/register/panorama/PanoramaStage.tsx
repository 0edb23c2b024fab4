"use client";
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
import { PictureView, type PictureTool } from "../../../view/PictureView";
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
          <Heading>{frames} frames to lay out</Heading>
          <Soft>Where each frame looks and how well it meets its neighbours will be listed here.</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>What is known of the lens</Heading>
          <FocalField value={focalPx} isDisabled={readOnly} onChange={setFocal} />
          <Soft>Left empty, the focal length and the distortion are found from the overlaps.</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={frames < 2 ? "A panorama needs at least two frames" : "The frames are not laid out yet"}
        action={
          frames < 2 ? (
            <PrimaryButton onPress={() => setStage("gather")}>Go to Gather</PrimaryButton>
          ) : (
            <PrimaryButton isDisabled={isBusy || readOnly} onPress={() => void registerPanorama({ focalPx })}>
              Lay out {frames} frames
            </PrimaryButton>
          )
        }
      >
        Marsh finds how the camera was turned for each frame, evens out exposure and falloff, and compares the projections. The order of the frames does not
        matter.
      </EmptyPicture>
    </StageLayout>
  );
}

type Shown = "picture" | "frames" | "misfit" | "projections" | "points";
const HINTS: Record<Shown, string> = {
  picture: "Laid out with even light, not joined yet: frames give way to each other over their overlaps.",
  frames: "Each frame where it lies. Click a row of the ledger to see one alone.",
  misfit: "A ring a place that two frames share: the larger, the more px are left. A cross: it moved, or it is too near.",
  projections: "The same frames in every projection that can show them.",
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
    ? `Click two places along something ${levelling === "level" ? "level, the horizon say" : "upright"}.`
    : keeping
      ? "Click what must stay inside the crop."
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
              <PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>
              <Button isDisabled={isBusy || readOnly} onPress={() => void registerPanorama()}>
                Lay out again
              </Button>
            </RowOf>
          </Section>
        </>
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "picture", label: "Picture" },
            { id: "frames", label: "Frames" },
            { id: "misfit", label: "Alignment error" },
            { id: "projections", label: "Projections" },
            { id: "points", label: "Points" },
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
          name="Panorama"
          panes={[{ view: { kind: "panorama", view: null }, records, label: "" }]}
          arrangement="single"
          size={view}
          tool={level ?? keep}
          overlay={(at) => (
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
                places={[...stays.map((p, i) => ({ x: p.x, y: p.y, label: `stays ${i + 1}` })), ...(first ? [{ x: first[0], y: first[1], label: "1" }] : [])]}
              />
            </>
          )}
        />
      )}
    </StageLayout>
  );
}
